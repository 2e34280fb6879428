import type { FailureClass } from '@long-gate/gateways';
import type { CarrierKind, NamedList, Purpose, TextKind, TextState, Verdict } from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';

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
  tries: number;
  expires_at: number | null;
  dispatch_state: string | null;
  ends_at: number | null;
  transactional: number | null;
  override_reason: string | null;
}

const WAITING = `SELECT m.id, m.business_id, m.dispatch_id, m.kind, m.purpose, m.number_id, m.e164, m.contact_number_id, m.text, m.state, m.sent_at, m.cost, m.segments, m.tries, m.expires_at,
  d.state AS dispatch_state, d.ends_at, d.transactional, d.override_reason FROM message m LEFT JOIN dispatch d ON d.id = m.dispatch_id`;

/** What waits for its turn under one pace, first due first. */
export async function dueTexts(r: Reader, paceKey: string, now: number, limit: number): Promise<Waiting[]> {
  return r.all<Waiting>(
    `${WAITING} WHERE m.state = 'waiting' AND m.pace_key = $1 AND m.due_at <= $2 ORDER BY m.due_at, m.id LIMIT ${limit}`,
    [paceKey, now],
  );
}

export async function textOnItsWay(r: Reader, id: string): Promise<Waiting | undefined> {
  return r.one<Waiting>(`${WAITING} WHERE m.id = $1`, [id]);
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

export async function setState(w: Writer, id: string, state: TextState, dueAt?: number): Promise<void> {
  if (dueAt === undefined) await w.run(`UPDATE message SET state = $2 WHERE id = $1`, [id, state]);
  else await w.run(`UPDATE message SET state = $2, due_at = $3 WHERE id = $1`, [id, state, dueAt]);
}

/** Keeps the gate's answer with a text that does not leave. */
export async function setVerdict(
  w: Writer,
  id: string,
  state: TextState,
  verdict: Pick<Verdict, 'post' | 'reason' | 'until'>,
): Promise<void> {
  await w.run(`UPDATE message SET state = $2, post = $3, reason = $4, hold_until = $5 WHERE id = $1`, [
    id,
    state,
    verdict.post,
    verdict.reason,
    verdict.until,
  ]);
}

/** It is in the air, at a price. */
export async function setLeaving(
  w: Writer,
  id: string,
  state: TextState,
  at: number,
  cost: number,
  segments: number,
): Promise<void> {
  await w.run(
    `UPDATE message SET state = $2, post = NULL, reason = NULL, hold_until = NULL, sent_at = $3, cost = $4, segments = $5 WHERE id = $1`,
    [id, state, at, cost, segments],
  );
}

/** As if it had never left: to be judged again when it is due. */
export async function setBack(w: Writer, id: string, state: TextState, dueAt: number): Promise<void> {
  await w.run(`UPDATE message SET state = $2, due_at = $3, tries = tries + 1, sent_at = NULL, cost = 0 WHERE id = $1`, [
    id,
    state,
    dueAt,
  ]);
}

export async function setCancelled(w: Writer, id: string, state: TextState): Promise<void> {
  await w.run(`UPDATE message SET state = $2, reason = NULL WHERE id = $1`, [id, state]);
}

/** When the last solicitations to a contact number left, newest first, those in the air included. */
export async function lastSolicitations(r: Reader, contactNumberId: number, count: number): Promise<number[]> {
  const rows = await r.all<{ sent_at: number }>(
    `SELECT sent_at FROM message WHERE contact_number_id = $1 AND purpose = 'promotional' AND direction = 'out' AND sent_at IS NOT NULL ORDER BY sent_at DESC LIMIT ${count}`,
    [contactNumberId],
  );
  return rows.map((m) => m.sent_at);
}

export async function carrierKindOf(r: Reader, contactNumberId: number | null): Promise<CarrierKind | null> {
  const row = await r.one<{ carrier_kind: CarrierKind }>('SELECT carrier_kind FROM contact_number WHERE id = $1', [
    contactNumberId,
  ]);
  return row?.carrier_kind ?? null;
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

/** The business's lists by name, with the purposes they have been dispatched to for. */
export async function listsTexted(r: Reader, businessId: string): Promise<NamedList[]> {
  const rows = await r.all<{ name: string; purpose: Purpose }>(
    `SELECT DISTINCT l.name, d.purpose FROM contact_list l JOIN dispatch d ON d.business_id = l.business_id AND d.state <> 'draft' AND l.id IN (SELECT value FROM json_each(d.audience, '$.include')) WHERE l.business_id = $1 AND d.purpose IS NOT NULL ORDER BY l.name`,
    [businessId],
  );
  const lists = new Map<string, Purpose[]>();
  for (const { name, purpose } of rows) lists.set(name, [...(lists.get(name) ?? []), purpose]);
  return [...lists].map(([name, purposes]) => ({ name, purposes }));
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

export async function answeredText(r: Reader, id: string): Promise<Answered | undefined> {
  return r.one<Answered>(
    'SELECT id, business_id, dispatch_id, e164, number_id, contact_number_id, state FROM message WHERE id = $1',
    [id],
  );
}

export async function setDelivered(
  w: Writer,
  id: string,
  state: TextState,
  at: number,
  carrier: string,
): Promise<void> {
  await w.run(`UPDATE message SET state = $2, final_at = $3, carrier = $4 WHERE id = $1`, [id, state, at, carrier]);
}

export async function setFailed(
  w: Writer,
  id: string,
  state: TextState,
  f: { at: number; carrier: string; failure: FailureClass; code: string; reason: string; free: boolean },
): Promise<void> {
  await w.run(
    `UPDATE message SET state = $2, final_at = $3, carrier = $4, failure = $5, failure_code = $6, failure_reason = $7, cost = CASE WHEN $8 THEN 0 ELSE cost END WHERE id = $1`,
    [id, state, f.at, f.carrier, f.failure, f.code, f.reason, f.free ? 1 : 0],
  );
}

/** Passing faults of a contact number since a moment, and since somebody last looked. */
export async function passingFaults(r: Reader, contactNumberId: number, since: number): Promise<number> {
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM message x JOIN contact_number cn ON cn.id = x.contact_number_id WHERE x.contact_number_id = $1 AND x.failure = 'passing-fault' AND x.final_at > max($2, cn.faults_seen_at)`,
    [contactNumberId, since],
  );
  return row?.n ?? 0;
}
