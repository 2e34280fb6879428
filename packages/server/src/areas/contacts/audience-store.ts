import { jsonRows, type Reader } from '../../platform/db.js';
import { hiddenIntakes, isThere } from './filter-store.js';
import { contactListTable } from './model.js';
import { countedClasses, sum } from './class-store.js';
import { subjectColumns, type SubjectRow } from './subjects.js';

/** Who a dispatch goes to, each by the preferred number: everyone on an included list or tag, less everyone on an excluded one. */
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

const LISTS = `FROM jsonb_each($include) i CROSS JOIN contact_list l ON l.id = i.value AND l.business_id = $businessId CROSS JOIN list_member m ON m.list_id = l.id`;
const REST = `JOIN contact c ON c.id = cn.contact_id LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId
  WHERE cn.business_id = $businessId AND cn.preferred AND cn.contact_id NOT IN (SELECT x.contact_id FROM jsonb_each($exclude) e CROSS JOIN list_member x ON x.list_id = e.value)`;
/** From the lists to the contacts, where few of all are on them. */
const FROM_LISTS = `FROM (SELECT DISTINCT m.contact_id ${LISTS}) a CROSS JOIN contact_number cn ON cn.contact_id = a.contact_id ${REST}`;
/** Along all contacts, where many are: going to each by itself takes longer than passing by the others. */
const FROM_ALL = `FROM contact_number cn ${REST} AND cn.contact_id IN (SELECT m.contact_id ${LISTS})`;
/** So many times more contacts than members make going from the lists the shorter way. */
const FEW = 4;

const bindOf = (a: Audience): Record<string, unknown> => ({
  businessId: a.businessId,
  include: jsonRows(a.include),
  exclude: jsonRows(a.exclude),
});

/**
 * The audience as what follows a `SELECT` over contact numbers `cn`, with its binds: for whoever writes each of them
 * down in one statement of their own.
 */
export async function audienceSql(r: Reader, a: Audience): Promise<{ sql: string; bind: Record<string, unknown> }> {
  const { businessId } = a;
  const lists = await r.of(contactListTable).findAll({ where: { id: [...a.include], businessId } });
  const members = lists.reduce((n, l) => n + l.members, 0);
  const all = sum(await countedClasses(r, businessId), {});
  const there = isThere(await hiddenIntakes(r, businessId));
  return { sql: `${members * FEW < all ? FROM_LISTS : FROM_ALL} AND ${there}`, bind: { ...bindOf(a), numberId: '' } };
}

/** The audience by how the posts see it: a few hundred classes, also of a million. One grouped scan of the lists. */
export async function audienceClasses(r: Reader, a: Audience, by: AskedBy): Promise<(SubjectRow & { n: number })[]> {
  const columns = subjectColumns(by.emptyFields);
  const { sql, bind } = await audienceSql(r, a);
  return r.all(
    `SELECT ${columns.select}, count(*) AS n ${sql} GROUP BY ${columns.groupBy} ORDER BY ${columns.groupBy}`,
    {
      ...bind,
      numberId: by.numberId ?? '',
      now: by.now,
    },
  );
}

export type AudienceRow = SubjectRow & { e164: string; contact_id: string; name: string; email: string; id: number };

/** Some of one class of the audience, always in the same order: without the first `from` that follow the row `after`. */
export async function audienceRows(
  r: Reader,
  a: Audience,
  by: AskedBy,
  of: SubjectRow,
  { after, from }: { after: number; from: number },
  limit: number,
): Promise<AudienceRow[]> {
  const columns = subjectColumns(by.emptyFields);
  const same = columns.same(of);
  const { sql, bind } = await audienceSql(r, a);
  return r.all(
    `SELECT ${columns.select}, cn.e164, cn.contact_id, trim(c.first_name || ' ' || c.last_name) AS name, c.email, cn.id ${sql} AND ${same.sql} AND cn.id > $after ORDER BY cn.id LIMIT ${limit} OFFSET ${from}`,
    { ...bind, ...same.bind, after, numberId: by.numberId ?? '', now: by.now },
  );
}

/** How often the audience stands on its lists: what is more than its people are repeats. */
export async function audienceMemberships(r: Reader, a: Audience): Promise<number> {
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n ${LISTS} CROSS JOIN contact_number cn ON cn.contact_id = m.contact_id AND cn.preferred
       WHERE m.contact_id NOT IN (SELECT x.contact_id FROM jsonb_each($exclude) e CROSS JOIN list_member x ON x.list_id = e.value)`,
    bindOf(a),
  );
  return row?.n ?? 0;
}

/** The longest value of each merge field over the audience. */
export async function longestFields(r: Reader, a: Audience): Promise<{ first_name: string; last_name: string }> {
  const { sql, bind } = await audienceSql(r, a);
  const row = await r.one<{ first_name: string | null; last_name: string | null }>(
    `SELECT ${['first_name', 'last_name'].map((f) => `(SELECT c.${f} ${sql} ORDER BY length(c.${f}) DESC LIMIT 1) AS ${f}`).join(', ')}`,
    bind,
  );
  return { first_name: row?.first_name ?? '', last_name: row?.last_name ?? '' };
}
