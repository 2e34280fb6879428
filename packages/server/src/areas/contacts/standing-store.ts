import type { Reader } from '../../platform/db.js';
import { hiddenIntakes, isThere } from './filter-store.js';
import { RELATED, subjectOf, type SubjectRow } from './subjects.js';
import type { Subject } from '@long-gate/core';

/** What the posts that ask about a person alone read of their preferred number: a word, a whole number, or yes or no. */
const COLUMNS: readonly (readonly [sql: string, name: keyof SubjectRow, kind: 'word' | 'flag' | 'whole'])[] = [
  ['cn.country', 'country', 'word'],
  ['cn.looked_up_at IS NOT NULL', 'looked_up', 'flag'],
  ['cn.textable', 'textable', 'word'],
  ['cn.reachable', 'reachable', 'flag'],
  ['cn.trouble', 'trouble', 'word'],
  ['cn.faults_in_review', 'faults_in_review', 'flag'],
  ['cn.suppression', 'suppression', 'word'],
  [RELATED, 'related', 'flag'],
  ['cn.wish_in_review', 'wish_in_review', 'flag'],
  ['cn.consent_conversational', 'consent_conversational', 'word'],
  ['cn.consent_informational', 'consent_informational', 'word'],
  ['cn.consent_promotional', 'consent_promotional', 'word'],
  ['cn.refused_elsewhere', 'refused_elsewhere', 'whole'],
  ['cn.reassignment', 'reassignment', 'word'],
];
type Row = Pick<SubjectRow, (typeof COLUMNS)[number][1]>;

/** People who stand alike in all that the posts read of them alone. */
export interface StandingClass {
  subject: Subject;
  count: number;
  /** What they have in common, by which they are found again. */
  row: Row;
}

const WORDS = COLUMNS.filter(([, , kind]) => kind === 'word');
const FLAGS = COLUMNS.filter(([, , kind]) => kind === 'flag');
const WHOLE = COLUMNS.find(([, , kind]) => kind === 'whole');
/** What the whole number counts in the figure beside the flags. */
const PLACE = 2 ** FLAGS.length;

/**
 * All of it as one text, of which no part has the sign between them: its words, and one figure for yes and no of each
 * flag and the whole number. Rows are grouped by it in half the time that grouping by fourteen columns takes.
 */
const KEY = [
  ...WORDS.map(([sql]) => sql),
  `(${[...FLAGS.map(([sql], i) => `CASE WHEN ${sql} THEN ${2 ** i} ELSE 0 END`), `${WHOLE?.[0] ?? 0} * ${PLACE}`].join(' + ')})`,
].join(` || '|' || `);
function classOf(key: string): Omit<StandingClass, 'count'> {
  const parts = key.split('|');
  const figure = Number(parts[WORDS.length]);
  const row = Object.fromEntries([
    ...WORDS.map(([, name], i) => [name, parts[i]] as const),
    ...FLAGS.map(([, name], i) => [name, (figure >> i) & 1] as const),
    ...(WHOLE ? [[WHOLE[1], Math.floor(figure / PLACE)] as const] : []),
  ]) as unknown as Row;
  return { subject: subjectOf(row), row };
}

/** How the people of a business stand: all of them, and those on each list or tag that has anybody. */
export interface Standing {
  all: StandingClass[];
  byList: Map<string, StandingClass[]>;
}

/**
 * One scan, grouped by how people stand and which lists they are on: far quicker than a second scan by list, which goes
 * to every member by itself.
 */
export async function standingOf(r: Reader, businessId: string, now: number): Promise<Standing> {
  const hidden = await hiddenIntakes(r, businessId);
  const rows = await r.all<{ key: string; lists: string | null; n: number }>(
    `SELECT ${KEY} AS key, (SELECT string_agg(m.list_id, ' ') FROM list_member m WHERE m.contact_id = cn.contact_id) AS lists, count(*) AS n
     FROM contact_number cn WHERE cn.business_id = $businessId AND cn.preferred AND ${isThere(hidden)} GROUP BY 1, 2`,
    { businessId, now },
  );
  const classes = new Map<string, Omit<StandingClass, 'count'>>();
  const all = new Map<string, number>();
  const byList = new Map<string, Map<string, number>>();
  for (const { key, lists, n } of rows) {
    if (!classes.has(key)) classes.set(key, classOf(key));
    all.set(key, (all.get(key) ?? 0) + n);
    for (const list of lists?.split(' ') ?? []) {
      const counts = byList.get(list) ?? new Map<string, number>();
      byList.set(list, counts.set(key, (counts.get(key) ?? 0) + n));
    }
  }
  const counted = (counts: ReadonlyMap<string, number>): StandingClass[] =>
    [...counts].map(([key, count]) => ({ ...(classes.get(key) ?? classOf(key)), count }));
  return { all: counted(all), byList: new Map([...byList].map(([list, counts]) => [list, counted(counts)])) };
}

/** Contacts who stand as one of these classes does, in the order of their numbers, after one of them. */
export async function peopleStanding(
  r: Reader,
  businessId: string,
  of: { classes: readonly StandingClass[]; listId: string | null; now: number; after: string; limit: number },
): Promise<{ contactId: string; firstName: string; lastName: string; e164: string; email: string }[]> {
  if (of.classes.length === 0) return [];
  const hidden = await hiddenIntakes(r, businessId);
  const binds: Record<string, unknown> = { businessId, now: of.now, after: of.after, limit: of.limit };
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
