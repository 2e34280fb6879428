import type { QueryInterface } from 'sequelize';

/**
 * What SQLite's planner is to reckon with: two businesses, a million contacts, ten million texts. Without figures it
 * takes a business for as narrow as a contact and walks the whole of it; measured anew from day to day, plans would
 * change under way. Rows of the index, then for 1, 2, … columns how many rows agree in them (sqlite.org, ANALYZE).
 */
const FIGURES: Record<string, Record<string, string>> = {
  business: { sqlite_autoindex_business_1: '10 1' },
  number: { number_business: '100 50', sqlite_autoindex_number_1: '100 1' },
  contact: { contact_business: '1000000 500000', sqlite_autoindex_contact_1: '1000000 1' },
  contact_number: {
    contact_number_once: '1000000 500000 1',
    contact_number_contact: '1000000 1',
    contact_number_order: '1000000 500000 300 1 1 1 1 1 1',
    contact_number_by_textable: '1000000 500000 150000 100 1 1 1 1 1',
    contact_number_by_consent_informational: '1000000 500000 150000 100 1 1 1 1 1',
    contact_number_by_consent_promotional: '1000000 500000 150000 100 1 1 1 1 1',
    contact_number_faults: '1000 500 1 1 1',
    contact_number_looked_up: '1000000 500000 10000 10000',
  },
  contact_sender: { sqlite_autoindex_contact_sender_1: '2000000 2 1', contact_sender_number: '2000000 200000' },
  contact_list: { contact_list_once: '100 50 25 1', sqlite_autoindex_contact_list_1: '100 1' },
  list_member: {
    list_member_contact: '2000000 2',
    list_member_order: '2000000 200000 100 1',
    sqlite_autoindex_list_member_1: '2000000 200000 1',
  },
  intake_row: { intake_row_number: '1000000 500000 1', sqlite_autoindex_intake_row_1: '1000000 500000 1' },
  consent_event: {
    consent_event_number: '2000000 1000000 2 1',
    consent_event_kind: '2000000 1000000 200000 1',
    consent_event_how: '2000000 1000000 200000 1',
    sqlite_autoindex_consent_event_1: '2000000 1',
    sqlite_autoindex_consent_event_2: '2000000 1000000 1',
  },
  consent_state: { sqlite_autoindex_consent_state_1: '1000000 500000 1' },
  opt_out: { opt_out_when: '100000 50000 1 1 1', sqlite_autoindex_opt_out_1: '100000 50000 1 1' },
  dispatch: { dispatch_business: '1000 500 1', sqlite_autoindex_dispatch_1: '1000 1' },
  message: {
    sqlite_autoindex_message_1: '10000000 1',
    message_once: '10000000 20000 1',
    message_thread: '10000000 5000000 10 1',
    message_dispatch: '10000000 20000 5000 1',
    message_of_dispatch: '10000000 20000 1',
    message_number: '10000000 5000000 200000 100',
    message_promotional: '5000000 10 1',
    message_waiting: '100000 20000 10 1',
    message_held: '100000 50000 10000',
    message_held_until: '100000 10000 1',
    message_unsure: '100 1',
    message_leaving: '100 1',
    message_faults: '100000 2 1',
    message_in: '500000 50000 25000 1',
  },
  text_count: { sqlite_autoindex_text_count_1: '10000 10 3 2 1' },
  text_day: { sqlite_autoindex_text_day_1: '1000000 500000 1000 500 100 10 2 1' },
  text_latency: { sqlite_autoindex_text_latency_1: '1000000 500000 50000 100 1' },
  thread: {
    thread_order: '500000 250000 1',
    thread_unread: '1000 500 1',
    sqlite_autoindex_thread_1: '500000 250000 1',
  },
  audit: { audit_business: '100000 50000 1', audit_object: '100000 10000 10 1', sqlite_autoindex_audit_1: '100000 1' },
  money_entry: { money_entry_business: '100000 50000 1', sqlite_autoindex_money_entry_1: '100000 1' },
  outbox: { outbox_due: '1000 2 1', sqlite_autoindex_outbox_1: '100000 1' },
  job: { job_due: '10000 2000 2', job_business: '10000 5000 2', sqlite_autoindex_job_2: '10000 1' },
};

export async function statistics(qi: QueryInterface): Promise<void> {
  const { sequelize } = qi;
  // PostgreSQL looks at its tables itself (autovacuum).
  if (sequelize.getDialect() !== 'sqlite') return;
  // Makes the table of figures, which cannot be made by hand.
  await sequelize.query('ANALYZE');
  await sequelize.query('DELETE FROM sqlite_stat1');
  for (const [table, indexes] of Object.entries(FIGURES))
    for (const [index, figures] of Object.entries(indexes))
      await sequelize.query('INSERT INTO sqlite_stat1 (tbl, idx, stat) VALUES ($1, $2, $3)', {
        bind: [table, index, figures],
      });
  await sequelize.query('ANALYZE sqlite_schema');
}
