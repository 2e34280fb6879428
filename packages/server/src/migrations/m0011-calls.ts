/** What happens to a call to a texting number; empty where nothing is set up. */
export const CALLS: readonly string[] = [
  `ALTER TABLE number ADD COLUMN calls TEXT NOT NULL DEFAULT ''`,
  // Where calls to a ported number are put through from the day it lands.
  `ALTER TABLE port_number ADD COLUMN forward_to TEXT NOT NULL DEFAULT ''`,
];
