/** Automatic top-up, and since when a number's fee is unpaid. */
export const MONEY: readonly string[] = [
  `ALTER TABLE business ADD COLUMN auto_below INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE business ADD COLUMN auto_amount INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE number ADD COLUMN unpaid_since INTEGER`,
];
