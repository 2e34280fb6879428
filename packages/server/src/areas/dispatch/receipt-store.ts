import type { TextState } from '@long-gate/core';
import type { FailureClass } from '@long-gate/gateways';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';

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
    `SELECT m.id, m.business_id, m.dispatch_id, m.e164, m.number_id, m.contact_number_id, m.state FROM jsonb_each($1) j CROSS JOIN message m ON m.id = j.value`,
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
    `UPDATE message SET state = j.value->>1, final_at = CAST(j.value->>2 AS BIGINT), carrier = j.value->>3 FROM jsonb_each($1) AS j WHERE message.id = j.value->>0`,
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
     FROM jsonb_each($1) AS j WHERE message.id = j.value->>0`,
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
