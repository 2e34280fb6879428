import type { QueryInterface } from 'sequelize';

/** Ledger and audit trail are only ever appended to, also by an insert that would replace. */
export async function guards(qi: QueryInterface): Promise<void> {
  const sqlite = [
    `CREATE TRIGGER audit_no_update BEFORE UPDATE ON audit BEGIN SELECT raise(ABORT, 'the audit trail is never changed'); END`,
    `CREATE TRIGGER audit_no_delete BEFORE DELETE ON audit BEGIN SELECT raise(ABORT, 'the audit trail is never changed'); END`,
    `CREATE TRIGGER audit_only_new BEFORE INSERT ON audit WHEN EXISTS (SELECT 1 FROM audit WHERE n = NEW.n OR id = NEW.id)
     BEGIN SELECT raise(ABORT, 'the audit trail is never changed'); END`,
    `CREATE TRIGGER consent_event_no_update BEFORE UPDATE ON consent_event BEGIN SELECT raise(ABORT, 'the ledger is never changed'); END`,
    `CREATE TRIGGER consent_event_no_delete BEFORE DELETE ON consent_event BEGIN SELECT raise(ABORT, 'the ledger is never changed'); END`,
    `CREATE TRIGGER consent_event_only_next BEFORE INSERT ON consent_event
     WHEN NEW.seq <> 1 + coalesce((SELECT max(seq) FROM consent_event WHERE business_id = NEW.business_id), 0) OR EXISTS (SELECT 1 FROM consent_event WHERE id = NEW.id)
     BEGIN SELECT raise(ABORT, 'the ledger is only appended to'); END`,
  ];
  for (const statement of sqlite) await qi.sequelize.query(statement);
}
