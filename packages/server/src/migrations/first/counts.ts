import type { QueryInterface } from 'sequelize';

/**
 * What is asked on every page and would take a scan is counted as it changes, by the database itself, so that no write
 * can forget it.
 */
export async function counts(qi: QueryInterface): Promise<void> {
  for (const statement of [
    ...contactCount,
    ...listMembers,
    ...order,
    ...textCount,
    ...textWaiting,
    ...textDay,
    ...consentCount,
  ])
    await qi.sequelize.query(statement);
}

/** One row of a count goes up by one; SQLite takes the conflict policy of an inner statement from its own clause. */
const add = (table: string, columns: string, values: string): string =>
  `INSERT INTO ${table} (${columns}, n) VALUES (${values}, 1) ON CONFLICT (${columns}) DO UPDATE SET n = n + 1`;
/** One row of a count goes down by one. */
const take = (table: string, columns: string, values: string): string =>
  `UPDATE ${table} SET n = n - 1 WHERE (${columns}) = (${values})`;

const CONTACT = 'business_id, looked_up, textable, informational, promotional, faults_in_review, country';
const contact = (r: 'NEW' | 'OLD'): string =>
  `${r}.business_id, ${r}.looked_up_at IS NOT NULL, ${r}.textable, ${r}.consent_informational, ${r}.consent_promotional, ${r}.faults_in_review, ${r}.country`;
const contactCount = [
  `CREATE TRIGGER contact_count_insert AFTER INSERT ON contact_number BEGIN ${add('contact_count', CONTACT, contact('NEW'))}; END`,
  `CREATE TRIGGER contact_count_delete AFTER DELETE ON contact_number BEGIN ${take('contact_count', CONTACT, contact('OLD'))}; END`,
  `CREATE TRIGGER contact_count_update AFTER UPDATE OF looked_up_at, textable, consent_informational, consent_promotional, faults_in_review, country ON contact_number
   WHEN (${contact('NEW')}) IS NOT (${contact('OLD')})
   BEGIN ${take('contact_count', CONTACT, contact('OLD'))}; ${add('contact_count', CONTACT, contact('NEW'))}; END`,
];

const listMembers = [
  `CREATE TRIGGER list_members_insert AFTER INSERT ON list_member BEGIN UPDATE contact_list SET members = members + 1 WHERE id = NEW.list_id; END`,
  `CREATE TRIGGER list_members_delete AFTER DELETE ON list_member BEGIN UPDATE contact_list SET members = members - 1 WHERE id = OLD.list_id; END`,
];

/** A contact's place in the order of lists stands wherever a list is walked. */
const order = [
  `CREATE TRIGGER contact_order_update AFTER UPDATE OF sort_name ON contact WHEN NEW.sort_name <> OLD.sort_name
   BEGIN UPDATE contact_number SET sort_name = NEW.sort_name WHERE contact_id = NEW.id; UPDATE list_member SET sort_name = NEW.sort_name WHERE contact_id = NEW.id; END`,
];

const TEXT = 'dispatch_id, state, post, reason';
const text = (r: 'NEW' | 'OLD'): string =>
  `${r}.dispatch_id, ${r}.state, coalesce(${r}.post, 0), coalesce(${r}.reason, '')`;
const textCount = [
  `CREATE TRIGGER text_count_insert AFTER INSERT ON message WHEN NEW.dispatch_id IS NOT NULL BEGIN ${add('text_count', TEXT, text('NEW'))}; END`,
  `CREATE TRIGGER text_count_delete AFTER DELETE ON message WHEN OLD.dispatch_id IS NOT NULL BEGIN ${take('text_count', TEXT, text('OLD'))}; END`,
  `CREATE TRIGGER text_count_update AFTER UPDATE OF state, post, reason ON message WHEN NEW.dispatch_id IS NOT NULL AND (${text('NEW')}) IS NOT (${text('OLD')})
   BEGIN ${take('text_count', TEXT, text('OLD'))}; ${add('text_count', TEXT, text('NEW'))}; END`,
];

