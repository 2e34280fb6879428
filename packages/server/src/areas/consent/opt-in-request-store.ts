import { CONFIRM_WITHIN_MS, type Purpose } from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';

const DAY_MS = 86_400_000;

/** Which text asked a person for which YES. */
export async function noteRequest(
  w: Writer,
  r: { messageId: string; businessId: string; e164: string; purposes: readonly Purpose[]; at: number },
): Promise<void> {
  await w.run(
    'INSERT INTO opt_in_request (message_id, business_id, e164, purposes, asked_at) VALUES ($1,$2,$3,$4,$5) ON CONFLICT DO NOTHING',
    [r.messageId, r.businessId, r.e164, r.purposes.join(','), r.at],
  );
}

/** True where a number was asked within a day: there is one confirming text a number and day, whatever is filled in. */
export async function askedToday(r: Reader, businessId: string, e164: string, now: number): Promise<boolean> {
  return (
    (await r.one('SELECT 1 FROM opt_in_request WHERE business_id = $1 AND e164 = $2 AND asked_at > $3 LIMIT 1', [
      businessId,
      e164,
      now - DAY_MS,
    ])) !== undefined
  );
}

/** The purposes a text asked for, where its 72 hours are not over; empty where it asked for none. */
export async function purposesAsked(r: Reader, messageId: string, now: number): Promise<Purpose[]> {
  const row = await r.one<{ purposes: string }>(
    'SELECT purposes FROM opt_in_request WHERE message_id = $1 AND asked_at > $2',
    [messageId, now - CONFIRM_WITHIN_MS],
  );
  return row ? (row.purposes.split(',') as Purpose[]) : [];
}
