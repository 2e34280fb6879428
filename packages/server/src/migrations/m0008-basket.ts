/** Numbers kept aside before an order, orders of several numbers, releases that can be taken back, and codes to staff. */
export const BASKET: readonly string[] = [
  `CREATE TABLE basket_item (business_id TEXT NOT NULL REFERENCES business(id), e164 TEXT NOT NULL, kind TEXT NOT NULL, setup INTEGER NOT NULL, monthly INTEGER NOT NULL,
    capabilities TEXT NOT NULL, held_until INTEGER NOT NULL, PRIMARY KEY (business_id, e164)) WITHOUT ROWID`,
  `ALTER TABLE number ADD COLUMN order_id TEXT NOT NULL DEFAULT ''`,
  `CREATE INDEX number_order ON number (business_id, order_id) WHERE order_id <> ''`,
  `ALTER TABLE number ADD COLUMN last_used_at INTEGER`,
  `ALTER TABLE number ADD COLUMN released_at INTEGER`,
  `ALTER TABLE number ADD COLUMN before_release TEXT`,
  `CREATE TABLE default_number (business_id TEXT NOT NULL REFERENCES business(id), purpose TEXT NOT NULL, number_id TEXT NOT NULL REFERENCES number(id), PRIMARY KEY (business_id, purpose)) WITHOUT ROWID`,
  `CREATE TABLE saved_view (id TEXT PRIMARY KEY, business_id TEXT NOT NULL REFERENCES business(id), area TEXT NOT NULL, name TEXT NOT NULL, query TEXT NOT NULL, created_by TEXT NOT NULL, created_at INTEGER NOT NULL)`,
  `CREATE INDEX saved_view_area ON saved_view (business_id, area, created_at)`,
  `ALTER TABLE user ADD COLUMN mobile_tries INTEGER NOT NULL DEFAULT 0`,
];
