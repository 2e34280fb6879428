import type { QueryInterface } from 'sequelize';
import { trigger, type Trigger } from '../../platform/table.js';

/**
 * What is asked on every page and would take a scan is counted as it changes, by the database itself, so that no write
 * can forget it.
 */
export async function counts(qi: QueryInterface): Promise<void> {
  for (const t of [
    ...contactCount,
    ...listMembers,
    ...order,
    ...textCount,
    ...textWaiting,
    ...textDays((r) => `(${moment(r)}) / 86400000`),
    ...consentCount,
  ])
    await trigger(qi, t);
}

/** One row of a count goes up by one; SQLite takes the conflict policy of an inner statement from its own clause. */
const add = (table: string, columns: string, values: string): string =>
  `INSERT INTO ${table} (${columns}, n) VALUES (${values}, 1) ON CONFLICT (${columns}) DO UPDATE SET n = ${table}.n + 1`;
/** One row of a count goes down by one. */
const take = (table: string, columns: string, values: string): string =>
  `UPDATE ${table} SET n = n - 1 WHERE (${columns}) = (${values})`;

/**
 * The triggers that count the rows of a table by what they are.
 * @param columns of the count, but `n`. @param row what a row is, in those columns. @param of what of it may change that.
 */
export function countRows(
  count: string,
  columns: string,
  { table, row, of }: { table: string; row: (r: 'NEW' | 'OLD') => string; of: string },
): Trigger[] {
  return [
    { name: `${count}_insert`, table, when: 'AFTER INSERT', run: [add(count, columns, row('NEW'))] },
    { name: `${count}_delete`, table, when: 'AFTER DELETE', run: [take(count, columns, row('OLD'))] },
    {
      name: `${count}_update`,
      table,
      when: `AFTER UPDATE OF ${of}`,
      only: `(${row('NEW')}) IS DISTINCT FROM (${row('OLD')})`,
      run: [take(count, columns, row('OLD')), add(count, columns, row('NEW'))],
    },
  ];
}

const CONTACT = 'business_id, looked_up, textable, informational, promotional, faults_in_review, country';
const contact = (r: 'NEW' | 'OLD'): string =>
  `${r}.business_id, ${r}.looked_up_at IS NOT NULL, ${r}.textable, ${r}.consent_informational, ${r}.consent_promotional, ${r}.faults_in_review, ${r}.country`;
const contactCount = countRows('contact_count', CONTACT, {
  table: 'contact_number',
  row: contact,
  of: 'looked_up_at, textable, consent_informational, consent_promotional, faults_in_review, country',
});

const listMembers: Trigger[] = [
  {
    name: 'list_members_insert',
    table: 'list_member',
    when: 'AFTER INSERT',
    run: ['UPDATE contact_list SET members = members + 1 WHERE id = NEW.list_id'],
  },
  {
    name: 'list_members_delete',
    table: 'list_member',
    when: 'AFTER DELETE',
    run: ['UPDATE contact_list SET members = members - 1 WHERE id = OLD.list_id'],
  },
];

/** A contact's place in the order of lists stands wherever a list is walked. */
const order: Trigger[] = [
  {
    name: 'contact_order_update',
    table: 'contact',
    when: 'AFTER UPDATE OF sort_name',
    only: 'NEW.sort_name <> OLD.sort_name',
    run: [
      'UPDATE contact_number SET sort_name = NEW.sort_name WHERE contact_id = NEW.id',
      'UPDATE list_member SET sort_name = NEW.sort_name WHERE contact_id = NEW.id',
    ],
  },
];

const TEXT = 'dispatch_id, state, post, reason';
const text = (r: 'NEW' | 'OLD'): string =>
  `${r}.dispatch_id, ${r}.state, coalesce(${r}.post, 0), coalesce(${r}.reason, '')`;
const textCount: Trigger[] = [
  {
    name: 'text_count_insert',
    table: 'message',
    when: 'AFTER INSERT',
    only: 'NEW.dispatch_id IS NOT NULL',
    run: [add('text_count', TEXT, text('NEW'))],
  },
  {
    name: 'text_count_delete',
    table: 'message',
    when: 'AFTER DELETE',
    only: 'OLD.dispatch_id IS NOT NULL',
    run: [take('text_count', TEXT, text('OLD'))],
  },
  {
    name: 'text_count_update',
    table: 'message',
    when: 'AFTER UPDATE OF state, post, reason',
    only: `NEW.dispatch_id IS NOT NULL AND (${text('NEW')}) IS DISTINCT FROM (${text('OLD')})`,
    run: [take('text_count', TEXT, text('OLD')), add('text_count', TEXT, text('NEW'))],
  },
];

const waits = (r: 'NEW' | 'OLD'): string => `${r}.state = 'waiting' AND ${r}.direction = 'out'`;
const addWaiting = `INSERT INTO text_waiting (business_id, network, segments) VALUES (NEW.business_id, NEW.network, NEW.segments) ON CONFLICT (business_id, network) DO UPDATE SET segments = text_waiting.segments + NEW.segments`;
const takeWaiting = `UPDATE text_waiting SET segments = segments - OLD.segments WHERE business_id = OLD.business_id AND network = OLD.network`;
const textWaiting: Trigger[] = [
  { name: 'text_waiting_insert', table: 'message', when: 'AFTER INSERT', only: waits('NEW'), run: [addWaiting] },
  { name: 'text_waiting_delete', table: 'message', when: 'AFTER DELETE', only: waits('OLD'), run: [takeWaiting] },
  {
    name: 'text_waiting_begin',
    table: 'message',
    when: 'AFTER UPDATE OF state, segments, network',
    only: waits('NEW'),
    run: [addWaiting],
  },
  {
    name: 'text_waiting_end',
    table: 'message',
    when: 'AFTER UPDATE OF state, segments, network',
    only: waits('OLD'),
    run: [takeWaiting],
  },
];

