import type { ContactSort } from '@long-gate/contracts';
import { jsonRows, type Reader } from '../../platform/db.js';

const DAY_MS = 86_400_000;

/** What a list of contacts is narrowed to; several values of one facet are joined by commas. */
export interface ContactFilter {
  q?: string;
  textable?: string;
  line?: string;
  conversational?: string;
  informational?: string;
  promotional?: string;
  country?: string;
  trouble?: string;
  /** When they last wrote or called: `week`, `month`, `earlier`, `never`. */
  replied?: string;
  /** On any of these lists. */
  list?: string;
  /** With any of these tags. */
  tag?: string;
  /** `yes`: only those held after three faults. */
  faults?: string;
  /** `no`: only those without a name. */
  named?: string;
  /** What it is sorted by, a minus before it for the other way round; by name where it does not say. */
  sort?: ContactSort;
}

/** What stands in a column of the contact number, by facet. */
export const FACETS = {
  textable: 'textable',
  line: 'line_type',
  conversational: 'consent_conversational',
  informational: 'consent_informational',
  promotional: 'consent_promotional',
  country: 'country',
  trouble: 'trouble',
};
export type ColumnFacet = keyof typeof FACETS;
export type Facet = ColumnFacet | 'replied';
export const COLUMN_FACETS = Object.keys(FACETS) as ColumnFacet[];
export const FACET_NAMES: readonly Facet[] = [...COLUMN_FACETS, 'replied'];

/** Lists and tags are both memberships; who is on any of one kind's and any of the other's is meant. */
export const MEMBERSHIPS = ['list', 'tag'] as const;
export type Membership = (typeof MEMBERSHIPS)[number];

export const valuesOf = (joined: string | undefined): string[] => (joined ? joined.split(',') : []);

/** When somebody last wrote or called, in the words of the facet. Binds `$week` and `$month`. */
export const REPLIED = `CASE WHEN cn.last_reply_at IS NULL THEN 'never' WHEN cn.last_reply_at > $week THEN 'week' WHEN cn.last_reply_at > $month THEN 'month' ELSE 'earlier' END`;
export function repliedBinds(now: number): { week: number; month: number } {
  return { week: now - 7 * DAY_MS, month: now - 30 * DAY_MS };
}

export interface Words {
  /** Looked for in the row itself. */
  needle: string;
  digits: boolean;
  /** The trigrams a match has, or null where the words are too short for any. */
  trigrams: readonly string[] | null;
}

export function wordsOf(f: ContactFilter): Words | null {
  const q = f.q?.trim() ?? '';
  if (q === '') return null;
  const figures = q.replace(/\D/g, '');
  const digits = figures.length >= 3 && figures.length >= q.replace(/[\s().+-]/g, '').length;
  const needle = digits ? figures : q.toLowerCase();
  const letters = [...needle];
  if (letters.length < 3) return { needle, digits, trigrams: null };
  const grams = new Set(letters.slice(2).map((_, i) => letters.slice(i, i + 3).join('')));
  return { needle, digits, trigrams: [...grams] };
}

/** The figures that are looked for in numbers; empty where words are meant. */
export function figuresIn(q: string): string {
  const words = wordsOf({ q });
  return words?.digits ? words.needle : '';
}

/**
 * The contacts that may hold the words, each by its preferred number, by the trigram index; what it finds is looked at
 * again in the row. SQLite's index knows of each row which trigrams it has, PostgreSQL's (pg_trgm) serves `LIKE` over
 * the words.
 */
export function found(r: Reader, w: Words, trigrams: readonly string[]): { id: string; where: string; value: string } {
  return r.dialect === 'sqlite'
    ? {
        id: 's.rowid',
        where: 's.contact_search MATCH $found',
        value: trigrams.map((g) => `"${g.replaceAll('"', '""')}"`).join(' AND '),
      }
    : { id: 's.id', where: 's.words LIKE $found', value: `%${w.needle.replace(/[\\%_]/g, '\\$&')}%` };
}

