import type { FailureClass } from '@long-gate/gateways';
import type { CarrierKind, Purpose, TextKind, TextState, Verdict } from '@long-gate/core';
import type { CreationAttributes } from 'sequelize';
import { jsonRows, type Flag, type Reader, type Writer } from '../../platform/db.js';
import type { MessageRecord } from './messages.js';
import { messageTable, type MessageModel, textCountTable, textWaitingTable } from './model.js';

/** A text as its hand-over reads it, with what its dispatch says. */
export interface Waiting {
  id: string;
  business_id: string;
  dispatch_id: string | null;
  kind: TextKind;
  purpose: Purpose;
  number_id: string;
  e164: string;
  contact_number_id: number | null;
  text: string;
  state: TextState;
  sent_at: number | null;
  cost: number;
  segments: number;
  /** The kind of network it was judged or handed over for; empty before. */
  network: CarrierKind | '';
  tries: number;
  expires_at: number | null;
  dispatch_state: string | null;
  ends_at: number | null;
  transactional: Flag | null;
  override_reason: string | null;
}

const WAITING = `SELECT m.id, m.business_id, m.dispatch_id, m.kind, m.purpose, m.number_id, m.e164, m.contact_number_id, m.text, m.state, m.sent_at, m.cost, m.segments, m.network, m.tries, m.expires_at,
  d.state AS dispatch_state, d.ends_at, d.transactional, d.override_reason FROM message m LEFT JOIN dispatch d ON d.id = m.dispatch_id`;

/** What waits for its turn under one pace, first due first. */
export async function dueTexts(r: Reader, paceKey: string, now: number, limit: number): Promise<Waiting[]> {
  return r.all<Waiting>(
    `${WAITING} WHERE m.state = 'waiting' AND m.pace_key = $1 AND m.due_at <= $2 ORDER BY m.due_at, m.id LIMIT ${limit}`,
    [paceKey, now],
  );
}

/** These texts, each by its key. */
export async function textsOnTheirWay(r: Reader, ids: readonly string[]): Promise<Map<string, Waiting>> {
  const rows = await r.all<Waiting>(
    WAITING.replace('FROM message m', 'FROM json_each($1) j CROSS JOIN message m ON m.id = j.value'),
    [jsonRows(ids)],
  );
  return new Map(rows.map((m) => [m.id, m]));
}

/** Texts of which it is unknown whether the network has them, and which may be asked about now. */
export async function dueUnsure(r: Reader, now: number, limit: number): Promise<string[]> {
  const rows = await r.all<{ id: string }>(
    `SELECT id FROM message WHERE state = 'unsure' AND due_at <= $1 ORDER BY due_at LIMIT ${limit}`,
    [now],
  );
  return rows.map((m) => m.id);
}

export async function nextUnsure(r: Reader): Promise<number | null> {
  return (
    (await r.one<{ at: number | null }>(`SELECT min(due_at) AS at FROM message WHERE state = 'unsure'`))?.at ?? null
  );
}

/** After a crash: everything in the air is in doubt, and asked about when its verdict has run out. */
export async function doubtLeaving(w: Writer, now: number, after: number): Promise<void> {
  await w.run(`UPDATE message SET state = 'unsure', due_at = coalesce(sent_at, $1) + $2 WHERE state = 'leaving'`, [
    now,
    after,
  ]);
}

/** Where texts stand now, and when each is due where that is said; one statement for a lot. */
export async function setStates(
  w: Writer,
  rows: readonly (readonly [id: string, state: TextState, dueAt?: number])[],
): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, due_at = coalesce(CAST(j.value->>2 AS BIGINT), due_at) FROM json_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows)],
  );
}

/** Keeps the gate's answer with texts that do not leave. */
export async function setVerdicts(
  w: Writer,
  rows: readonly (readonly [id: string, state: TextState, verdict: Pick<Verdict, 'post' | 'reason' | 'until'>])[],
): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, post = CAST(j.value->>2 AS INTEGER), reason = j.value->>3, hold_until = CAST(j.value->>4 AS BIGINT) FROM json_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows.map(([id, state, v]) => [id, state, v.post, v.reason, v.until]))],
  );
}

