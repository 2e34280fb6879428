/** Which text asked for which YES; how a person read a doubtful reply; what a page says of how often. */
export const ASKED: readonly string[] = [
  `CREATE TABLE opt_in_request (message_id TEXT PRIMARY KEY, business_id TEXT NOT NULL, e164 TEXT NOT NULL, programmes TEXT NOT NULL, asked_at INTEGER NOT NULL) WITHOUT ROWID`,
  `CREATE INDEX opt_in_request_number ON opt_in_request (business_id, e164, asked_at)`,
  // 'stop' may be a wish to stop; 'yes' is a YES that answers nothing we asked.
  `ALTER TABLE reply_review ADD COLUMN about TEXT NOT NULL DEFAULT 'stop'`,
  `ALTER TABLE reply_review ADD COLUMN decided_at INTEGER`,
  `CREATE INDEX reply_review_open ON reply_review (business_id, at) WHERE state = 'open'`,
  `CREATE INDEX reply_review_number ON reply_review (business_id, e164) WHERE state = 'open'`,
  // How often a public page was used for a number or from an address, by their digests.
  `CREATE TABLE public_act (who TEXT NOT NULL, wall_at INTEGER NOT NULL)`,
  `CREATE INDEX public_act_who ON public_act (who, wall_at)`,
  `CREATE INDEX public_act_wall ON public_act (wall_at)`,
];
