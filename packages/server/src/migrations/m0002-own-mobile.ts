/** A member of staff confirms a mobile by texting a code from it; until then no test goes there. */
export const OWN_MOBILE: readonly string[] = [
  `ALTER TABLE user ADD COLUMN mobile_pending TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE user ADD COLUMN mobile_code TEXT NOT NULL DEFAULT ''`,
];
