import { jsonRows, type Flag, type Reader } from '../../platform/db.js';
import {
  conditions,
  FACET_NAMES,
  found,
  hiddenIntakes,
  isThere,
  MEMBERSHIPS,
  onAny,
  REPLIED,
  repliedBinds,
  valuesOf,
  wordCondition,
  wordsOf,
  type ContactFilter,
  type Facet,
} from './filter-store.js';

/** Contacts whose preferred numbers stand alike, and how many they are. */
export type CountedClass = Record<Facet, string> & { faultsInReview: boolean; lookedUp: boolean; n: number };
type Row = Omit<CountedClass, 'faultsInReview' | 'lookedUp' | 'replied'> & {
  replied?: string;
  faults: Flag;
  looked: Flag;
};
const classOf = ({ faults, looked, ...x }: Row): CountedClass => ({
  replied: 'never',
  ...x,
  faultsInReview: Boolean(faults),
  lookedUp: Boolean(looked),
});
const BY =
  'cn.textable, cn.line_type AS line, cn.consent_conversational AS conversational, cn.consent_informational AS informational, cn.consent_promotional AS promotional, cn.country, cn.trouble, cn.faults_in_review AS faults, cn.looked_up_at IS NOT NULL AS looked';

/**
 * All contacts of a business by how they stand; kept as they change, so that nothing is scanned. It does not tell when
 * they last wrote: {@link repliedClasses} does.
 */
export async function countedClasses(r: Reader, businessId: string): Promise<CountedClass[]> {
  const hidden = await hiddenIntakes(r, businessId);
  const rows = await r.all<Row>(
    `SELECT textable, line_type AS line, conversational, informational, promotional, country, trouble, faults_in_review AS faults, looked_up AS looked, n FROM contact_count WHERE business_id = $1 AND preferred AND n > 0${hidden.length === 0 ? '' : ` AND staged_no NOT IN (${hidden.join(', ')})`}`,
    [businessId],
  );
  return rows.map(classOf);
}

/** The same, and when they last wrote or called: those who did are few, and are gone through. */
export async function repliedClasses(r: Reader, businessId: string, now: number): Promise<CountedClass[]> {
  const hidden = await hiddenIntakes(r, businessId);
  const replied = (
    await r.all<Row>(
      `SELECT ${BY}, ${REPLIED} AS replied, count(*) AS n FROM contact_number cn INDEXED BY contact_number_replied
       WHERE cn.business_id = $businessId AND cn.last_reply_at IS NOT NULL AND cn.preferred AND ${isThere(hidden)} GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9, 10`,
      { businessId, ...repliedBinds(now) },
    )
  ).map(classOf);
  const keyOf = (c: CountedClass): string =>
    [...FACET_NAMES.filter((x) => x !== 'replied').map((x) => c[x]), c.faultsInReview, c.lookedUp].join('|');
  const heard = new Map<string, number>();
  for (const c of replied) heard.set(keyOf(c), (heard.get(keyOf(c)) ?? 0) + c.n);
  const silent = (await countedClasses(r, businessId)).map((c) => ({ ...c, n: c.n - (heard.get(keyOf(c)) ?? 0) }));
  return [...silent.filter((c) => c.n > 0), ...replied];
}

/** Those a filter leaves, by how they stand; gone through where it has words, lists or the nameless in it. */
export async function classesOf(r: Reader, businessId: string, f: ContactFilter, now: number): Promise<CountedClass[]> {
  if (isCounted(f)) return repliedClasses(r, businessId, now);
  const words = wordsOf(f);
  const hidden = await hiddenIntakes(r, businessId);
  const binds: Record<string, unknown> = { businessId, ...repliedBinds(now) };
  const parts = [
    'cn.business_id = $businessId',
    ...conditions(f.named ? { named: f.named } : {}, binds, { now, hidden }),
  ];
  let from = f.named ? 'contact_number cn INDEXED BY contact_number_order' : 'contact_number cn';
  let walked: string | null = null;
  if (words) {
    binds['needle'] = words.needle;
    parts.push(wordCondition(words));
    if (words.trigrams) {
      const { id, where, value } = found(r, words, words.trigrams);
      binds['found'] = value;
      from = `contact_search s CROSS JOIN contact_number cn ON cn.id = ${id}`;
      parts.push(where);
      walked = 'words';
    }
  }
  for (const of of MEMBERSHIPS) {
    const ids = valuesOf(f[of]);
    if (ids.length === 0) continue;
    binds[of] = jsonRows(ids);
    if (walked !== null) parts.push(onAny(of));
    else {
      walked = of;
      // Who is on several of them is one contact.
      const members = ids.length === 1 ? 'SELECT m.contact_id' : 'SELECT DISTINCT m.contact_id';
      from = `(${members} FROM list_member m WHERE m.list_id IN (SELECT value FROM jsonb_each($${of}))) AS lm CROSS JOIN contact_number cn ON cn.contact_id = lm.contact_id`;
    }
  }
  const rows = await r.all<Row>(
    `SELECT ${BY}, ${REPLIED} AS replied, count(*) AS n FROM ${from} WHERE ${parts.join(' AND ')} GROUP BY 1, 2, 3, 4, 5, 6, 7, 8, 9, 10`,
    binds,
  );
  return rows.map(classOf);
}

/** How many of these a filter leaves; a facet named by `except` is left out. */
export function sum(classes: readonly CountedClass[], f: ContactFilter, except?: Facet): number {
  return classes.filter((c) => matches(c, f, except)).reduce((n, c) => n + c.n, 0);
}

/** How many of these each value of a facet has, most first, where its own filter is left out. */
export function facet(classes: readonly CountedClass[], f: ContactFilter, own: Facet): Record<string, number> {
  const counts = new Map<string, number>();
  for (const c of classes) if (c.n > 0 && matches(c, f, own)) counts.set(c[own], (counts.get(c[own]) ?? 0) + c.n);
  return Object.fromEntries([...counts].sort((a, b) => b[1] - a[1]));
}

export function matches(c: CountedClass, f: ContactFilter, except?: Facet): boolean {
  if (f.faults && !c.faultsInReview) return false;
  return FACET_NAMES.every((x) => x === except || !f[x] || valuesOf(f[x]).includes(c[x]));
}

/** Whether counting what a filter leaves is a matter of adding up what is counted already. */
export function isCounted(f: ContactFilter): boolean {
  return !f.list && !f.tag && !f.named && wordsOf(f) === null;
}
