import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import { textDayTable } from './model.js';

/** How many of a business's texts count on a day. */
export async function textsCounted(r: Reader, businessId: string): Promise<number> {
  return (await r.of(textDayTable).sum('n', { where: { businessId } })) ?? 0;
}

/** The person whose texts stand about so many texts further on, in the order of their numbers; null behind the last. */
export async function personAfter(r: Reader, businessId: string, after: string, texts: number): Promise<string | null> {
  const row = await r.one<{ e164: string }>(
    `SELECT e164 FROM message WHERE business_id = $1 AND e164 > $2 ORDER BY e164 LIMIT 1 OFFSET ${texts}`,
    [businessId, after],
  );
  return row?.e164 ?? null;
}

/** When the texts to and from these people left or came, and the day on which they count; not those that never left. */
export async function textMoments(
  r: Reader,
  businessId: string,
  after: string,
  upTo: string | null,
): Promise<{ id: string; at: number; day: number | null }[]> {
  return r.all(
    `SELECT id, CASE direction WHEN 'in' THEN created_at ELSE sent_at END AS at, day FROM message
     WHERE business_id = $1 AND e164 > $2${upTo === null ? '' : ' AND e164 <= $3'} AND (direction = 'in' OR sent_at IS NOT NULL)`,
    [businessId, after, ...(upTo === null ? [] : [upTo])],
  );
}

/** Puts texts on their days; what is counted of them follows. */
export async function setTextDays(w: Writer, rows: readonly (readonly [id: string, day: number])[]): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE message SET day = CAST(j.value->>1 AS INTEGER) FROM jsonb_each($1) AS j WHERE message.id = j.value->>0`,
    [jsonRows(rows)],
  );
}
