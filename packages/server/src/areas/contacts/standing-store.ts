import type { Reader } from '../../platform/db.js';
import { hiddenIntakes, isThere } from './filter-store.js';
import { subjectOf, type SubjectRow } from './subjects.js';
import type { Subject } from '@long-gate/core';

/** What the posts that ask about a person alone read of their preferred number. */
const COLUMNS: readonly (readonly [sql: string, name: keyof SubjectRow])[] = [
  ['cn.country', 'country'],
  ['cn.looked_up_at IS NOT NULL', 'looked_up'],
  ['cn.textable', 'textable'],
  ['cn.reachable', 'reachable'],
  ['cn.trouble', 'trouble'],
  ['cn.faults_in_review', 'faults_in_review'],
  ['cn.suppression', 'suppression'],
  ['cn.wish_in_review', 'wish_in_review'],
  ['cn.consent_conversational', 'consent_conversational'],
  ['cn.consent_informational', 'consent_informational'],
  ['cn.consent_promotional', 'consent_promotional'],
  ['cn.refused_elsewhere', 'refused_elsewhere'],
  ['cn.reassignment', 'reassignment'],
];
type Row = Pick<SubjectRow, (typeof COLUMNS)[number][1]>;

/** People who stand alike in all that the posts read of them alone. */
export interface StandingClass {
  subject: Subject;
  count: number;
  /** What they have in common, by which they are found again. */
  row: Row;
}

const SELECT = COLUMNS.map(([sql, name]) => `${sql} AS ${name}`).join(', ');
const places = (from: number): string => COLUMNS.map((_, i) => from + i).join(', ');
const classOf = ({ n, ...row }: Row & { n: number }): StandingClass => ({
  subject: subjectOf(row),
  count: n,
  row,
});

/** All contacts of a business by how they stand: one scan, grouped. */
export async function standingOfAll(r: Reader, businessId: string): Promise<StandingClass[]> {
  const hidden = await hiddenIntakes(r, businessId);
  const rows = await r.all<Row & { n: number }>(
    `SELECT ${SELECT}, count(*) AS n FROM contact_number cn
     WHERE cn.business_id = $1 AND cn.preferred AND ${isThere(hidden)} GROUP BY ${places(1)}`,
    [businessId],
  );
  return rows.map(classOf);
}

/** The same for each list and tag that has anybody on it. */
export async function standingByList(r: Reader, businessId: string): Promise<Map<string, StandingClass[]>> {
  const hidden = await hiddenIntakes(r, businessId);
  const rows = await r.all<Row & { n: number; list: string }>(
    `SELECT m.list_id AS list, ${SELECT}, count(*) AS n
     FROM contact_list l JOIN list_member m ON m.list_id = l.id JOIN contact_number cn ON cn.contact_id = m.contact_id
     WHERE l.business_id = $1 AND cn.preferred AND ${isThere(hidden)} GROUP BY 1, ${places(2)}`,
    [businessId],
  );
  const out = new Map<string, StandingClass[]>();
  for (const { list, ...row } of rows) out.set(list, [...(out.get(list) ?? []), classOf(row)]);
  return out;
}

/** Contacts who stand as one of these classes does, in the order of their numbers, after one of them. */
export async function peopleStanding(
  r: Reader,
  businessId: string,
  of: { classes: readonly StandingClass[]; listId: string | null; after: string; limit: number },
): Promise<{ contactId: string; firstName: string; lastName: string; e164: string; email: string }[]> {
  if (of.classes.length === 0) return [];
  const hidden = await hiddenIntakes(r, businessId);
  const binds: Record<string, unknown> = { businessId, after: of.after, limit: of.limit };
  let n = 0;
  const like = of.classes.map(({ row }) => {
    const parts = COLUMNS.map(([sql, name]) => {
      binds[`v${++n}`] = row[name];
      return `(${sql}) = $v${n}`;
    });
    return `(${parts.join(' AND ')})`;
  });
  if (of.listId !== null) binds['listId'] = of.listId;
  const onList =
    of.listId === null
      ? ''
      : ' AND EXISTS (SELECT 1 FROM list_member m WHERE m.list_id = $listId AND m.contact_id = cn.contact_id)';
  return r.all(
    `SELECT cn.contact_id AS "contactId", c.first_name AS "firstName", c.last_name AS "lastName", cn.e164, c.email
     FROM contact_number cn JOIN contact c ON c.id = cn.contact_id
     WHERE cn.business_id = $businessId AND cn.e164 > $after AND cn.preferred AND ${isThere(hidden)}${onList} AND (${like.join(' OR ')})
     ORDER BY cn.e164 LIMIT $limit`,
    binds,
  );
}
