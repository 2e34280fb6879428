/** Numbers that keep their voice service and get texting here. */
export const HOSTED: readonly string[] = [
  `CREATE TABLE hosted (id TEXT PRIMARY KEY, business_id TEXT NOT NULL REFERENCES business(id), e164 TEXT NOT NULL,
    kind TEXT NOT NULL, voice_carrier TEXT NOT NULL DEFAULT '', enabled_elsewhere TEXT NOT NULL DEFAULT '',
    state TEXT NOT NULL DEFAULT 'draft' CHECK (state IN ('draft','submitted','refused','on','off','cancelled')),
    holder_name TEXT NOT NULL, authorised_name TEXT NOT NULL, street TEXT NOT NULL, city TEXT NOT NULL, state_code TEXT NOT NULL, postal_code TEXT NOT NULL,
    label TEXT NOT NULL DEFAULT '', campaign_id TEXT, letter TEXT, called_at INTEGER, code_confirmed INTEGER NOT NULL DEFAULT 0,
    attempt INTEGER NOT NULL DEFAULT 0, submit_key TEXT NOT NULL DEFAULT '', reasons TEXT NOT NULL DEFAULT '[]', charged INTEGER NOT NULL DEFAULT 0, number_id TEXT,
    begun_at INTEGER NOT NULL, submitted_at INTEGER, answered_at INTEGER, version INTEGER NOT NULL DEFAULT 1)`,
  `CREATE UNIQUE INDEX hosted_open ON hosted (e164) WHERE state IN ('draft','submitted','refused','on')`,
  `CREATE INDEX hosted_business ON hosted (business_id, begun_at DESC)`,
];
