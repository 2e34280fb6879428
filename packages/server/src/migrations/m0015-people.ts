/**
 * People are invited and set their own passwords; their sessions can be seen and ended; a second factor; the mail that
 * answers an only administrator's wish to unlock. Sessions of before are ended, and calendar addresses are made anew:
 * they belonged to nobody.
 */
export const PEOPLE: readonly string[] = [
  `ALTER TABLE user ADD COLUMN factor_secret TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE user ADD COLUMN factor_pending TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE user ADD COLUMN factor_step INTEGER NOT NULL DEFAULT 0`,
  `CREATE TABLE recovery_code (user_id TEXT NOT NULL REFERENCES user(id), code_hash TEXT NOT NULL, used_wall INTEGER, PRIMARY KEY (user_id, code_hash)) WITHOUT ROWID`,
  `DROP TABLE session`,
  `CREATE TABLE session (id TEXT PRIMARY KEY, token_hash TEXT NOT NULL UNIQUE, user_id TEXT NOT NULL REFERENCES user(id), csrf TEXT NOT NULL, opened_wall INTEGER NOT NULL, seen_wall INTEGER NOT NULL,
    expires_wall INTEGER NOT NULL, address TEXT NOT NULL, agent TEXT NOT NULL)`,
  `CREATE INDEX session_user ON session (user_id)`,
  `ALTER TABLE membership ADD COLUMN administrator_since INTEGER`,
  `UPDATE membership SET administrator_since = 0 WHERE role = 'administrator'`,
  `CREATE TABLE invitation (id TEXT PRIMARY KEY, token_hash TEXT NOT NULL UNIQUE, business_id TEXT NOT NULL REFERENCES business(id), email TEXT NOT NULL, role TEXT NOT NULL CHECK (role IN ('administrator','coordinator','viewer')),
    invited_by TEXT NOT NULL, invited_at INTEGER NOT NULL, expires_at INTEGER NOT NULL, state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open','accepted','withdrawn')), sent INTEGER NOT NULL DEFAULT 1, last_key TEXT NOT NULL)`,
  `CREATE UNIQUE INDEX invitation_open ON invitation (business_id, email) WHERE state = 'open'`,
  `CREATE TABLE password_reset (token_hash TEXT PRIMARY KEY, email TEXT NOT NULL, expires_wall INTEGER NOT NULL, used_wall INTEGER)`,
  `ALTER TABLE business ADD COLUMN second_factor INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE business ADD COLUMN contact_email_at INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE number ADD COLUMN unlock_mail_hash TEXT NOT NULL DEFAULT ''`,
  `ALTER TABLE number ADD COLUMN unlock_answered_at INTEGER`,
  `ALTER TABLE hosted ADD COLUMN code_tries INTEGER NOT NULL DEFAULT 0`,
  `DROP TABLE calendar_feed`,
  `CREATE TABLE calendar_feed (token_hash TEXT PRIMARY KEY, token TEXT NOT NULL, business_id TEXT NOT NULL, user_id TEXT NOT NULL REFERENCES user(id), UNIQUE (business_id, user_id))`,
  // What was kept of a submission named a mark made of the PIN, and the end of the account number.
  `UPDATE port SET last_submitted = json_remove(last_submitted, '$.pin', '$.accountNumber') WHERE last_submitted IS NOT NULL`,
  `ALTER TABLE port ADD COLUMN last_secrets TEXT NOT NULL DEFAULT ''`,
];
