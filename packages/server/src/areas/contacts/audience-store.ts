import { jsonRows, type Reader } from '../../platform/db.js';
import { subjectColumns, type SubjectRow } from './subjects.js';

/** Who a dispatch goes to: everyone on an included list or tag, less everyone on an excluded one. */
export interface Audience {
  businessId: string;
  include: readonly string[];
  exclude: readonly string[];
}
/** What the gate reads beside the contact: who would text, what must not be empty, and the moment. */
export interface AskedBy {
  numberId: string | null;
  emptyFields: readonly ('first_name' | 'last_name')[];
  now: number;
}

const FROM = `FROM contact_number cn JOIN contact c ON c.id = cn.contact_id LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId
  WHERE cn.business_id = $businessId AND cn.contact_id IN (SELECT m.contact_id FROM list_member m JOIN contact_list l ON l.id = m.list_id AND l.business_id = $businessId WHERE m.list_id IN (SELECT value FROM json_each($include)))
    AND cn.contact_id NOT IN (SELECT m.contact_id FROM list_member m WHERE m.list_id IN (SELECT value FROM json_each($exclude)))`;

const bindOf = (a: Audience): Record<string, unknown> => ({
  businessId: a.businessId,
  include: jsonRows(a.include),
  exclude: jsonRows(a.exclude),
});

/** The audience by how the posts see it: a few hundred classes, also of a million. One grouped scan of the lists. */
export async function audienceClasses(r: Reader, a: Audience, by: AskedBy): Promise<(SubjectRow & { n: number })[]> {
  const columns = subjectColumns(by.emptyFields);
  return r.all(
    `SELECT ${columns.select}, count(*) AS n ${FROM} GROUP BY ${columns.groupBy} ORDER BY ${columns.groupBy}`,
    { ...bindOf(a), numberId: by.numberId ?? '', now: by.now },
  );
}

export type AudienceRow = SubjectRow & { e164: string; contact_id: string; name: string; id: number };

/** One stretch of the audience, one by one, in the order in which its classes are judged. */
export async function audienceRows(
  r: Reader,
  a: Audience,
  by: AskedBy,
  from: number,
  limit: number,
): Promise<AudienceRow[]> {
  const columns = subjectColumns(by.emptyFields);
  return r.all(
    `SELECT ${columns.select}, cn.e164, cn.contact_id, trim(c.first_name || ' ' || c.last_name) AS name, cn.id ${FROM} ORDER BY ${columns.groupBy}, cn.id LIMIT ${limit} OFFSET ${from}`,
    { ...bindOf(a), numberId: by.numberId ?? '', now: by.now },
  );
}

/** How often the audience stands on its lists: what is more than its people are repeats. */
export async function audienceMemberships(r: Reader, a: Audience): Promise<number> {
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM list_member m JOIN contact_number cn ON cn.contact_id = m.contact_id WHERE cn.business_id = $businessId AND m.list_id IN (SELECT value FROM json_each($include))
       AND m.contact_id NOT IN (SELECT x.contact_id FROM list_member x WHERE x.list_id IN (SELECT value FROM json_each($exclude)))`,
    bindOf(a),
  );
  return row?.n ?? 0;
}

/** The longest value of each merge field over the audience. */
export async function longestFields(r: Reader, a: Audience): Promise<{ first_name: string; last_name: string }> {
  const row = await r.one<{ first_name: string | null; last_name: string | null }>(
    `SELECT ${['first_name', 'last_name'].map((f) => `(SELECT c.${f} ${FROM} ORDER BY length(c.${f}) DESC LIMIT 1) AS ${f}`).join(', ')}`,
    { ...bindOf(a), numberId: '' },
  );
  return { first_name: row?.first_name ?? '', last_name: row?.last_name ?? '' };
}

/**
 * The audience as what follows a `SELECT` over contact numbers `cn`, with its binds: for whoever writes each of them
 * down in one statement of their own.
 */
export function audienceSql(a: Audience): { sql: string; bind: Record<string, unknown> } {
  return { sql: FROM, bind: { ...bindOf(a), numberId: '' } };
}
