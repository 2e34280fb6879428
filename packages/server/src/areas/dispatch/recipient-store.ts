import type { TextState } from '@long-gate/core';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import { messageTable, textCountTable, textWaitingTable } from './model.js';
import type { Waiting } from './message-store.js';

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
    `UPDATE message SET state = j.value->>1, post = CAST(j.value->>2 AS INTEGER), reason = j.value->>3, hold_until = CAST(j.value->>4 AS BIGINT), text = j.value->>5, segments = CAST(j.value->>6 AS INTEGER), pace_key = j.value->>7, network = j.value->>8, due_at = $2, judged_at = $2
     FROM jsonb_each($1) AS j WHERE message.id = j.value->>0`,
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
    `SELECT DISTINCT c.dispatch_id AS id FROM dispatch d CROSS JOIN text_count c ON c.dispatch_id = d.id WHERE d.business_id = $1 AND d.state = 'sending' AND c.state = 'held' AND c.n > 0 AND c.reason IN (SELECT value FROM jsonb_each($2))`,
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
    `UPDATE message SET hold_until = $3 WHERE business_id = $1 AND state = 'held' AND reason IN (SELECT value FROM jsonb_each($2))`,
    [businessId, jsonRows(reasons), now],
  );
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