/** A text counts on the day it left, an answer on the day it came; what never left counts nowhere. */
const DAY = 'business_id, day, number_id, carrier, outcome, failure, reason';
export const moment = (r: 'NEW' | 'OLD'): string =>
  `CASE ${r}.direction WHEN 'in' THEN ${r}.created_at ELSE ${r}.sent_at END`;
type DayOf = (r: 'NEW' | 'OLD') => string;
const counted =
  (dayOf: DayOf): DayOf =>
  (r) =>
    `${r}.business_id, ${dayOf(r)}, ${r}.number_id, ${r}.carrier, CASE WHEN ${r}.direction = 'in' THEN 'received' WHEN ${r}.state IN ('delivered','failed') THEN ${r}.state ELSE 'pending' END, coalesce(${r}.failure, ''), coalesce(${r}.failure_reason, '')`;
const LATENCY = 'business_id, number_id, day, step';
/** Tenths of a second up to ten seconds, then seconds, tens and hundreds: never off by more than a tenth. */
const step = (r: 'NEW' | 'OLD'): string => {
  const ms = `(${r}.final_at - ${r}.sent_at)`;
  return `CASE WHEN ${ms} < 10000 THEN CASE WHEN ${ms} < 0 THEN 0 ELSE ${ms} END / 100 WHEN ${ms} < 100000 THEN 90 + ${ms} / 1000 WHEN ${ms} < 1000000 THEN 180 + ${ms} / 10000 ELSE 270 + ${ms} / 100000 END`;
};
const took =
  (dayOf: DayOf): DayOf =>
  (r) =>
    `${r}.business_id, ${r}.number_id, ${dayOf(r)}, ${step(r)}`;
const timed = (r: 'NEW' | 'OLD'): string =>
  `${r}.state = 'delivered' AND ${r}.sent_at IS NOT NULL AND ${r}.final_at IS NOT NULL`;

/** What became of texts and how long delivery took, by the day that `dayOf` says of a row. */
export function textDays(dayOf: DayOf): Trigger[] {
  const [day, latency] = [counted(dayOf), took(dayOf)];
  return [
    {
      name: 'text_day_insert',
      table: 'message',
      when: 'AFTER INSERT',
      only: `(${moment('NEW')}) IS NOT NULL`,
      run: [add('text_day', DAY, day('NEW'))],
    },
    {
      name: 'text_day_delete',
      table: 'message',
      when: 'AFTER DELETE',
      only: `(${moment('OLD')}) IS NOT NULL`,
      run: [take('text_day', DAY, day('OLD'))],
    },
    {
      name: 'text_day_left',
      table: 'message',
      when: 'AFTER UPDATE OF sent_at',
      only: `OLD.sent_at IS NULL AND NEW.sent_at IS NOT NULL AND NEW.direction = 'out'`,
      run: [add('text_day', DAY, day('NEW'))],
    },
    {
      name: 'text_day_back',
      table: 'message',
      when: 'AFTER UPDATE OF sent_at',
      only: `OLD.sent_at IS NOT NULL AND NEW.sent_at IS NULL AND NEW.direction = 'out'`,
      run: [take('text_day', DAY, day('OLD'))],
    },
    {
      name: 'text_day_update',
      table: 'message',
      when: 'AFTER UPDATE OF state, carrier, failure, failure_reason',
      only: `(${moment('OLD')}) IS NOT NULL AND (${moment('NEW')}) IS NOT NULL AND (${day('NEW')}) IS DISTINCT FROM (${day('OLD')})`,
      run: [take('text_day', DAY, day('OLD')), add('text_day', DAY, day('NEW'))],
    },
    {
      name: 'text_latency_insert',
      table: 'message',
      when: 'AFTER INSERT',
      only: timed('NEW'),
      run: [add('text_latency', LATENCY, latency('NEW'))],
    },
    {
      name: 'text_latency_update',
      table: 'message',
      when: 'AFTER UPDATE OF state',
      only: `${timed('NEW')} AND NOT (${timed('OLD')})`,
      run: [add('text_latency', LATENCY, latency('NEW'))],
    },
  ];
}

/** How long delivery took counts on another day, since the text stands on another. */
export function latencyMoved(dayOf: DayOf): Trigger {
  const latency = took(dayOf);
  return {
    name: 'text_latency_moved',
    table: 'message',
    when: 'AFTER UPDATE OF day',
    only: `${timed('OLD')} AND ${timed('NEW')} AND ${dayOf('NEW')} <> ${dayOf('OLD')}`,
    run: [take('text_latency', LATENCY, latency('OLD')), add('text_latency', LATENCY, latency('NEW'))],
  };
}

const consentCount: Trigger[] = [
  {
    name: 'consent_count_insert',
    table: 'consent_event',
    when: 'AFTER INSERT',
    run: [add('consent_count', 'business_id, kind, how', 'NEW.business_id, NEW.kind, NEW.how')],
  },
];