export type Leaving = readonly [id: string, state: TextState, cost: number, segments: number, network: CarrierKind];
/** They are in the air, at a price. */
export async function setLeaving(w: Writer, rows: readonly Leaving[], at: number): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, post = NULL, reason = NULL, hold_until = NULL, sent_at = $2, cost = CAST(j.value->>2 AS BIGINT), segments = CAST(j.value->>3 AS INTEGER), network = j.value->>4
     FROM json_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows), at],
  );
}

/** As if they had never left: to be judged again when they are due. */
export async function setBack(
  w: Writer,
  rows: readonly (readonly [id: string, state: TextState, dueAt: number])[],
): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, due_at = CAST(j.value->>2 AS BIGINT), tries = tries + 1, sent_at = NULL, cost = 0 FROM json_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows)],
  );
}

/** Nobody wants them any more; what the gate said of them is of no matter then. */
export async function setCancelled(
  w: Writer,
  rows: readonly (readonly [id: string, state: TextState])[],
): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, reason = NULL FROM json_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows)],
  );
}

/** When the `nth` last solicitation to each contact number left, those in the air included; null for fewer. */
export async function nthSolicitations(
  r: Reader,
  contactNumberIds: readonly number[],
  nth: number,
): Promise<[row: number, at: number | null][]> {
  const rows = await r.all<{ id: number; at: number | null }>(
    `SELECT CAST(j.value AS BIGINT) AS id, (SELECT m.sent_at FROM message m WHERE m.contact_number_id = CAST(j.value AS BIGINT) AND m.purpose = 'promotional' AND m.direction = 'out' AND m.sent_at IS NOT NULL ORDER BY m.sent_at DESC LIMIT 1 OFFSET ${nth - 1}) AS at FROM json_each($1) j`,
    [jsonRows(contactNumberIds)],
  );
  return rows.map((x) => [x.id, x.at]);
}

/** How many texts of a kind a person was sent or is about to be, since a moment. */
export async function countTexts(
  r: Reader,
  businessId: string,
  e164: string,
  kind: TextKind,
  sentBy: string,
  since: number,
): Promise<number> {
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM message WHERE business_id = $1 AND e164 = $2 AND created_at > $3 AND kind = $4 AND sent_by = $5 AND direction = 'out' AND state NOT IN ('stopped','cancelled')`,
    [businessId, e164, since, kind, sentBy],
  );
  return row?.n ?? 0;
}

/** The last text that reached the person, or is at the network on its way there. */
export async function lastTextTo(
  r: Reader,
  businessId: string,
  e164: string,
): Promise<{ id: string; text: string; kind: string; sentAt: number } | undefined> {
  return r.one(
    `SELECT id, text, kind, sent_at AS "sentAt" FROM message WHERE business_id = $1 AND e164 = $2 AND direction = 'out' AND state IN ('leaving','unsure','sent','delivered') AND sent_at IS NOT NULL ORDER BY sent_at DESC LIMIT 1`,
    [businessId, e164],
  );
}

/** For which purposes lists were dispatched to, by the list's id. */
export async function listsDispatched(r: Reader, businessId: string): Promise<{ list: string; purpose: Purpose }[]> {
  return r.all(
    `SELECT DISTINCT j.value AS list, d.purpose FROM dispatch d JOIN json_each(d.audience, '$.include') j ON TRUE WHERE d.business_id = $1 AND d.state <> 'draft' AND d.purpose IS NOT NULL`,
    [businessId],
  );
}

/** Texts to a number, for these purposes, that have not been handed over. */
export async function withdrawable(
  r: Reader,
  businessId: string,
  e164: string,
  purposes: readonly Purpose[],
): Promise<{ id: string; state: TextState; dispatch_id: string | null }[]> {
  return r.all(
    `SELECT id, state, dispatch_id FROM message WHERE business_id = $1 AND e164 = $2 AND direction = 'out' AND kind IN ('dispatch','answer') AND state IN ('judging','waiting','held') AND purpose IN (SELECT value FROM json_each($3))`,
    [businessId, e164, JSON.stringify(purposes)],
  );
}

// -- receipts ------------------------------------------------------------------------------------------------------

/** A text of which a receipt speaks. */
export interface Answered {
  id: string;
  business_id: string;
  dispatch_id: string | null;
  e164: string;
  number_id: string;
  contact_number_id: number | null;
  state: TextState;
}

export async function answeredTexts(r: Reader, ids: readonly string[]): Promise<Map<string, Answered>> {
  const rows = await r.all<Answered>(
    `SELECT m.id, m.business_id, m.dispatch_id, m.e164, m.number_id, m.contact_number_id, m.state FROM json_each($1) j CROSS JOIN message m ON m.id = j.value`,
    [jsonRows(ids)],
  );
  return new Map(rows.map((m) => [m.id, m]));
}

export async function setDelivered(
  w: Writer,
  rows: readonly (readonly [id: string, state: TextState, at: number, carrier: string])[],
): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, final_at = CAST(j.value->>2 AS BIGINT), carrier = j.value->>3 FROM json_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows)],
  );
}

export interface Failed {
  id: string;
  state: TextState;
  at: number;
  carrier: string;
  failure: FailureClass;
  code: string;
  reason: string;
  /** Refused by the network before it left: it costs nothing. */
  free: boolean;
}
export async function setFailed(w: Writer, rows: readonly Failed[]): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, final_at = CAST(j.value->>2 AS BIGINT), carrier = j.value->>3, failure = j.value->>4, failure_code = j.value->>5, failure_reason = j.value->>6, cost = CASE WHEN CAST(j.value->>7 AS BOOLEAN) THEN 0 ELSE cost END
     FROM json_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows.map((f) => [f.id, f.state, f.at, f.carrier, f.failure, f.code, f.reason, f.free]))],
  );
}

/** Passing faults of a contact number since a moment. */
export async function passingFaults(r: Reader, contactNumberId: number, since: number): Promise<number> {
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM message WHERE contact_number_id = $1 AND failure = 'passing-fault' AND final_at > $2`,
    [contactNumberId, since],
  );
  return row?.n ?? 0;
}

