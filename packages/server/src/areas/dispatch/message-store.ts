import type { CarrierKind, Purpose, TextKind, TextState, Verdict } from '@long-gate/core';
import type { CreationAttributes } from 'sequelize';
import { jsonRows, type Flag, type Reader, type Writer } from '../../platform/db.js';
import { messageTable, type MessageModel } from './model.js';

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
  created_at: number;
  expires_at: number | null;
  dispatch_state: string | null;
  ends_at: number | null;
  transactional: Flag | null;
  override_reason: string | null;
}

/** A dispatch goes on for so long after it was sent; what is still held then ends as stopped, with its reason. */
export const LASTS_MS = 3 * 86_400_000;

const WAITING = `SELECT m.id, m.business_id, m.dispatch_id, m.kind, m.purpose, m.number_id, m.e164, m.contact_number_id, m.text, m.state, m.sent_at, m.cost, m.segments, m.network, m.tries, m.created_at, m.expires_at,
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
    WAITING.replace('FROM message m', 'FROM jsonb_each($1) j CROSS JOIN message m ON m.id = j.value'),
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
    `UPDATE message SET state = j.value->>1, due_at = coalesce(CAST(j.value->>2 AS BIGINT), due_at) FROM jsonb_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows)],
  );
}

/** Texts that leave with other words than they were queued with; null leaves them as they are. */
export async function setWords(w: Writer, words: ReadonlyMap<string, string | null>): Promise<void> {
  for (const [id, text] of words) if (text !== null) await w.of(messageTable).update({ text }, { where: { id } });
}

/** Keeps the gate's answer with texts that do not leave. @param at the moment of judgement, milliseconds. */
export async function setVerdicts(
  w: Writer,
  rows: readonly (readonly [id: string, state: TextState, verdict: Pick<Verdict, 'post' | 'reason' | 'until'>])[],
  at: number,
): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, post = CAST(j.value->>2 AS INTEGER), reason = j.value->>3, hold_until = CAST(j.value->>4 AS BIGINT), judged_at = $2 FROM jsonb_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows.map(([id, state, v]) => [id, state, v.post, v.reason, v.until])), at],
  );
}

export type Leaving = readonly [
  id: string,
  state: TextState,
  cost: number,
  segments: number,
  network: CarrierKind,
  day: number,
];
/** They are in the air, at a price. */
export async function setLeaving(w: Writer, rows: readonly Leaving[], at: number): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET state = j.value->>1, post = NULL, reason = NULL, hold_until = NULL, sent_at = $2, cost = CAST(j.value->>2 AS BIGINT), segments = CAST(j.value->>3 AS INTEGER), network = j.value->>4, day = CAST(j.value->>5 AS INTEGER)
     FROM jsonb_each($1) AS j WHERE message.id = j.value->>0`,
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
    `UPDATE message SET state = j.value->>1, due_at = CAST(j.value->>2 AS BIGINT), tries = tries + 1, sent_at = NULL, day = NULL, cost = 0 FROM jsonb_each($1) AS j WHERE message.id = j.value->>0`,
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
    `UPDATE message SET state = j.value->>1, reason = NULL FROM jsonb_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows)],
  );
}

/**
 * When offers left to each of these numbers after one moment and up to another, those in the air included; one that was
 * written down longer before than a dispatch lasts has not left.
 * @param but the text that is asked about, which does not count.
 */
export async function offersBetween(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
  after: number,
  upTo: number,
  but: string,
): Promise<{ e164: string; at: number }[]> {
  return r.all(
    `SELECT m.e164, m.sent_at AS at FROM jsonb_each($2) j CROSS JOIN message m ON m.business_id = $1 AND m.e164 = j.value AND m.created_at > $5 AND m.created_at <= $4
     WHERE m.purpose = 'promotional' AND m.direction = 'out' AND m.sent_at > $3 AND m.sent_at <= $4 AND m.id <> $6`,
    [businessId, jsonRows(e164s), after, upTo, after - LASTS_MS, but],
  );
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
    `SELECT DISTINCT j.value AS list, d.purpose FROM dispatch d JOIN jsonb_each(d.audience, '$.include') j ON TRUE WHERE d.business_id = $1 AND d.state <> 'draft' AND d.purpose IS NOT NULL`,
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
    `SELECT id, state, dispatch_id FROM message WHERE business_id = $1 AND e164 = $2 AND direction = 'out' AND kind IN ('dispatch','answer') AND state IN ('judging','waiting','held') AND purpose IN (SELECT value FROM jsonb_each($3))`,
    [businessId, e164, JSON.stringify(purposes)],
  );
}

// -- single texts ----------------------------------------------------------------------------------------------------

export async function addText(w: Writer, text: CreationAttributes<MessageModel>): Promise<void> {
  await w.of(messageTable).create(text);
}

/**
 * The words of all texts to and from a number go, and the number itself: what stands in its place tells them apart from
 * others'. What has not left is not sent any more.
 */
export async function eraseTexts(w: Writer, businessId: string, e164: string, instead: string): Promise<void> {
  const where = { businessId, e164 };
  await w
    .of(messageTable)
    .update({ state: 'cancelled' }, { where: { ...where, state: ['judging', 'waiting', 'held'] } });
  await w.of(messageTable).update({ text: '', e164: instead, contactNumberId: null }, { where });
}

/** Whether a text to one of these numbers is on its way this moment. */
export async function isLeaving(r: Reader, businessId: string, e164s: readonly string[]): Promise<boolean> {
  const where = { businessId, e164: [...e164s], state: ['leaving', 'unsure'] };
  return (await r.of(messageTable).count({ where })) > 0;
}

export async function isQueued(r: Reader, id: string): Promise<boolean> {
  return (await r.of(messageTable).count({ where: { id } })) > 0;
}

/** When a text from a number was last delivered, since a moment; null where none was. */
export async function lastDelivered(
  r: Reader,
  businessId: string,
  numberId: string,
  since: number,
): Promise<number | null> {
  const row = await r.one<{ at: number | null }>(
    `SELECT final_at AS at FROM message WHERE business_id = $3 AND number_id = $1 AND sent_at >= $2 AND state = 'delivered' ORDER BY sent_at DESC LIMIT 1`,
    [numberId, since, businessId],
  );
  return row?.at ?? null;
}

/** When a text of ours last reached each of these numbers; one that none reached is not in the answer. */
export async function lastReached(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<Map<string, number>> {
  const rows = await r.all<{ e164: string; at: number | null }>(
    `SELECT j.value AS e164, (SELECT m.created_at FROM message m WHERE m.business_id = $1 AND m.e164 = j.value AND m.direction = 'out'
       AND m.state = 'delivered' ORDER BY m.created_at DESC LIMIT 1) AS at FROM jsonb_each($2) j`,
    [businessId, jsonRows(e164s)],
  );
  return new Map(rows.flatMap((x) => (x.at === null ? [] : [[x.e164, x.at] as const])));
}
