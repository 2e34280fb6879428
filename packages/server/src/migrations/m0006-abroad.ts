/** Other countries and alphanumeric sender IDs. */
export const ABROAD: readonly string[] = [
  // What the gate reads: the open countries, comma-joined; kept by the numbers area.
  `ALTER TABLE business ADD COLUMN open_countries TEXT NOT NULL DEFAULT 'US'`,
  `CREATE TABLE country (business_id TEXT NOT NULL REFERENCES business(id), code TEXT NOT NULL, state TEXT NOT NULL CHECK (state IN ('open','closed','in review','refused')),
    note TEXT NOT NULL DEFAULT '', attempt INTEGER NOT NULL DEFAULT 0, changed_at INTEGER NOT NULL, PRIMARY KEY (business_id, code)) WITHOUT ROWID`,
  `ALTER TABLE number ADD COLUMN signature TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE number ADD COLUMN countries TEXT NOT NULL DEFAULT ''`,
  `CREATE TABLE sender_country (number_id TEXT NOT NULL REFERENCES number(id), code TEXT NOT NULL, state TEXT NOT NULL CHECK (state IN ('free','in review','registered','refused')),
    note TEXT NOT NULL DEFAULT '', attempt INTEGER NOT NULL DEFAULT 0, changed_at INTEGER NOT NULL, PRIMARY KEY (number_id, code)) WITHOUT ROWID`,
];