// -- counts, kept by the database ------------------------------------------------------------------------------------

/** How many texts of a dispatch are in each state. */
export async function statesOf(r: Reader, dispatchId: string): Promise<Record<string, number>> {
  const rows = await r.of(textCountTable).findAll({ where: { dispatchId } });
  const counts: Record<string, number> = {};
  for (const { state, n } of rows) if (n > 0) counts[state] = (counts[state] ?? 0) + n;
  return counts;
}

/** What waits to leave, in segments, by kind of network. */
export async function segmentsWaiting(r: Reader, businessId: string): Promise<Record<string, number>> {
  const rows = await r.of(textWaitingTable).findAll({ where: { businessId } });
  return Object.fromEntries(rows.map((x) => [x.network, x.segments]));
}

// -- a dispatch's texts ----------------------------------------------------------------------------------------------

export type ToJudge = Pick<Waiting, 'id' | 'e164' | 'state'> & { contact_number_id: number };
/** The next of a dispatch to be judged: those whose hold is over, then those never judged; each by its own index. */
export async function toJudge(r: Reader, dispatchId: string, now: number, limit: number): Promise<ToJudge[]> {
  const select = 'SELECT id, e164, contact_number_id, state FROM message';
  const over = await r.all<ToJudge>(
    `${select} WHERE dispatch_id = $1 AND state = 'held' AND hold_until <= $2 ORDER BY hold_until LIMIT ${limit}`,
    [dispatchId, now],
  );
  if (over.length === limit) return over;
  const fresh = await r.all<ToJudge>(
    `${select} WHERE dispatch_id = $1 AND state = 'judging' ORDER BY id LIMIT ${limit - over.length}`,
    [dispatchId],
  );
  return [...over, ...fresh];
}

/** The moment the next held text of a dispatch is judged again. */
export async function nextHeld(r: Reader, dispatchId: string): Promise<number | null> {
  const row = await r.one<{ at: number | null }>(
    `SELECT min(hold_until) AS at FROM message WHERE dispatch_id = $1 AND state = 'held' AND hold_until IS NOT NULL`,
    [dispatchId],
  );
  return row?.at ?? null;
}