const waits = (r: 'NEW' | 'OLD'): string => `${r}.state = 'waiting' AND ${r}.direction = 'out'`;
const addWaiting = `INSERT INTO text_waiting (business_id, network, segments) VALUES (NEW.business_id, NEW.network, NEW.segments) ON CONFLICT (business_id, network) DO UPDATE SET segments = segments + NEW.segments`;
const takeWaiting = `UPDATE text_waiting SET segments = segments - OLD.segments WHERE business_id = OLD.business_id AND network = OLD.network`;
const textWaiting = [
  `CREATE TRIGGER text_waiting_insert AFTER INSERT ON message WHEN ${waits('NEW')} BEGIN ${addWaiting}; END`,
  `CREATE TRIGGER text_waiting_delete AFTER DELETE ON message WHEN ${waits('OLD')} BEGIN ${takeWaiting}; END`,
  `CREATE TRIGGER text_waiting_begin AFTER UPDATE OF state, segments, network ON message WHEN ${waits('NEW')} BEGIN ${addWaiting}; END`,
  `CREATE TRIGGER text_waiting_end AFTER UPDATE OF state, segments, network ON message WHEN ${waits('OLD')} BEGIN ${takeWaiting}; END`,
];

/** A text counts on the day it left, an answer on the day it came; what never left counts nowhere. */
const DAY = 'business_id, day, number_id, carrier, outcome, failure, reason';
const moment = (r: 'NEW' | 'OLD'): string => `CASE ${r}.direction WHEN 'in' THEN ${r}.created_at ELSE ${r}.sent_at END`;
const day = (r: 'NEW' | 'OLD'): string =>
  `${r}.business_id, (${moment(r)}) / 86400000, ${r}.number_id, ${r}.carrier, CASE WHEN ${r}.direction = 'in' THEN 'received' WHEN ${r}.state IN ('delivered','failed') THEN ${r}.state ELSE 'pending' END, coalesce(${r}.failure, ''), coalesce(${r}.failure_reason, '')`;
const LATENCY = 'business_id, number_id, day, step';
/** Tenths of a second up to ten seconds, then seconds, tens and hundreds: never off by more than a tenth. */
const step = (r: 'NEW' | 'OLD'): string => {
  const ms = `(${r}.final_at - ${r}.sent_at)`;
  return `CASE WHEN ${ms} < 10000 THEN max(0, ${ms}) / 100 WHEN ${ms} < 100000 THEN 90 + ${ms} / 1000 WHEN ${ms} < 1000000 THEN 180 + ${ms} / 10000 ELSE 270 + ${ms} / 100000 END`;
};
const latency = (r: 'NEW' | 'OLD'): string => `${r}.business_id, ${r}.number_id, ${r}.sent_at / 86400000, ${step(r)}`;
const timed = (r: 'NEW' | 'OLD'): string =>
  `${r}.state = 'delivered' AND ${r}.sent_at IS NOT NULL AND ${r}.final_at IS NOT NULL`;
const textDay = [
  `CREATE TRIGGER text_day_insert AFTER INSERT ON message WHEN (${moment('NEW')}) IS NOT NULL BEGIN ${add('text_day', DAY, day('NEW'))}; END`,
  `CREATE TRIGGER text_day_delete AFTER DELETE ON message WHEN (${moment('OLD')}) IS NOT NULL BEGIN ${take('text_day', DAY, day('OLD'))}; END`,
  `CREATE TRIGGER text_day_left AFTER UPDATE OF sent_at ON message WHEN OLD.sent_at IS NULL AND NEW.sent_at IS NOT NULL AND NEW.direction = 'out' BEGIN ${add('text_day', DAY, day('NEW'))}; END`,
  `CREATE TRIGGER text_day_back AFTER UPDATE OF sent_at ON message WHEN OLD.sent_at IS NOT NULL AND NEW.sent_at IS NULL AND NEW.direction = 'out' BEGIN ${take('text_day', DAY, day('OLD'))}; END`,
  `CREATE TRIGGER text_day_update AFTER UPDATE OF state, carrier, failure, failure_reason ON message
   WHEN OLD.sent_at IS NOT NULL AND NEW.sent_at IS NOT NULL AND NEW.direction = 'out' AND (${day('NEW')}) IS NOT (${day('OLD')})
   BEGIN ${take('text_day', DAY, day('OLD'))}; ${add('text_day', DAY, day('NEW'))}; END`,
  `CREATE TRIGGER text_latency_insert AFTER INSERT ON message WHEN ${timed('NEW')} BEGIN ${add('text_latency', LATENCY, latency('NEW'))}; END`,
  `CREATE TRIGGER text_latency_update AFTER UPDATE OF state ON message WHEN ${timed('NEW')} AND NOT (${timed('OLD')}) BEGIN ${add('text_latency', LATENCY, latency('NEW'))}; END`,
];

const consentCount = [
  `CREATE TRIGGER consent_count_insert AFTER INSERT ON consent_event BEGIN ${add('consent_count', 'business_id, kind, how', 'NEW.business_id, NEW.kind, NEW.how')}; END`,
];
