import { z } from 'zod';
import type { ContactSort } from '@long-gate/contracts';
import { jsonRows, manyRows, type Reader } from '../../platform/db.js';
import { countedClasses, matches, repliedClasses, sum } from './class-store.js';
import {
  conditions,
  FACETS,
  found,
  hiddenIntakes,
  MEMBERSHIPS,
  onAny,
  valuesOf,
  wordCondition,
  wordsOf,
  type ColumnFacet,
  type ContactFilter,
  type Membership,
  type Words,
} from './filter-store.js';
import { contactListTable } from './model.js';

/** A place in the list: what it is sorted by, of one contact number. */
export type Place = readonly (string | number)[];

/** A contact number on a page of the list, and its place there. */
export interface FoundNumber {
  id: number;
  contactId: string;
  place: Place;
}

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
/** So few are sorted without a thought. */
const FEW_MATCHES = 5_000;
/** Those that match may lie together: what a name holds does, in the order of names. */
const SEARCH_TIMES = 4;
const FILTER_TIMES = 1.5;
/** A row walked in the order of the list is looked for words in three columns, and its contact read. */
const WALKED_AS = 4;

/** Facets with an index in the order of names; one over the few that stand apart does not hold what most are. */
const INDEXED: { facet: ColumnFacet; most?: string }[] = [
  { facet: 'textable' },
  { facet: 'informational' },
  { facet: 'promotional' },
  { facet: 'conversational', most: 'none' },
  { facet: 'country', most: 'US' },
  { facet: 'trouble', most: 'none' },
];
/** So many stretches of an index are merged at most. */
const STRETCHES = 12;

/**
 * One page of contacts, each by its preferred number, in the order asked for: walked by an index in that order, or by
 * the index of whatever narrows most where that costs less, so that a page costs the same in a list of ten and of a
 * million, at its beginning and at its end.
 * @param after the place after which it begins; null for the first page.
 */
