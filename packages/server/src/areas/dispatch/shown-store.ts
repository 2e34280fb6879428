import { jsonRows, manyRows, type Reader } from '../../platform/db.js';
import type { MessageRecord } from './messages.js';

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

/** The last texts to a person, also those the gate let them not have, the last first. */
export async function lastTextsTo(
  r: Reader,
  businessId: string,
  e164: string,
  limit: number,
): Promise<(TextRow & { title: string | null; written: string | null })[]> {
  return r.all(
    `SELECT m.*, d.title, d.text AS written FROM message m LEFT JOIN dispatch d ON d.id = m.dispatch_id WHERE m.business_id = $1 AND m.e164 = $2 AND m.direction = 'out' ORDER BY m.created_at DESC LIMIT ${limit}`,
    [businessId, e164],
  );
}

/** A text or call as evidence shows it. */
export interface TextRow extends MessageRecord {
  dispatch_id: string | null;
  purpose: string;
  number_id: string;
  failure: string | null;
  sent_by: string;
}
/** All texts and calls to and from these numbers, both ways, also those the gate let nobody have; by number and time. */
export async function textsOfNumbers(r: Reader, businessId: string, e164s: readonly string[]): Promise<TextRow[]> {
  return r.all<TextRow>(
    `SELECT m.* FROM jsonb_each($2) j CROSS JOIN message m ON m.business_id = $1 AND m.e164 = j.value ORDER BY j.key, m.created_at, m.id`,
    [businessId, jsonRows(e164s)],
  );
}
/** How many there are of each of them. */
export async function countTextsOf(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<Map<string, number>> {
  const rows = await r.all<{ e164: string; n: number }>(
    `SELECT j.value AS e164, (SELECT count(*) FROM message m WHERE m.business_id = $1 AND m.e164 = j.value) AS n FROM jsonb_each($2) j`,
    [businessId, jsonRows(e164s)],
  );
  return new Map(rows.map((x) => [x.e164, x.n]));
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
    `SELECT (SELECT m.number_id FROM message m WHERE m.business_id = $1 AND m.e164 = j.value->>0 AND m.direction = 'out' AND m.sent_at <= CAST(j.value->>1 AS BIGINT) ORDER BY m.created_at DESC LIMIT 1) AS number_id FROM jsonb_each($2) j ORDER BY j.key`,
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
  const rows = await manyRows<Omit<DayCount, 'numberId'> & { number_id: string }>(
    r,
    ['day', 'number_id', 'carrier', 'outcome', 'failure', 'reason', 'n'],
    'FROM text_day WHERE business_id = $1 AND day >= $2 AND n > 0',
    [businessId, fromDay],
  );
  return rows.map(({ number_id, ...x }) => ({ numberId: number_id, ...x }));
}

/** How long delivery took, in steps, by number: of whole weeks by week, and of the days before the first of them. */
export async function latencySteps(
  r: Reader,
  businessId: string,
  fromDay: number,
): Promise<{ numberId: string; step: number; n: number }[]> {
  const rows = await manyRows<{ number_id: string; step: number; n: number }>(
    r,
    ['number_id', 'step', 'n'],
    `FROM (SELECT number_id, step, sum(n) AS n FROM (
       SELECT number_id, step, n FROM text_latency WHERE business_id = $1 AND day >= $2 AND day < $3 * 7
       UNION ALL SELECT number_id, step, n FROM text_latency_week WHERE business_id = $1 AND week >= $3
     ) l GROUP BY number_id, step ORDER BY number_id, step) AS steps`,
    [businessId, fromDay, Math.ceil(fromDay / 7)],
  );
  return rows.map(({ number_id, ...x }) => ({ numberId: number_id, ...x }));
}
