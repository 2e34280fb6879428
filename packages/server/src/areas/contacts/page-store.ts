import { z } from 'zod';
import type { ContactSort } from '@long-gate/contracts';
import { jsonRows, manyRows, type Flag, type Reader } from '../../platform/db.js';
import { contactListTable } from './model.js';

/** What a list of contacts is narrowed to; several values of one facet are joined by commas. */
export interface ContactFilter {
  q?: string;
  textable?: string;
  list?: string;
  informational?: string;
  promotional?: string;
  /** `yes`: only those held after three faults. */
  faults?: string;
  /** What it is sorted by, a minus before it for the other way round; by name where it does not say. */
  sort?: ContactSort;
}
/** A place in the list: what it is sorted by, of one contact number. */
export type Place = readonly (string | number)[];

/** A contact number on a page of the list, and its place there. */
export interface FoundNumber {
  id: number;
  contactId: string;
  place: Place;
}

const FACETS = { textable: 'textable', informational: 'consent_informational', promotional: 'consent_promotional' };
type Facet = keyof typeof FACETS;
const FACET_NAMES = Object.keys(FACETS) as Facet[];
/** By name, with what tells apart those of one name: the order that each facet has an index in. */
const NAMED = ['sort_name', 'contact_id', 'id'] as const;
type Sorted = Exclude<ContactSort, `-${string}`>;
const ORDERS: Record<Sorted, { columns: readonly string[]; index: string }> = {
  contact: { columns: NAMED, index: 'contact_number_order' },
  number: { columns: ['e164'], index: 'contact_number_once' },
  line: { columns: ['textable', ...NAMED], index: 'contact_number_by_textable' },
  informational: {
    columns: ['consent_informational', ...NAMED],
    index: 'contact_number_by_consent_informational',
  },
  promotional: { columns: ['consent_promotional', ...NAMED], index: 'contact_number_by_consent_promotional' },
};

/** What a list is sorted by, as its statements need it. */
interface Order {
  by: Sorted;
  columns: readonly string[];
  index: string;
  down: boolean;
}

function orderOf(f: ContactFilter): Order {
  const down = f.sort?.startsWith('-') ?? false;
  const by = (f.sort?.replace('-', '') ?? 'contact') as Sorted;
  return { by, down, ...ORDERS[by] };
}

/** What a cursor of a list in this order holds. */
export function placeShape(f: ContactFilter): z.ZodType<Place> {
  const [first, ...rest] = orderOf(f).columns.map((c) => (c === 'id' ? z.number().int() : z.string()));
  return z.tuple([first ?? z.string(), ...rest]);
}

/** About so many are wanted at once. */
const PAGE = 100;
/** Up to so many matches of a search are sorted; with more, the list is walked in its order until a page is full. */
const SORTED_MATCHES = 200_000;

interface Words {
  /** Looked for in the row itself. */
  needle: string;
  digits: boolean;
  /** The trigrams a match has, or null where the words are too short for any. */
  trigrams: readonly string[] | null;
}

