import type { Trouble } from '@long-gate/core';
import type { InferAttributes } from 'sequelize';
import { jsonRows, type Flag, type Reader, type Writer } from '../../platform/db.js';
import { contactCountTable, numberTroubleTable, type NumberTroubleModel } from './model.js';

/** What kept a text from a number: where that was learnt, over which carrier, and in the source's own words. */
export interface Learnt {
  e164: string;
  carrier: string;
  detail: string;
}

/** What is told of what kept texts from a number. */
type ToldTrouble = Required<
  Pick<InferAttributes<NumberTroubleModel>, 'cause' | 'source' | 'carrier' | 'detail' | 'firstAt' | 'lastAt' | 'times'>
>;
export const shownTrouble = (t: ToldTrouble): ToldTrouble => ({
  cause: t.cause,
  source: t.source,
  carrier: t.carrier,
  detail: t.detail,
  firstAt: t.firstAt,
  lastAt: t.lastAt,
  times: t.times,
});

/**
 * Keeps with its times what was learnt of numbers, one row a number and cause: the first time stays, the last moves on.
 * A set, since receipts and lookups come by the hundred; what came twice in one lot counts twice.
 */
export async function noteTroubles(
  w: Writer,
  businessId: string,
  cause: Exclude<Trouble, 'none'>,
  source: 'lookup' | 'receipt',
  learnt: readonly Learnt[],
  at: number,
): Promise<void> {
  if (learnt.length === 0) return;
  await w.run(
    `INSERT INTO number_trouble (contact_number_id, cause, business_id, source, carrier, detail, first_at, last_at, times)
     SELECT cn.id, $3, $1, $4, max(CASE WHEN j.value->>1 = '' THEN cn.carrier ELSE j.value->>1 END), max(j.value->>2), $5, $5, count(*)
     FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value->>0 WHERE true GROUP BY cn.id
     ON CONFLICT (contact_number_id, cause) DO UPDATE SET source = excluded.source, carrier = excluded.carrier, detail = excluded.detail, last_at = excluded.last_at, stands = TRUE, times = number_trouble.times + excluded.times`,
    [businessId, jsonRows(learnt.map((l) => [l.e164, l.carrier, l.detail])), cause, source, at],
  );
}

/** What no longer keeps texts from these numbers stands no more; what does stands (again). */
export async function settleTroubles(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
  await w.run(
    `WITH x AS MATERIALIZED (SELECT cn.id, cn.textable, cn.trouble, cn.reachable, cn.faults_in_review FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value)
     UPDATE number_trouble SET stands = CASE cause WHEN 'not-textable' THEN x.textable = 'no' OR x.trouble = 'not-textable' WHEN 'passing-fault' THEN x.trouble = 'passing-fault' OR x.faults_in_review OR NOT x.reachable ELSE x.trouble = cause END
     FROM x WHERE number_trouble.contact_number_id = x.id`,
    [businessId, jsonRows(e164s)],
  );
}

/** A number that texts do not reach, with its contact. */
export interface UnreachedRow {
  id: number;
  contactId: string;
  name: string;
  email: string;
  e164: string;
  source: string;
  carrier: string;
  detail: string;
  firstAt: number;
  lastAt: number;
  times: number;
  lineType: string;
  informational: string;
  promotional: string;
  faultsInReview: Flag;
}
/** Numbers a cause keeps texts from, the last seen first: a stretch of the index over those that stand. */
export async function unreachedNumbers(
  r: Reader,
  businessId: string,
  cause: string,
  after: { lastAt: number; id: number } | null,
  limit: number,
): Promise<UnreachedRow[]> {
  return r.all<UnreachedRow>(
    `SELECT cn.id, cn.contact_id AS "contactId", trim(c.first_name || ' ' || c.last_name) AS name, c.email, cn.e164, t.source, t.carrier, t.detail, t.first_at AS "firstAt", t.last_at AS "lastAt", t.times, cn.line_type AS "lineType", cn.consent_informational AS informational, cn.consent_promotional AS promotional, cn.faults_in_review AS "faultsInReview"
     FROM number_trouble t INDEXED BY number_trouble_standing CROSS JOIN contact_number cn ON cn.id = t.contact_number_id JOIN contact c ON c.id = cn.contact_id
     WHERE t.business_id = $businessId AND t.cause = $cause AND t.stands ${after ? 'AND (t.last_at, t.contact_number_id) < ($lastAt, $id)' : ''} ORDER BY t.last_at DESC, t.contact_number_id DESC LIMIT ${limit}`,
    { businessId, cause, ...(after ?? {}) },
  );
}

/** Over which carriers a cause is seen, most first. */
export async function carriersOfCause(
  r: Reader,
  businessId: string,
  cause: string,
): Promise<{ carrier: string; source: string; n: number }[]> {
  return r.all(
    `SELECT carrier, source, count(*) AS n FROM number_trouble INDEXED BY number_trouble_standing WHERE business_id = $1 AND cause = $2 AND stands GROUP BY 1, 2 ORDER BY 3 DESC LIMIT 12`,
    [businessId, cause],
  );
}

/** How many numbers each cause keeps texts from, and how many of them had agreed to each kind of text. */
export async function countByCause(
  r: Reader,
  businessId: string,
): Promise<{ cause: string; n: number; informational: number; promotional: number }[]> {
  return r.all(
    `SELECT t.cause, count(*) AS n, sum(CASE WHEN cn.consent_informational = 'granted' THEN 1 ELSE 0 END) AS informational, sum(CASE WHEN cn.consent_promotional = 'granted' THEN 1 ELSE 0 END) AS promotional
     FROM number_trouble t INDEXED BY number_trouble_standing CROSS JOIN contact_number cn ON cn.id = t.contact_number_id WHERE t.business_id = $1 AND t.stands GROUP BY 1`,
    [businessId],
  );
}

/** How many numbers one cause keeps texts from. */
export async function countOfCause(r: Reader, businessId: string, cause: string): Promise<number> {
  // A model asks for `stands = 1`, which the planner does not know to be the `stands` of the index.
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM number_trouble INDEXED BY number_trouble_standing WHERE business_id = $1 AND cause = $2 AND stands`,
    [businessId, cause],
  );
  return row?.n ?? 0;
}

/** All contact numbers of a business, those that are not preferred too. */
export async function countNumbers(r: Reader, businessId: string): Promise<number> {
  return (await r.of(contactCountTable).sum('n', { where: { businessId } })) || 0;
}

/** How what stands in a field fares where texts reach the preferred number and where they do not. */
export async function outcomesByReach(
  r: Reader,
  businessId: string,
  fieldId: string,
): Promise<{ value: string; reached: Flag; n: number }[]> {
  return r.all(
    `SELECT c.own->>$2 AS value, cn.textable = 'yes' AND cn.reachable AND cn.trouble = 'none' AS reached, count(*) AS n FROM contact c JOIN contact_number cn ON cn.contact_id = c.id AND cn.preferred
     WHERE c.business_id = $1 AND c.own <> '{}' AND c.own->>$2 IS NOT NULL GROUP BY 1, 2 ORDER BY 3 DESC LIMIT 80`,
    [businessId, fieldId],
  );
}

/** What was ever learnt of these numbers, the latest first. */
export async function troublesOf(r: Reader, ids: readonly number[]): Promise<NumberTroubleModel[]> {
  return r
    .of(numberTroubleTable)
    .findAll({ where: { contactNumberId: [...ids] }, order: [['lastAt', 'DESC']], raw: true });
}