/** What a lot of texts became by the gate: where they stand, and what is sent to those that pass. */
export type Judged = readonly [
  id: string,
  state: TextState,
  post: number | null,
  reason: string | null,
  until: number | null,
  text: string,
  segments: number,
  paceKey: string,
  network: string,
];
export async function setJudged(w: Writer, rows: readonly Judged[], dueAt: number): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, post = CAST(j.value->>2 AS INTEGER), reason = j.value->>3, hold_until = CAST(j.value->>4 AS BIGINT), text = j.value->>5, segments = CAST(j.value->>6 AS INTEGER), pace_key = j.value->>7, network = j.value->>8, due_at = $2
     FROM json_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows), dueAt],
  );
}

/** All texts of a dispatch in one state go to another; with what they were stopped for where `keepReason`. */
export async function moveAll(w: Writer, dispatchId: string, from: TextState, to: TextState): Promise<void> {
  await w.of(messageTable).update({ state: to, holdUntil: null }, { where: { dispatchId, state: from } });
}

/** Writes the recipients of a dispatch down, each once. One statement, since they may be a million. */
export async function addRecipients(
  w: Writer,
  people: { sql: string; bind: Record<string, unknown> },
  m: {
    dispatchId: string;
    businessId: string;
    purpose: string;
    numberId: string;
    segments: number;
    now: number;
    by: string;
  },
): Promise<void> {
  await w.run(
    `INSERT INTO message (id, business_id, dispatch_id, direction, kind, purpose, number_id, e164, contact_number_id, text, segments, state, created_at, sent_by)
     SELECT $dispatchId || '-' || cn.id, $businessId, $dispatchId, 'out', 'dispatch', $purpose, $numberId, cn.e164, cn.id, '', $segments, 'judging', $now, $by ${people.sql} ON CONFLICT DO NOTHING`,
    { ...people.bind, ...m },
  );
}

/** Which dispatches of a business have texts held for one of these reasons. */
export async function heldFor(r: Reader, businessId: string, reasons: readonly string[]): Promise<string[]> {
  const rows = await r.all<{ id: string }>(
    `SELECT DISTINCT c.dispatch_id AS id FROM dispatch d CROSS JOIN text_count c ON c.dispatch_id = d.id WHERE d.business_id = $1 AND d.state = 'sending' AND c.state = 'held' AND c.n > 0 AND c.reason IN (SELECT value FROM json_each($2))`,
    [businessId, jsonRows(reasons)],
  );
  return rows.map((x) => x.id);
}

/** Those held for one of these reasons are judged again now. */
export async function judgeHeldAgain(
  w: Writer,
  businessId: string,
  reasons: readonly string[],
  now: number,
): Promise<void> {
  await w.run(
    `UPDATE message SET hold_until = $3 WHERE business_id = $1 AND state = 'held' AND reason IN (SELECT value FROM json_each($2))`,
    [businessId, jsonRows(reasons), now],
  );
}

// -- single texts ----------------------------------------------------------------------------------------------------

export async function addText(w: Writer, text: CreationAttributes<MessageModel>): Promise<void> {
  await w.of(messageTable).create(text);
}

export async function isQueued(r: Reader, id: string): Promise<boolean> {
  return (await r.of(messageTable).count({ where: { id } })) > 0;
}

/** When a text last reached a number of ours, when one from it was last delivered, and when it was last called. */
export async function lastSeen(
  r: Reader,
  businessId: string,
  numberId: string,
  since: number,
): Promise<{ inAt: number | null; outAt: number | null; callAt: number | null }> {
  const row = await r.one<{ inAt: number | null; outAt: number | null; callAt: number | null }>(
    `SELECT (SELECT max(created_at) FROM message WHERE number_id = $1 AND direction = 'in' AND kind = 'reply' AND created_at >= $2) AS "inAt",
       (SELECT max(created_at) FROM message WHERE number_id = $1 AND direction = 'in' AND kind = 'call' AND created_at >= $2) AS "callAt",
       (SELECT final_at FROM message WHERE business_id = $3 AND number_id = $1 AND sent_at >= $2 AND state = 'delivered' ORDER BY sent_at DESC LIMIT 1) AS "outAt"`,
    [numberId, since, businessId],
  );
  return row ?? { inAt: null, outAt: null, callAt: null };
}

// -- shown -----------------------------------------------------------------------------------------------------------

