import { CONFIRM_WITHIN_MS, type Programme } from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';

const DAY_MS = 86_400_000;

/** Which text asked a person for which YES. */
export async function noteRequest(
  w: Writer,
  r: { messageId: string; businessId: string; e164: string; programmes: readonly Programme[]; at: number },
): Promise<void> {
  await w.run(
    'INSERT INTO opt_in_request (message_id, business_id, e164, programmes, asked_at) VALUES ($1,$2,$3,$4,$5) ON CONFLICT DO NOTHING',
    [r.messageId, r.businessId, r.e164, JSON.stringify(r.programmes), r.at],
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

/** What a text asked a YES for, where its 72 hours are not over; empty where it asked for none. */
export async function programmesAsked(r: Reader, messageId: string, now: number): Promise<Programme[]> {
  const row = await r.one<{ programmes: string }>(
    'SELECT programmes FROM opt_in_request WHERE message_id = $1 AND asked_at > $2',
    [messageId, now - CONFIRM_WITHIN_MS],
  );
  return row ? (JSON.parse(row.programmes) as Programme[]) : [];
}
