import type { QueryInterface } from 'sequelize';
import { refusal, trigger } from '../../platform/table.js';

/** Ledger and audit trail are only ever appended to, also by an insert that would replace. */
export async function guards(qi: QueryInterface): Promise<void> {
  const audit = [refusal(qi, 'the audit trail is never changed')];
  await trigger(qi, { name: 'audit_no_update', table: 'audit', when: 'BEFORE UPDATE', run: audit });
  await trigger(qi, { name: 'audit_no_delete', table: 'audit', when: 'BEFORE DELETE', run: audit });
  await trigger(qi, {
    name: 'audit_only_new',
    table: 'audit',
    when: 'BEFORE INSERT',
    only: 'EXISTS (SELECT 1 FROM audit WHERE n = NEW.n OR id = NEW.id)',
    run: audit,
  });
  const ledger = [refusal(qi, 'the ledger is never changed')];
  await trigger(qi, { name: 'consent_event_no_update', table: 'consent_event', when: 'BEFORE UPDATE', run: ledger });
  await trigger(qi, { name: 'consent_event_no_delete', table: 'consent_event', when: 'BEFORE DELETE', run: ledger });
  await trigger(qi, {
    name: 'consent_event_only_next',
    table: 'consent_event',
    when: 'BEFORE INSERT',
    only: 'NEW.seq <> 1 + coalesce((SELECT max(seq) FROM consent_event WHERE business_id = NEW.business_id), 0) OR EXISTS (SELECT 1 FROM consent_event WHERE id = NEW.id)',
    run: [refusal(qi, 'the ledger is only appended to')],
  });
}
