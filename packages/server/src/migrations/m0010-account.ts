/** What opening an account asks for, and what the provider says while it looks at it. */
export const ACCOUNT: readonly string[] = [
  `ALTER TABLE business ADD COLUMN tax_status TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE business ADD COLUMN account_note TEXT NOT NULL DEFAULT ''`,
  // Whoever is open already has told it.
  `UPDATE business SET tax_status = CASE WHEN form IN ('non-profit','public body') THEN 'exempt' ELSE 'taxable' END WHERE account_state = 'open'`,
];
