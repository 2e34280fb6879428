/** The port desk: requests, their numbers, documents and signing links. Days are `YYYY-MM-DD`, empty where unknown. */
export const PORTING: readonly string[] = [
  // Account number, PIN and the old carrier's record are sealed.
  `CREATE TABLE port (id TEXT PRIMARY KEY, business_id TEXT NOT NULL REFERENCES business(id),
    state TEXT NOT NULL DEFAULT 'draft' CHECK (state IN ('draft','submitted','rejected','accepted','cutting over','done','cancelled','returning','returned')),
    losing_carrier TEXT NOT NULL DEFAULT '', facts TEXT NOT NULL, secrets TEXT NOT NULL DEFAULT '', acknowledged TEXT NOT NULL DEFAULT '[]',
    record TEXT NOT NULL DEFAULT '', record_state TEXT NOT NULL DEFAULT 'not asked', record_at INTEGER,
    letter TEXT, bill_dated TEXT NOT NULL DEFAULT '', attempt INTEGER NOT NULL DEFAULT 0, reasons TEXT NOT NULL DEFAULT '[]', last_submitted TEXT, submit_key TEXT NOT NULL DEFAULT '',
    foc_at INTEGER, asked_date TEXT NOT NULL DEFAULT '', runbook TEXT NOT NULL DEFAULT '{}', charged INTEGER NOT NULL DEFAULT 0,
    begun_at INTEGER NOT NULL, submitted_at INTEGER, answered_at INTEGER, completed_at INTEGER, version INTEGER NOT NULL DEFAULT 1)`,
  `CREATE INDEX port_business ON port (business_id, begun_at DESC)`,
  `CREATE TABLE port_number (port_id TEXT NOT NULL REFERENCES port(id), e164 TEXT NOT NULL, kind TEXT, losing_carrier TEXT NOT NULL DEFAULT '', portable INTEGER, why_not TEXT NOT NULL DEFAULT '',
    label TEXT NOT NULL DEFAULT '', campaign_id TEXT, number_id TEXT, open INTEGER NOT NULL DEFAULT 1, PRIMARY KEY (port_id, e164)) WITHOUT ROWID`,
  // A number is on its way once at most, for one business.
  `CREATE UNIQUE INDEX port_number_open ON port_number (e164) WHERE open = 1`,
  `CREATE TABLE document (id TEXT PRIMARY KEY, business_id TEXT NOT NULL, object_kind TEXT NOT NULL, object_id TEXT NOT NULL, what TEXT NOT NULL, name TEXT NOT NULL, type TEXT NOT NULL,
    size INTEGER NOT NULL, sha256 TEXT NOT NULL, body BLOB NOT NULL, uploaded_by TEXT NOT NULL, at INTEGER NOT NULL)`,
  `CREATE INDEX document_object ON document (object_kind, object_id, at)`,
  `CREATE TABLE signing_link (token_hash TEXT PRIMARY KEY, object_kind TEXT NOT NULL, object_id TEXT NOT NULL, expires_at INTEGER NOT NULL, used_at INTEGER, ended INTEGER NOT NULL DEFAULT 0)`,
  `CREATE INDEX signing_link_object ON signing_link (object_kind, object_id)`,
  `CREATE TABLE calendar_feed (token TEXT PRIMARY KEY, business_id TEXT NOT NULL UNIQUE)`,
];
