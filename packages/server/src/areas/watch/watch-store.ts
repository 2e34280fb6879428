import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import { optOutTable } from './model.js';

/** Notes who left and which number of ours had written to them last; the same again changes nothing. */
export async function noteDepartures(
  w: Writer,
  businessId: string,
  people: readonly (readonly [e164: string, at: number, numberId: string])[],
): Promise<void> {
  await w.run(
    `INSERT INTO opt_out (business_id, e164, happened_at, number_id) SELECT $1, value->>0, CAST(value->>1 AS BIGINT), value->>2 FROM jsonb_each($2) WHERE true ON CONFLICT DO NOTHING`,
    [businessId, jsonRows(people)],
  );
}

export async function forgetDepartures(w: Writer, businessId: string): Promise<void> {
  await w.run('DELETE FROM opt_out WHERE business_id = $1', [businessId]);
}

/** At which number each of these departures is booked; those that are not booked are not there. */
export async function bookedDepartures(
  r: Reader,
  businessId: string,
  people: readonly (readonly [e164: string, at: number])[],
): Promise<{ e164: string; at: number; numberId: string }[]> {
  return r.all(
    `SELECT o.e164, o.happened_at AS at, o.number_id AS "numberId" FROM jsonb_each($2) j CROSS JOIN opt_out o ON o.business_id = $1 AND o.e164 = j.value->>0 AND o.happened_at = CAST(j.value->>1 AS BIGINT)`,
    [businessId, jsonRows(people)],
  );
}

/** When these people left, as it is booked. */
export async function departuresOf(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<(readonly [e164: string, at: number])[]> {
  const rows = await r.all<{ e164: string; at: number }>(
    `SELECT o.e164, o.happened_at AS at FROM jsonb_each($2) j CROSS JOIN opt_out o ON o.business_id = $1 AND o.e164 = j.value`,
    [businessId, jsonRows(e164s)],
  );
  return rows.map((x) => [x.e164, x.at] as const);
}

/** Books departures on other numbers of ours. */
export async function rebookDepartures(
  w: Writer,
  businessId: string,
  people: readonly (readonly [e164: string, at: number, numberId: string])[],
): Promise<void> {
  await w.run(
    `UPDATE opt_out SET number_id = j.value->>2 FROM jsonb_each($2) AS j WHERE opt_out.business_id = $1 AND opt_out.e164 = j.value->>0 AND opt_out.happened_at = CAST(j.value->>1 AS BIGINT)`,
    [businessId, jsonRows(people)],
  );
}

export async function countDepartures(r: Reader, businessId: string): Promise<number> {
  return r.of(optOutTable).count({ where: { businessId } });
}

/**
 * How many people left on each day, by the number that had written to them last; each person once a day.
 * @param begins when each day begins, and the last of them ends.
 */
export async function departuresByDay(
  r: Reader,
  businessId: string,
  begins: readonly number[],
): Promise<{ nth: number; numberId: string; n: number }[]> {
  const days = begins.slice(1).map((end, nth) => [nth, begins[nth], end]);
  return r.all(
    `SELECT CAST(j.value->>0 AS INTEGER) AS nth, o.number_id AS "numberId", count(DISTINCT o.e164) AS n FROM jsonb_each($2) j
     CROSS JOIN opt_out o ON o.business_id = $1 AND o.happened_at >= CAST(j.value->>1 AS BIGINT) AND o.happened_at < CAST(j.value->>2 AS BIGINT) GROUP BY 1, 2`,
    [businessId, jsonRows(days)],
  );
}

/** How many people left since a moment, each counted once, at the number that had written to them before their first. */
export async function departuresByNumber(r: Reader, businessId: string, since: number): Promise<Map<string, number>> {
  const rows = await r.all<{ k: string; n: number }>(
    `SELECT o.number_id AS k, count(*) AS n FROM opt_out o
     WHERE o.business_id = $1 AND o.happened_at >= $2 AND NOT EXISTS (SELECT 1 FROM opt_out x WHERE x.business_id = $1 AND x.e164 = o.e164 AND x.happened_at >= $2 AND x.happened_at < o.happened_at) GROUP BY 1`,
    [businessId, since],
  );
  return new Map(rows.map((x) => [x.k, x.n]));
}