export async function pageOfNumbers(
  r: Reader,
  businessId: string,
  f: ContactFilter,
  after: Place | null,
  limit: number,
  now: number,
): Promise<FoundNumber[]> {
  const order = orderOf(f);
  const bind: Record<string, unknown> = { businessId, limit };
  const hidden = await hiddenIntakes(r, businessId);
  const parts = ['cn.business_id = $businessId', ...conditions(f, bind, { now, hidden })];
  if (after) {
    for (const [i, value] of after.entries()) bind[`at${i}`] = value;
    parts.push(beyond('cn', order.columns, order));
  }
  const words = wordsOf(f);
  if (words) bind['needle'] = words.needle;
  for (const of of MEMBERSHIPS) if (f[of]) bind[of] = jsonRows(valuesOf(f[of]));
  const searched = await foundBy(r, words, bind);
  const way: Way = searched ? await wayOfSearch(r, businessId, f, searched) : await wayOf(r, businessId, f, order, now);
  if (way.along === 'nobody') return [];
  const ask = async (along: Along, more: readonly string[] = []): Promise<FoundNumber[]> => {
    // What the index finds of three letters is what is looked for; of more it may be spread over the row.
    const exact = along === searched?.along && words?.trigrams?.length === 1 && !words.digits;
    const all = [...parts, ...(words && !exact ? [wordCondition(words)] : []), ...more];
    const columns = [...new Set(['id', 'contact_id', ...order.columns])];
    const rows = await manyRows<Record<string, string | number>>(
      r,
      columns,
      `FROM (${walk(along, f, order, all, bind, after !== null)}) AS page ${sorted('', order.columns, order)} LIMIT $limit`,
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

/** Stretches of the index of one facet, one for each of these values. */
interface Stretches {
  facet: ColumnFacet;
  values: readonly string[];
  most?: string;
}
/** What is walked: an index in the order asked for, that of one filter, or what a search found, as a clause. */
type Along =
  | Stretches
  | { members: Membership; id: string }
  | 'faults'
  | 'replied'
  | 'all'
  | 'nobody'
  | { from: string; where: string };
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
  const member = typeof along === 'object' && 'members' in along ? along : null;
  const where = [...parts, ...MEMBERSHIPS.filter((of) => f[of] && of !== member?.members).map(onAny)].join(' AND ');
  if (typeof along === 'object' && 'from' in along)
    return `${select} FROM ${along.from} WHERE ${along.where} AND ${where} ${end}`;
  if (member) {
    bind['walked'] = member.id;
    const from = `FROM list_member m CROSS JOIN contact_number cn INDEXED BY contact_number_contact ON cn.contact_id = m.contact_id WHERE m.list_id = $walked AND ${where}`;
    if (order.by !== 'contact') return `${select} ${from} ${sorted('cn.', order.columns, order)} LIMIT $limit`;
    // The list has an index in the order of names.
    const names = NAMED.slice(0, 2);
    const later = goesOn ? `AND ${beyond('m', names, order).replace(/ ([<>]) /, ' $1= ')}` : '';
    return `${select} ${from} ${later} ${sorted('m.', names, order)}, cn.id${order.down ? ' DESC' : ''} LIMIT $limit`;
  }
  if (along === 'faults')
    return `${select} FROM contact_number cn INDEXED BY contact_number_faults WHERE ${where} ${end}`;
  if (along === 'replied')
    return `${select} FROM contact_number cn INDEXED BY contact_number_replied WHERE cn.last_reply_at IS NOT NULL AND ${where} ${end}`;
  if (typeof along !== 'object' || !('facet' in along))
    return `${select} FROM contact_number cn INDEXED BY ${order.index} WHERE ${where} ${end}`;
  // Each value has its own stretch of the index; they are merged in order.
  const column = `cn.${FACETS[along.facet]}`;
  const apart = along.most === undefined ? '' : ` AND ${column} <> '${along.most}'`;
  return `${along.values
    .map((value, i) => {
      bind[`value${i}`] = value;
      return `${select} FROM contact_number cn INDEXED BY contact_number_by_${FACETS[along.facet]} WHERE ${column} = $value${i}${apart} AND ${where}`;
    })
    .join(' UNION ALL ')} ${end}`;
}

/** What a search walks, and how many rows hold its trigrams; null where they are too many to be sorted. */
interface Searched {
  along: { from: string; where: string };
  matches: number;
}
async function foundBy(r: Reader, words: Words | null, bind: Record<string, unknown>): Promise<Searched | null> {
  if (!words?.trigrams) return null;
  const { id, where, value } = found(r, words, words.trigrams);
  const matches = await countFound(r, where, value);
  if (matches >= SORTED_MATCHES) return null;
  bind['found'] = value;
  return { along: { from: `contact_search s CROSS JOIN contact_number cn ON cn.id = ${id}`, where }, matches };
}

/**
 * What a search finds is sorted, unless it is so much that a page is full sooner by walking the list in its order: of
 * what the rest of the filter leaves as large a part is reckoned with as of everybody.
 */
async function wayOfSearch(r: Reader, businessId: string, f: ContactFilter, s: Searched): Promise<Way> {
  if (s.matches < FEW_MATCHES) return { along: s.along };
  const classes = await countedClasses(r, businessId);
  const everybody = sum(classes, {});
  const { list: _, tag: __, q: ___, ...rest } = f;
  const matching = (s.matches / Math.max(everybody, 1)) * sum(classes, rest);
  const rows = reckoned(everybody, matching, SEARCH_TIMES);
  return rows * WALKED_AS < s.matches ? { along: 'all', given: { rows, orElse: s.along } } : { along: s.along };
}

/** How many rows are walked in their order until a page of those that match is full, so many times over. */
const reckoned = (walked: number, matching: number, times: number): number =>
  Math.ceil((times * walked * PAGE) / Math.max(matching, 1));

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
 * What to walk: of the indexes that hold all a filter leaves, by what is counted already, the one with the fewest in it;
 * all, in the order asked for, where no filter has an index in it and a page is full sooner than those of the filter are
 * sorted. That is given up after the rows it was reckoned to take.
 */
async function wayOf(r: Reader, businessId: string, f: ContactFilter, order: Order, now: number): Promise<Way> {
  if (f.faults) return { along: 'faults' };
  const classes = await (f.replied ? repliedClasses(r, businessId, now) : countedClasses(r, businessId));
  const left = classes.filter((c) => matches(c, f));
  const everybody = sum(classes, {});
  let matching = sum(left, {});
  // Words and lists narrow it further; where the rest leaves nobody there is nothing to walk.
  if (matching === 0) return { along: 'nobody' };
  const ways: { along: Along; size: number }[] = [{ along: 'all', size: everybody }];
  for (const { facet, most } of INDEXED) {
    const values = [...new Set(left.map((c) => c[facet]))];
    if (values.length > STRETCHES || (most !== undefined && values.includes(most))) continue;
    const size = classes.filter((c) => values.includes(c[facet])).reduce((n, c) => n + c.n, 0);
    if (size < everybody) ways.push({ along: { facet, values, ...(most === undefined ? {} : { most }) }, size });
  }
  if (f.replied && !valuesOf(f.replied).includes('never'))
    ways.push({ along: 'replied', size: classes.filter((c) => c.replied !== 'never').reduce((n, c) => n + c.n, 0) });
  for (const of of MEMBERSHIPS) {
    const ids = valuesOf(f[of]);
    if (ids.length === 0) continue;
    const lists = await r.of(contactListTable).findAll({ where: { id: ids, businessId }, raw: true });
    const members = Math.min(
      lists.reduce((n, l) => n + l.members, 0),
      everybody,
    );
    const from = `(SELECT DISTINCT m.contact_id FROM list_member m WHERE m.list_id IN (SELECT value FROM jsonb_each($${of}))) AS lm CROSS JOIN contact_number cn ON cn.contact_id = lm.contact_id`;
    ways.push({ along: ids.length === 1 ? { members: of, id: ids[0] ?? '' } : { from, where: 'TRUE' }, size: members });
    matching *= members / Math.max(everybody, 1);
  }
  const narrowest = ways.reduce((least, x) => (x.size < least.size ? x : least));
  const inOrder = (along: Along): boolean =>
    along === 'all' || (order.by === 'contact' ? !(typeof along === 'object' && 'from' in along) : isOwn(along, order));
  if (inOrder(narrowest.along)) return { along: narrowest.along };
  // Where the order begins with what is filtered too, only the stretches of those values are walked in it.
  const own = ways.find((x) => isOwn(x.along, order));
  const rows = reckoned(own?.size ?? everybody, matching, FILTER_TIMES);
  if (rows >= narrowest.size) return { along: narrowest.along };
  return own ? { along: own.along } : { along: 'all', given: { rows, orElse: narrowest.along } };
}

const isOwn = (along: Along, order: Order): boolean =>
  typeof along === 'object' && 'facet' in along && FACETS[along.facet] === order.columns[0];

/** How many rows hold what is looked for; counted no further than to where they are too many to be sorted. */
async function countFound(r: Reader, where: string, value: string): Promise<number> {
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM (SELECT 1 FROM contact_search s WHERE ${where} LIMIT ${SORTED_MATCHES}) AS few`,
    { found: value },
  );
  return row?.n ?? 0;
}
