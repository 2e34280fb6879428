/** Our numbers are locked against being ported away; who asked to unlock, and who tried to take one. */
export const GUARD: readonly string[] = [
  `ALTER TABLE number ADD COLUMN lock_state TEXT NOT NULL DEFAULT 'locked'`,
  `ALTER TABLE number ADD COLUMN unlock_asked_by TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE number ADD COLUMN unlock_asked_at INTEGER`,
  `ALTER TABLE number ADD COLUMN unlocked_until INTEGER`,
  `ALTER TABLE number ADD COLUMN release_pin TEXT NOT NULL DEFAULT ''`,
  `CREATE TABLE port_out (key TEXT PRIMARY KEY, business_id TEXT NOT NULL, number_id TEXT NOT NULL REFERENCES number(id), carrier TEXT NOT NULL, at INTEGER NOT NULL, deadline INTEGER NOT NULL,
    state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open','refused','left')), locked INTEGER NOT NULL)`,
  `CREATE INDEX port_out_open ON port_out (business_id, state)`,
];
