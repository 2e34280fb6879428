/**
 * A text is its own outbox: its row says when it is due, whose pace it keeps and until when it is wanted. Beside it the
 * paces of what carriers cap, the day's segments on networks that cap a day, and what had to be set aside.
 */
export const WAY_OUT: readonly string[] = [
  // SQLite changes no CHECK in place: the table is written anew. Nothing refers to it by foreign key.
  `CREATE TABLE message_new (id TEXT PRIMARY KEY, business_id TEXT NOT NULL, dispatch_id TEXT, direction TEXT NOT NULL CHECK (direction IN ('out','in')), kind TEXT NOT NULL, purpose TEXT NOT NULL DEFAULT '',
    number_id TEXT NOT NULL, e164 TEXT NOT NULL, contact_number_id INTEGER, text TEXT NOT NULL, segments INTEGER NOT NULL DEFAULT 1,
    state TEXT NOT NULL CHECK (state IN ('judging','waiting','held','stopped','leaving','unsure','sent','delivered','failed','received','cancelled')),
    post INTEGER, reason TEXT, hold_until INTEGER, cost INTEGER NOT NULL DEFAULT 0, carrier TEXT NOT NULL DEFAULT '', failure TEXT, failure_code TEXT, failure_reason TEXT,
    created_at INTEGER NOT NULL, sent_at INTEGER, final_at INTEGER, sent_by TEXT NOT NULL DEFAULT '',
    pace_key TEXT NOT NULL DEFAULT '', due_at INTEGER, tries INTEGER NOT NULL DEFAULT 0, expires_at INTEGER)`,
  `INSERT INTO message_new (id, business_id, dispatch_id, direction, kind, purpose, number_id, e164, contact_number_id, text, segments, state, post, reason, hold_until, cost, carrier, failure, failure_code, failure_reason, created_at, sent_at, final_at, sent_by, due_at)
   SELECT id, business_id, dispatch_id, direction, kind, purpose, number_id, e164, contact_number_id, text, segments, state, post, reason, hold_until, cost, carrier, failure, failure_code, failure_reason, created_at, sent_at, final_at, sent_by,
     CASE WHEN state = 'waiting' THEN created_at END FROM message`,
  `DROP TABLE message`,
  `ALTER TABLE message_new RENAME TO message`,
  `CREATE UNIQUE INDEX message_once ON message (dispatch_id, e164) WHERE dispatch_id IS NOT NULL`,
  `CREATE INDEX message_thread ON message (business_id, e164, created_at)`,
  `CREATE INDEX message_dispatch ON message (dispatch_id, state)`,
  `CREATE INDEX message_number ON message (business_id, number_id, sent_at)`,
  `CREATE INDEX message_promotional ON message (contact_number_id, sent_at) WHERE purpose = 'promotional' AND direction = 'out'`,
  // Those which wait for their turn, by whose pace they keep; an empty key waits behind nothing.
  `CREATE INDEX message_waiting ON message (pace_key, due_at, id) WHERE state = 'waiting'`,
  `CREATE INDEX message_unsure ON message (due_at) WHERE state = 'unsure'`,
  `CREATE INDEX message_held ON message (business_id, reason) WHERE state = 'held'`,
  `CREATE INDEX message_faults ON message (contact_number_id, final_at) WHERE failure = 'passing-fault'`,
  `DELETE FROM outbox WHERE kind = 'text'`,

  `CREATE TABLE pace (key TEXT PRIMARY KEY, free_at REAL NOT NULL DEFAULT 0)`,
  `INSERT INTO pace (key) VALUES ('')`,
  `CREATE TABLE day_use (business_id TEXT NOT NULL, day INTEGER NOT NULL, segments INTEGER NOT NULL, PRIMARY KEY (business_id, day)) WITHOUT ROWID`,

  `CREATE TABLE set_aside (key TEXT PRIMARY KEY, lane TEXT NOT NULL CHECK (lane IN ('feed','outbox','job')), kind TEXT NOT NULL, body TEXT NOT NULL, cause TEXT NOT NULL, at INTEGER NOT NULL,
    state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open','done','left')))`,
  `CREATE INDEX set_aside_open ON set_aside (at) WHERE state = 'open'`,
  `CREATE TABLE outbox_new (key TEXT PRIMARY KEY, kind TEXT NOT NULL, payload TEXT NOT NULL, state TEXT NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting','delivered','refused','set aside')),
    due_at INTEGER NOT NULL, attempts INTEGER NOT NULL DEFAULT 0, error TEXT)`,
  `INSERT INTO outbox_new SELECT key, kind, payload, state, due_at, attempts, error FROM outbox`,
  `DROP TABLE outbox`,
  `ALTER TABLE outbox_new RENAME TO outbox`,
  `CREATE INDEX outbox_due ON outbox (due_at, key) WHERE state = 'waiting'`,

  // An administrator's reason to let words go with another purpose than they read as.
  `ALTER TABLE dispatch ADD COLUMN override_reason TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE dispatch ADD COLUMN override_by TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE dispatch DROP COLUMN pace`,
  // Faults before this moment were looked at and count no more.
  `ALTER TABLE contact_number ADD COLUMN faults_seen_at INTEGER NOT NULL DEFAULT 0`,
  `CREATE INDEX contact_number_faults ON contact_number (business_id) WHERE faults_in_review = 1`,
];
