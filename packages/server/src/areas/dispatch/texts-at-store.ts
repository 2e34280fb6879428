import { jsonRows, type Reader } from '../../platform/db.js';
import type { MessageRecord } from './messages.js';

/** A text of one's own and what was said of it when it was sent off. */
export interface TextThen extends MessageRecord {
  dispatch_id: string | null;
  purpose: string;
  number_id: string;
}
export async function textThen(r: Reader, businessId: string, id: string): Promise<TextThen | undefined> {
  return r.one(`SELECT * FROM message WHERE business_id = $1 AND id = $2 AND direction = 'out'`, [businessId, id]);
}

/** When somebody last wrote or called up to a moment; null where they never had. */
export async function lastHeard(r: Reader, businessId: string, e164: string, at: number): Promise<number | null> {
  const row = await r.one<{ at: number | null }>(
    `SELECT max(created_at) AS at FROM message WHERE business_id = $1 AND e164 = $2 AND created_at <= $3 AND direction = 'in'`,
    [businessId, e164, at],
  );
  return row?.at ?? null;
}

/** The words of what one of our numbers sent to a person between two moments. @param waited how long before it left a text may have been written down. */
export async function wordsBetween(
  r: Reader,
  businessId: string,
  e164: string,
  numberId: string,
  from: number,
  to: number,
  waited: number,
): Promise<string[]> {
  const rows = await r.all<{ text: string }>(
    `SELECT text FROM message WHERE business_id = $1 AND e164 = $2 AND created_at >= $6 AND created_at < $5 AND number_id = $3 AND direction = 'out' AND sent_at >= $4 AND sent_at < $5`,
    [businessId, e164, numberId, from, to, from - waited],
  );
  return rows.map((x) => x.text);
}

/** What texts of these dispatches (empty: texts outside any) that left between two moments cost. */
export async function costBetween(
  r: Reader,
  businessId: string,
  numberIds: readonly string[],
  dispatchId: string,
  from: number,
  to: number,
): Promise<number> {
  const row = await r.one<{ cost: number | null }>(
    `SELECT sum(m.cost) AS cost FROM jsonb_each($2) n CROSS JOIN message m ON m.business_id = $1 AND m.number_id = n.value AND m.sent_at >= $4 AND m.sent_at < $5 WHERE coalesce(m.dispatch_id, '') = $3`,
    [businessId, jsonRows(numberIds), dispatchId, from, to],
  );
  return row?.cost ?? 0;
}

/** Segments that left between two moments for networks that cap a brand's day. */
export async function cappedBetween(
  r: Reader,
  businessId: string,
  numberIds: readonly string[],
  from: number,
  to: number,
): Promise<number> {
  const row = await r.one<{ n: number | null }>(
    `SELECT sum(m.segments) AS n FROM jsonb_each($2) j CROSS JOIN message m ON m.business_id = $1 AND m.number_id = j.value AND m.sent_at >= $3 AND m.sent_at < $4 WHERE m.network = 'B'`,
    [businessId, jsonRows(numberIds), from, to],
  );
  return row?.n ?? 0;
}