/** A page of a dispatch's texts in these states (all, where none is named), after one of them. */
export async function pageOfTexts(
  r: Reader,
  dispatchId: string,
  states: readonly string[],
  after: string,
  limit: number,
): Promise<MessageRecord[]> {
  const select = `SELECT * FROM message WHERE dispatch_id = $dispatchId`;
  const bind: Record<string, unknown> = { dispatchId, after, limit };
  const sql =
    states.length === 0
      ? `${select} AND id > $after ORDER BY id LIMIT $limit`
      : `${states
          .map((state, i) => {
            bind[`state${i}`] = state;
            return `SELECT * FROM (${select} AND state = $state${i} AND id > $after ORDER BY id LIMIT $limit)`;
          })
          .join(' UNION ALL ')} ORDER BY id LIMIT $limit`;
  return r.all<MessageRecord>(sql, bind);
}

/** The last texts to and from a person that have words, the oldest of them first. */
export async function lastTexts(r: Reader, businessId: string, e164: string, limit: number): Promise<MessageRecord[]> {
  return r.all<MessageRecord>(
    `SELECT * FROM (SELECT * FROM message WHERE business_id = $1 AND e164 = $2 AND text <> '' ORDER BY created_at DESC LIMIT ${limit}) AS m ORDER BY created_at`,
    [businessId, e164],
  );
}

export async function textById(r: Reader, businessId: string, id: string): Promise<MessageRecord | undefined> {
  return r.one<MessageRecord>('SELECT * FROM message WHERE business_id = $1 AND id = $2', [businessId, id]);
}

export interface Said {
  direction: 'in' | 'out';
  text: string;
  created_at: number;
}
/** A text that came in, and what was said to and by the person before it, newest first. */
export async function saidBefore(
  r: Reader,
  businessId: string,
  messageId: string,
  limit: number,
): Promise<{ text: string; before: Said[] } | undefined> {
  const m = await textById(r, businessId, messageId);
  if (!m) return undefined;
  const before = await r.all<Said>(
    `SELECT direction, text, created_at FROM message WHERE business_id = $1 AND e164 = $2 AND created_at <= $3 AND id <> $4 AND text <> '' AND state NOT IN ('stopped','cancelled','held') ORDER BY created_at DESC LIMIT ${limit}`,
    [businessId, m.e164, m.created_at, messageId],
  );
  return { text: m.text, before };
}

/** Which number of ours had written to each of these people last before a moment of theirs. */
export async function lastNumbers(
  r: Reader,
  businessId: string,
  moments: readonly (readonly [e164: string, at: number])[],
): Promise<(string | null)[]> {
  const rows = await r.all<{ number_id: string | null }>(
    `SELECT (SELECT m.number_id FROM message m WHERE m.business_id = $1 AND m.e164 = j.value->>0 AND m.direction = 'out' AND m.sent_at <= CAST(j.value->>1 AS BIGINT) ORDER BY m.created_at DESC LIMIT 1) AS number_id FROM json_each($2) j ORDER BY j.key`,
    [businessId, jsonRows(moments)],
  );
  return rows.map((x) => x.number_id);
}

// -- what became of texts, by day ------------------------------------------------------------------------------------

/** Texts that stand alike on their days: one number, one carrier, one outcome and its reason. */
export interface DayCount {
  day: number;
  numberId: string;
  carrier: string;
  outcome: string;
  failure: string;
  reason: string;
  n: number;
}
export async function dayCounts(r: Reader, businessId: string, fromDay: number): Promise<DayCount[]> {
  return r.all<DayCount>(
    `SELECT day, number_id AS "numberId", carrier, outcome, failure, reason, n FROM text_day WHERE business_id = $1 AND day >= $2 AND n > 0`,
    [businessId, fromDay],
  );
}

/** How long delivery took, in steps, by number. */
export async function latencySteps(
  r: Reader,
  businessId: string,
  fromDay: number,
): Promise<{ numberId: string; step: number; n: number }[]> {
  return r.all(
    `SELECT number_id AS "numberId", step, sum(n) AS n FROM text_latency WHERE business_id = $1 AND day >= $2 GROUP BY 1, 2 ORDER BY 1, 2`,
    [businessId, fromDay],
  );
}