/** How many rows hold what {@link found} looks for, of whichever business; counted no further than to `most`. */
export async function countFound(
  r: Reader,
  { where, value }: { where: string; value: string },
  most: number,
): Promise<number> {
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM (SELECT 1 FROM contact_search s WHERE ${where} LIMIT ${most}) AS few`,
    { found: value },
  );
  return row?.n ?? 0;
}

export function wordCondition(w: Words): string {
  return w.digits
    ? `(instr(cn.e164, $needle) > 0 OR EXISTS (SELECT 1 FROM contact_number o WHERE o.contact_id = cn.contact_id AND instr(o.e164, $needle) > 0) OR EXISTS (SELECT 1 FROM contact c WHERE c.id = cn.contact_id AND instr(c.own_words, $needle) > 0))`
    : `(instr(cn.sort_name, $needle) > 0 OR EXISTS (SELECT 1 FROM contact c WHERE c.id = cn.contact_id AND (instr(lower(c.first_name || ' ' || c.last_name), $needle) > 0 OR instr(lower(c.email), $needle) > 0 OR instr(lower(c.own_words), $needle) > 0)))`;
}

export const onAny = (of: Membership): string =>
  `EXISTS (SELECT 1 FROM list_member m WHERE m.list_id IN (SELECT value FROM jsonb_each($${of})) AND m.contact_id = cn.contact_id)`;

/** Those whose place among names is that of a number (`sort-name.ts`). */
const NAMELESS = `cn.sort_name >= '~+' AND cn.sort_name < '~,'`;

/** The figures of intakes that are not through yet: what they bring is not shown before it is all there. */
export async function hiddenIntakes(r: Reader, businessId: string): Promise<number[]> {
  // Asked beside every page, so a bare statement: there is hardly ever one.
  const rows = await r.all<{ no: number }>(`SELECT no FROM intake WHERE business_id = $1 AND state = 'storing'`, [
    businessId,
  ]);
  return rows.map((x) => x.no);
}
/** That a contact number `cn` is none of those that are still being brought in. */
export const isThere = (hidden: readonly number[]): string =>
  hidden.length === 0 ? 'TRUE' : `cn.staged_no NOT IN (${hidden.map(Number).join(', ')})`;

/** What a filter is read by beside itself. */
export interface AsOf {
  now: number;
  /** See {@link hiddenIntakes}. */
  hidden: readonly number[];
}

/**
 * The conditions on a contact's preferred number itself, words and memberships left out.
 * @param binds takes what the conditions bind.
 */
export function conditions(f: ContactFilter, binds: Record<string, unknown>, { now, hidden }: AsOf): string[] {
  const parts = ['cn.preferred', ...(hidden.length === 0 ? [] : [isThere(hidden)])];
  for (const facet of COLUMN_FACETS) {
    const values = f[facet];
    if (!values) continue;
    binds[facet] = jsonRows(valuesOf(values));
    parts.push(`cn.${FACETS[facet]} IN (SELECT value FROM jsonb_each($${facet}))`);
  }
  if (f.replied) {
    Object.assign(binds, repliedBinds(now), { replied: jsonRows(valuesOf(f.replied)) });
    parts.push(`${REPLIED} IN (SELECT value FROM jsonb_each($replied))`);
  }
  if (f.faults) parts.push('cn.faults_in_review');
  if (f.named) parts.push(NAMELESS);
  return parts;
}

/** Who is meant by words or a list, beside their numbers: both where both are said. */
export interface Whoever {
  q?: string;
  list?: string;
}

/**
 * All numbers of the contacts that are meant, further ones too; null where there are more than so many.
 * @param most at most so many are read.
 */
export async function numbersOfWhoever(
  r: Reader,
  businessId: string,
  f: Whoever,
  most: number,
): Promise<string[] | null> {
  const bind: Record<string, unknown> = { businessId, most: most + 1 };
  const words = wordsOf(f);
  const parts = ['cn.business_id = $businessId'];
  let from = 'contact_number cn';
  if (words) {
    bind['needle'] = words.needle;
    parts.push(wordCondition(words));
  }
  if (words?.trigrams) {
    const { id, where, value } = found(r, words, words.trigrams);
    bind['found'] = value;
    // One trigram is what is looked for: that it is too many is told without reading who they are.
    const few = f.list || words.trigrams.length > 1 || (await countFound(r, { where, value }, most + 1)) <= most;
    if (!few) return null;
    // A contact has one row there, so that it is read no further than to where they are too many.
    from = `contact_search s CROSS JOIN contact_number p ON p.id = ${id} CROSS JOIN contact_number cn ON cn.contact_id = p.contact_id`;
    parts.push(where, 'p.business_id = $businessId');
  }
  if (f.list) {
    bind['list'] = jsonRows(valuesOf(f.list));
    if (words) parts.push(onAny('list'));
    else
      from = `(SELECT DISTINCT m.contact_id FROM list_member m WHERE m.list_id IN (SELECT value FROM jsonb_each($list))) AS lm CROSS JOIN contact_number cn ON cn.contact_id = lm.contact_id`;
  }
  const rows = await r.all<{ e164: string }>(
    `SELECT cn.e164 FROM ${from} WHERE ${parts.join(' AND ')} LIMIT $most`,
    bind,
  );
  return rows.length > most ? null : rows.map((x) => x.e164);
}

/**
 * That the number in a column is one of somebody who is meant, where these are too many to be named: looked up row by row.
 * @param column of the business and number, such as `e.business_id` and `e.e164`.
 * @param bind takes what the condition binds.
 */
export function isOfWhoever(
  f: Whoever,
  column: { businessId: string; e164: string },
  bind: Record<string, unknown>,
): string {
  const words = wordsOf(f);
  const parts = [`cn.business_id = ${column.businessId}`, `cn.e164 = ${column.e164}`];
  if (words) {
    bind['needle'] = words.needle;
    parts.push(wordCondition(words));
  }
  if (f.list) {
    bind['list'] = jsonRows(valuesOf(f.list));
    parts.push(onAny('list'));
  }
  return `EXISTS (SELECT 1 FROM contact_number cn WHERE ${parts.join(' AND ')})`;
}

/** That a contact number `cn` of a business is among those a filter leaves, for statements that take no page of them. */
export function among(r: Reader, f: ContactFilter, binds: Record<string, unknown>, asOf: AsOf): string {
  const parts = conditions(f, binds, asOf);
  const words = wordsOf(f);
  if (words) {
    binds['needle'] = words.needle;
    parts.push(wordCondition(words));
    if (words.trigrams) {
      const { id, where, value } = found(r, words, words.trigrams);
      binds['found'] = value;
      parts.push(`cn.id IN (SELECT ${id} FROM contact_search s WHERE ${where})`);
    }
  }
  for (const of of MEMBERSHIPS) {
    if (!f[of]) continue;
    binds[of] = jsonRows(valuesOf(f[of]));
    parts.push(onAny(of));
  }
  return parts.join(' AND ');
}