function wordsOf(f: ContactFilter): Words | null {
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

/**
 * The contact numbers that may hold the words, by the trigram index; what it finds is looked at again in the row.
 * SQLite's index knows of each row which trigrams it has, PostgreSQL's (pg_trgm) serves `LIKE` over the words.
 */
function found(r: Reader, w: Words, trigrams: readonly string[]): { id: string; where: string; value: string } {
  return r.dialect === 'sqlite'
    ? {
        id: 's.rowid',
        where: 's.contact_search MATCH $found',
        value: trigrams.map((g) => `"${g.replaceAll('"', '""')}"`).join(' AND '),
      }
    : { id: 's.id', where: 's.words LIKE $found', value: `%${w.needle.replace(/[\\%_]/g, '\\$&')}%` };
}

/** The conditions on the contact number itself; a facet named by `except` is left out. */
function conditions(f: ContactFilter, bind: Record<string, unknown>, except?: Facet): string[] {
  const parts: string[] = [];
  for (const facet of FACET_NAMES) {
    const values = f[facet];
    if (!values || facet === except) continue;
    bind[facet] = jsonRows(values.split(','));
    parts.push(`cn.${FACETS[facet]} IN (SELECT value FROM jsonb_each($${facet}))`);
  }
  if (f.faults) parts.push('cn.faults_in_review');
  return parts;
}

function wordCondition(w: Words): string {
  return w.digits
    ? 'instr(cn.e164, $needle) > 0'
    : `(instr(cn.sort_name, $needle) > 0 OR EXISTS (SELECT 1 FROM contact c WHERE c.id = cn.contact_id AND (instr(lower(c.first_name || ' ' || c.last_name), $needle) > 0 OR instr(lower(c.email), $needle) > 0)))`;
}

/** That a contact number `cn` of a business is among those a filter leaves, for statements that take no page of them. */
export function among(r: Reader, f: ContactFilter, bind: Record<string, unknown>): string {
  const parts = conditions(f, bind);
  const words = wordsOf(f);
  if (words) {
    bind['needle'] = words.needle;
    parts.push(wordCondition(words));
    if (words.trigrams) {
      const { id, where, value } = found(r, words, words.trigrams);
      bind['found'] = value;
      parts.push(`cn.id IN (SELECT ${id} FROM contact_search s WHERE ${where})`);
    }
  }
  if (f.list) {
    bind['list'] = f.list;
    parts.push(ON_LIST);
  }
  return parts.join(' AND ');
}

const ON_LIST = 'EXISTS (SELECT 1 FROM list_member m WHERE m.list_id = $list AND m.contact_id = cn.contact_id)';

/**
 * One page of contact numbers in the order asked for: walked by an index in that order, or by the index of whatever
 * narrows most where that costs less, so that a page costs the same in a list of ten and of a million, at its beginning
 * and at its end.
 * @param after the place after which it begins; null for the first page.
 */
export async function pageOfNumbers(
  r: Reader,
  businessId: string,
  f: ContactFilter,
  after: Place | null,
  limit: number,
): Promise<FoundNumber[]> {
  const order = orderOf(f);
  const bind: Record<string, unknown> = { businessId, limit };
  const parts = ['cn.business_id = $businessId', ...conditions(f, bind)];
  if (after) {
    for (const [i, value] of after.entries()) bind[`at${i}`] = value;
    parts.push(beyond('cn', order.columns, order));
  }
  const words = wordsOf(f);
  if (words) {
    bind['needle'] = words.needle;
    parts.push(wordCondition(words));
  }
  if (f.list) bind['list'] = f.list;
  const searched = await foundBy(r, words, bind);
  const way: Way = searched ? { along: searched } : await wayOf(r, businessId, f, order);
  const ask = async (along: Along, more: readonly string[] = []): Promise<FoundNumber[]> => {
    const columns = [...new Set(['id', 'contact_id', ...order.columns])];
    const rows = await manyRows<Record<string, string | number>>(
      r,
      columns,
      `FROM (${walk(along, f, order, [...parts, ...more], bind, after !== null)}) AS page ${sorted('', order.columns, order)} LIMIT $limit`,
      bind,
    );
    return rows.map((x) => ({
      id: Number(x['id']),
      contactId: String(x['contact_id']),
      place: order.columns.map((c) => x[c] ?? ''),
    }));
  };
  if (!way.given) return ask(way.along);
  const end = await placeAfter(r, businessId, order, after, way.given.rows);
  if (end) for (const [i, value] of end.entries()) bind[`end${i}`] = value;
  const page = await ask(way.along, end ? [within(order)] : []);
  // Those that match lie together somewhere behind: they are sorted instead.
  return end === null || page.length === limit ? page : ask(way.given.orElse);
}

/** That these columns lie beyond the place of `$at0`, `$at1`, … in that order. */
const beyond = (table: string, columns: readonly string[], { down }: Order): string =>
  `(${columns.map((c) => `${table}.${c}`).join(', ')}) ${down ? '<' : '>'} (${columns.map((_, i) => `$at${i}`).join(', ')})`;
const sorted = (table: string, columns: readonly string[], { down }: Order): string =>
  `ORDER BY ${columns.map((c) => `${table}${c}${down ? ' DESC' : ''}`).join(', ')}`;

/** What is walked: an index in the order asked for, that of one filter, or what a search found, as a clause. */
type Along = Facet | 'list' | 'faults' | 'all' | { from: string; where: string };
/** How a page is found: what is walked, and what instead once so many rows had no full page. */
interface Way {
  along: Along;
  given?: { rows: number; orElse: Along };
}

/** The statement of one page along what is walked. @param goesOn a page that is not the first. */
function walk(
  along: Along,
  f: ContactFilter,
  order: Order,
  parts: readonly string[],
  bind: Record<string, unknown>,
  goesOn: boolean,
): string {
  const select = `SELECT ${[...new Set(['id', 'contact_id', ...order.columns])].map((c) => `cn.${c}`).join(', ')}`;
  const end = `${sorted('', order.columns, order)} LIMIT $limit`;
  const where = [...parts, ...(f.list ? [ON_LIST] : [])].join(' AND ');
  if (typeof along === 'object') return `${select} FROM ${along.from} WHERE ${along.where} AND ${where} ${end}`;
  if (along === 'list') {
    const from = `FROM list_member m CROSS JOIN contact_number cn INDEXED BY contact_number_contact ON cn.contact_id = m.contact_id WHERE m.list_id = $list AND ${parts.join(' AND ')}`;
    if (order.by !== 'contact') return `${select} ${from} ${sorted('cn.', order.columns, order)} LIMIT $limit`;
    // The list has an index in the order of names.
    const names = NAMED.slice(0, 2);
    const later = goesOn ? `AND ${beyond('m', names, order).replace(/ ([<>]) /, ' $1= ')}` : '';
    return `${select} ${from} ${later} ${sorted('m.', names, order)}, cn.id${order.down ? ' DESC' : ''} LIMIT $limit`;
  }
  if (along === 'faults')
    return `${select} FROM contact_number cn INDEXED BY contact_number_faults WHERE ${where} ${end}`;
  if (along === 'all') return `${select} FROM contact_number cn INDEXED BY ${order.index} WHERE ${where} ${end}`;
  // Each value has its own stretch of the index; they are merged in order.
  const values = (f[along] ?? '').split(',');
  return `${values
    .map((value, i) => {
      bind[`value${i}`] = value;
      return `${select} FROM contact_number cn INDEXED BY contact_number_by_${FACETS[along]} WHERE cn.${FACETS[along]} = $value${i} AND ${where}`;
    })
    .join(' UNION ALL ')} ${end}`;
}

/** What a search walks where so few rows hold its trigrams that they are sorted; null where the list is walked. */
async function foundBy(
  r: Reader,
  words: Words | null,
  bind: Record<string, unknown>,
): Promise<{ from: string; where: string } | null> {
  if (!words?.trigrams) return null;
  const { id, where, value } = found(r, words, words.trigrams);
  if (!(await areFew(r, words, words.trigrams))) return null;
  bind['found'] = value;
  return { from: `contact_search s CROSS JOIN contact_number cn ON cn.id = ${id}`, where };
}

/** That a row lies up to the place of `$end0`, `$end1`, … in its order. */
const within = ({ columns, down }: Order): string =>
  `(${columns.map((c) => `cn.${c}`).join(', ')}) ${down ? '>=' : '<='} (${columns.map((_, i) => `$end${i}`).join(', ')})`;

/** The place so many rows after another in the order of all, by its index alone; null where there are fewer. */
async function placeAfter(
  r: Reader,
  businessId: string,
  order: Order,
  after: Place | null,
  rows: number,
): Promise<Place | null> {
  const bind: Record<string, unknown> = { businessId, rows };
  for (const [i, value] of (after ?? []).entries()) bind[`at${i}`] = value;
  const row = await r.one<Record<string, string | number>>(
    `SELECT ${order.columns.map((c) => `cn.${c}`).join(', ')} FROM contact_number cn INDEXED BY ${order.index} WHERE cn.business_id = $businessId${after ? ` AND ${beyond('cn', order.columns, order)}` : ''} ${sorted('cn.', order.columns, order)} LIMIT 1 OFFSET $rows`,
    bind,
  );
  return row ? order.columns.map((c) => row[c] ?? '') : null;
}

/**
 * What to walk: the filter that leaves the fewest, by what is counted already; all, in the order asked for, where no
 * filter has an index in it and a page is full sooner than those of the filter are sorted. That is given up after the
 * rows it was reckoned to take.
 */
async function wayOf(r: Reader, businessId: string, f: ContactFilter, order: Order): Promise<Way> {
  if (f.faults) return { along: 'faults' };
  const filtered = FACET_NAMES.filter((x) => f[x]);
  if (filtered.length === 0 && !f.list) return { along: 'all' };
  const classes = await countedClasses(r, businessId);
  const sizes: [Facet | 'list', number][] = filtered.map((facet) => [facet, sum(classes, { [facet]: f[facet] })]);
  const everybody = sum(classes, {});
  let matching = sum(classes, f);
  if (f.list) {
    const list = await r.of(contactListTable).findOne({ where: { id: f.list, businessId }, raw: true });
    const members = list?.members ?? 0;
    sizes.push(['list', members]);
    matching *= members / Math.max(everybody, 1);
  }
  const [narrowest, size] = sizes.reduce((least, x) => (x[1] < least[1] ? x : least));
  if (order.by === 'contact') return { along: narrowest };
  // Where the order begins with what is filtered too, only the stretches of those values are walked in it.
  const own = sizes.find(([x]) => x !== 'list' && FACETS[x] === order.columns[0]);
  // Those that match may lie together: thrice as many are reckoned with as if they were spread.
  const rows = Math.ceil((3 * (own?.[1] ?? everybody) * PAGE) / Math.max(matching, 1));
  if (rows >= size) return { along: narrowest };
  return own ? { along: own[0] } : { along: 'all', given: { rows, orElse: narrowest } };
}

// -- counts ----------------------------------------------------------------------------------------------------------

/** Contact numbers that stand alike, and how many they are. */
export interface CountedClass {
  textable: string;
  informational: string;
  promotional: string;
  faultsInReview: boolean;
  lookedUp: boolean;
  n: number;
}

/** All contact numbers of a business by how they stand; kept as they change, so that nothing is scanned. */
export async function countedClasses(r: Reader, businessId: string): Promise<CountedClass[]> {
  const rows = await r.all<Omit<CountedClass, 'faultsInReview' | 'lookedUp'> & { faults: Flag; looked: Flag }>(
    `SELECT textable, informational, promotional, faults_in_review AS faults, looked_up AS looked, sum(n) AS n FROM contact_count WHERE business_id = $1 AND n > 0 GROUP BY 1, 2, 3, 4, 5`,
    [businessId],
  );
  return rows.map(({ faults, looked, ...x }) => ({ ...x, faultsInReview: Boolean(faults), lookedUp: Boolean(looked) }));
}

/** Those a filter without words leaves, by how they stand; a scan of the list where there is one. */
export async function classesOf(r: Reader, businessId: string, f: ContactFilter): Promise<CountedClass[]> {
  const words = wordsOf(f);
  if (!f.list && !words) return countedClasses(r, businessId);
  const bind: Record<string, unknown> = { businessId };
  const parts = ['cn.business_id = $businessId'];
  let from = 'contact_number cn';
  if (words) {
    bind['needle'] = words.needle;
    parts.push(wordCondition(words));
    if (words.trigrams) {
      const { id, where, value } = found(r, words, words.trigrams);
      bind['found'] = value;
      from = `contact_search s CROSS JOIN contact_number cn ON cn.id = ${id}`;
      parts.push(where);
    }
  }
  if (f.list) {
    bind['list'] = f.list;
    if (words) parts.push(ON_LIST);
    else {
      from = 'list_member m CROSS JOIN contact_number cn ON cn.contact_id = m.contact_id';
      parts.push('m.list_id = $list');
    }
  }
  const rows = await r.all<Omit<CountedClass, 'faultsInReview' | 'lookedUp'> & { faults: Flag }>(
    `SELECT cn.textable, cn.consent_informational AS informational, cn.consent_promotional AS promotional, cn.faults_in_review AS faults, count(*) AS n FROM ${from} WHERE ${parts.join(' AND ')} GROUP BY 1, 2, 3, 4`,
    bind,
  );
  return rows.map(({ faults, ...x }) => ({ ...x, faultsInReview: Boolean(faults), lookedUp: true }));
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

function matches(c: CountedClass, f: ContactFilter, except?: Facet): boolean {
  if (f.faults && !c.faultsInReview) return false;
  return FACET_NAMES.every((x) => x === except || !f[x] || f[x].split(',').includes(c[x]));
}

/** Whether counting what a filter leaves is a matter of adding up what is counted already. */
export function isCounted(f: ContactFilter): boolean {
  return !f.list && wordsOf(f) === null;
}

/** Whether so few rows hold these trigrams that they are sorted, rather than the whole list walked in its order. */
async function areFew(r: Reader, words: Words, trigrams: readonly string[]): Promise<boolean> {
  const { where, value } = found(r, words, trigrams);
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM (SELECT 1 FROM contact_search s WHERE ${where} LIMIT ${SORTED_MATCHES}) AS few`,
    { found: value },
  );
  return (row?.n ?? 0) < SORTED_MATCHES;
}
