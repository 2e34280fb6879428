import { z } from 'zod';
import type { ContactSort } from '@long-gate/contracts';
import { jsonRows, manyRows, type Reader } from '../../platform/db.js';
import { countedClasses, matches, repliedClasses, sum, type CountedClass } from './class-store.js';
import {
  conditions,
  countFound,
  FACETS,
  FACET_NAMES,
  found,
  hiddenIntakes,
  MEMBERSHIPS,
  onAny,
  valuesOf,
  wordCondition,
  wordsOf,
  type AsOf,
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
/** What decides who may be texted, as it stands in the index of all three; those that stand alike are one stretch of it. */
const STANDING = ['textable', 'informational', 'promotional'] as const;
type Standing = Record<(typeof STANDING)[number], string>;
type Sorted = Exclude<ContactSort, `-${string}`>;
/** By what a list is sorted: an index in that order, or one of those that decide, and names. */
const ORDERS: Record<Sorted, { columns: readonly string[]; index: string } | { first: keyof Standing }> = {
  contact: { columns: NAMED, index: 'contact_number_order' },
  number: { columns: ['e164'], index: 'contact_number_once' },
  line: { first: 'textable' },
  informational: { first: 'informational' },
  promotional: { first: 'promotional' },
};

/** What a list is sorted by, as its statements need it. */
interface Order {
  by: Sorted;
  columns: readonly string[];
  down: boolean;
}

function orderOf(f: ContactFilter): Order {
  const down = f.sort?.startsWith('-') ?? false;
  const by = (f.sort?.replace('-', '') ?? 'contact') as Sorted;
  const of = ORDERS[by];
  return { by, down, columns: 'first' in of ? [FACETS[of.first], ...NAMED] : of.columns };
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

/** Facets with an index in the order of names over the few that stand apart; it does not hold what most are. */
const INDEXED: { facet: ColumnFacet; most: string }[] = [
  { facet: 'conversational', most: 'none' },
  { facet: 'country', most: 'US' },
  { facet: 'trouble', most: 'none' },
];
/** Those who ever wrote or called. */
const EVER_REPLIED = {
  from: 'contact_number cn INDEXED BY contact_number_replied',
  where: 'cn.last_reply_at IS NOT NULL',
};
/** So many stretches of such an index are merged at most. */
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
  const words = wordsOf(f);
  const parts = [BUSINESS, ...conditions(f, bind, { now, hidden })];
  if (words) bind['needle'] = words.needle;
  for (const of of MEMBERSHIPS) if (f[of]) bind[of] = jsonRows(valuesOf(f[of]));
  const searched = await foundBy(r, words, bind);
  const way = searched
    ? await wayOfSearch(r, businessId, f, order, searched)
    : await wayOf(r, businessId, f, order, { now, hidden });
  const read = async (along: Along, between: Between): Promise<FoundNumber[]> => {
    // What the index finds of three letters is what is looked for; of more it may be spread over the row.
    const exact = along === searched?.along && words?.trigrams?.length === 1 && !words.digits;
    const all = [...parts, ...(words && !exact ? [wordCondition(words)] : [])];
    const text = walk(along, f, order, all, between, bind);
    if (text === null) return [];
    const rows = await manyRows<Record<string, string | number>>(
      r,
      [...new Set(['id', 'contact_id', ...order.columns])],
      `FROM (${text} LIMIT $limit) AS page ${sorted('', order.columns, order)} LIMIT $limit`,
      bind,
    );
    return rows.map((x) => ({
      id: Number(x['id']),
      contactId: String(x['contact_id']),
      place: order.columns.map((c) => x[c] ?? ''),
    }));
  };
  if (!way.given) return read(way.along, { after, upTo: null });
  const upTo = await placeAfter(r, businessId, way.along, order, after, way.given.rows);
  const page = await read(way.along, { after, upTo });
  // Those that match lie together somewhere behind: they are sorted instead.
  return upTo === null || page.length === limit ? page : read(way.given.orElse, { after, upTo: null });
}

const BUSINESS = 'cn.business_id = $businessId';

/** Which part of a list is meant: what comes after one place, up to another; null where it has no such end. */
interface Between {
  after: Place | null;
  upTo: Place | null;
}
const ENDS = ['after', 'upTo'] as const;

/** That these columns lie between two places. @param bind takes the places. */
function lies(
  table: string,
  columns: readonly string[],
  between: Between,
  { down }: Order,
  bind: Record<string, unknown>,
): string[] {
  return ENDS.flatMap((end) => {
    const place = between[end];
    if (place === null) return [];
    for (const [i, value] of place.entries()) bind[`${end}${i}`] = value;
    const sign = end === 'after' ? (down ? '<' : '>') : down ? '>=' : '<=';
    return [
      `(${columns.map((c) => `${table}.${c}`).join(', ')}) ${sign} (${columns.map((_, i) => `$${end}${i}`).join(', ')})`,
    ];
  });
}
const sorted = (table: string, columns: readonly string[], { down }: Order): string =>
  `ORDER BY ${columns.map((c) => `${table}${c}${down ? ' DESC' : ''}`).join(', ')}`;

/** What is walked: an index in the order asked for, that of one filter, or what a search found, as a clause. */
type Along =
  | { index: string }
  | { standing: readonly Standing[] }
  | { facet: ColumnFacet; values: readonly string[]; most: string }
  | { members: Membership; id: string }
  | { from: string; where: string }
  | 'nobody';
/** How a page is found: what is walked, and what instead once so many rows had no full page. */
interface Way {
  along: Along;
  given?: { rows: number; orElse: Along };
}

/**
 * A part of a list along what is walked, in its order; null where there is nothing to walk.
 * @param f whose lists and tags narrow it, beside `parts`.
 */
function walk(
  along: Along,
  f: ContactFilter,
  order: Order,
  parts: readonly string[],
  between: Between,
  bind: Record<string, unknown>,
): string | null {
  if (along === 'nobody') return null;
  const select = `SELECT ${[...new Set(['id', 'contact_id', ...order.columns])].map((c) => `cn.${c}`).join(', ')} FROM`;
  const members = 'members' in along ? along.members : null;
  const where = [...parts, ...MEMBERSHIPS.filter((of) => f[of] && of !== members).map(onAny)].join(' AND ');
  if ('standing' in along) {
    const stretches = along.standing.flatMap((of, i) => {
      const within = inStretch(of, order, between, bind);
      if (within === null) return [];
      const alike = STANDING.map((x) => {
        bind[`${x}${i}`] = of[x];
        return `cn.${FACETS[x]} = $${x}${i}`;
      });
      const all = [...alike, ...within, where].join(' AND ');
      return [`${select} contact_number cn INDEXED BY contact_number_standing WHERE ${all}`];
    });
    return stretches.length === 0 ? null : `${stretches.join(' UNION ALL ')} ${sorted('', order.columns, order)}`;
  }
  const all = [...lies('cn', order.columns, between, order, bind), where].join(' AND ');
  const end = sorted('', order.columns, order);
  if ('from' in along) return `${select} ${along.from} WHERE ${along.where} AND ${all} ${end}`;
  if ('members' in along) {
    bind['walked'] = along.id;
    const from = `${select} list_member m CROSS JOIN contact_number cn INDEXED BY contact_number_contact ON cn.contact_id = m.contact_id WHERE m.list_id = $walked AND ${all}`;
    if (order.by !== 'contact') return `${from} ${sorted('cn.', order.columns, order)}`;
    // The list has an index in the order of names.
    const names = NAMED.slice(0, 2);
    const later = lies('m', names, between, order, bind).map((x) => ` AND ${x.replace(/ ([<>]) /, ' $1= ')}`);
    return `${from}${later.join('')} ${sorted('m.', names, order)}, cn.id${order.down ? ' DESC' : ''}`;
  }
  if ('index' in along) return `${select} contact_number cn INDEXED BY ${along.index} WHERE ${all} ${end}`;
  // Each value has its own stretch of the index; they are merged in order.
  const column = FACETS[along.facet];
  return `${along.values
    .map((value, i) => {
      bind[`value${i}`] = value;
      return `${select} contact_number cn INDEXED BY contact_number_by_${column} WHERE cn.${column} = $value${i} AND cn.${column} <> '${along.most}' AND ${all}`;
    })
    .join(' UNION ALL ')} ${end}`;
}

/**
 * What of a stretch of those that stand alike is meant, as conditions on its order of names; null where nothing is.
 * All of it has one value of what is sorted by first, so that a place is before it, behind it or in it.
 */
function inStretch(of: Standing, order: Order, between: Between, bind: Record<string, unknown>): string[] | null {
  const by = ORDERS[order.by];
  if (!('first' in by)) return lies('cn', order.columns, between, order, bind);
  const inIt: Record<keyof Between, Place | null> = { after: null, upTo: null };
  for (const end of ENDS) {
    const [value, ...names] = between[end] ?? [];
    if (value === undefined) continue;
    const isBefore = order.down ? of[by.first] > String(value) : of[by.first] < String(value);
    if (of[by.first] === value) inIt[end] = names;
    else if (isBefore === (end === 'after')) return null;
  }
  return lies('cn', NAMED, inIt, order, bind);
}

/** What a search walks, and how many rows hold its trigrams; null where they are too many to be sorted. */
interface Searched {
  along: { from: string; where: string };
  matches: number;
}
async function foundBy(r: Reader, words: Words | null, bind: Record<string, unknown>): Promise<Searched | null> {
  if (!words?.trigrams) return null;
  const { id, where, value } = found(r, words, words.trigrams);
  const matches = await countFound(r, { where, value }, SORTED_MATCHES);
  if (matches >= SORTED_MATCHES) return null;
  bind['found'] = value;
  return { along: { from: `contact_search s CROSS JOIN contact_number cn ON cn.id = ${id}`, where }, matches };
}

/**
 * What a search finds is sorted, unless it is so much that a page is full sooner by walking the list in its order: of
 * what the rest of the filter leaves as large a part is reckoned with as of everybody.
 */
async function wayOfSearch(r: Reader, businessId: string, f: ContactFilter, order: Order, s: Searched): Promise<Way> {
  if (s.matches < FEW_MATCHES) return { along: s.along };
  const classes = await countedClasses(r, businessId);
  const everybody = sum(classes, {});
  const { list: _, tag: __, q: ___, ...rest } = f;
  const matching = (s.matches / Math.max(everybody, 1)) * sum(classes, rest);
  const rows = reckoned(everybody, matching, SEARCH_TIMES);
  return rows * WALKED_AS < s.matches
    ? { along: everyoneIn(order, classes), given: { rows, orElse: s.along } }
    : { along: s.along };
}

/** How many rows are walked in their order until a page of those that match is full, so many times over. */
const reckoned = (walked: number, matching: number, times: number): number =>
  Math.ceil((times * walked * PAGE) / Math.max(matching, 1));

/** How those of some classes stand, each once. */
function standings(classes: readonly CountedClass[]): Standing[] {
  const each = new Map<string, Standing>();
  for (const { textable, informational, promotional } of classes)
    each.set(`${textable} ${informational} ${promotional}`, { textable, informational, promotional });
  return [...each.values()];
}

/** Everybody in the order asked for: by its index, or in stretches of those that stand alike, merged. */
function everyoneIn(order: Order, classes: readonly CountedClass[]): Along {
  const of = ORDERS[order.by];
  return 'index' in of ? { index: of.index } : { standing: standings(classes) };
}

/** The place so many rows after another along what is walked, whatever is filtered; null where there are fewer. */
async function placeAfter(
  r: Reader,
  businessId: string,
  along: Along,
  order: Order,
  after: Place | null,
  rows: number,
): Promise<Place | null> {
  const bind: Record<string, unknown> = { businessId, rows };
  const text = walk(along, {}, order, [BUSINESS], { after, upTo: null }, bind);
  const row = text && (await r.one<Record<string, string | number>>(`${text} LIMIT 1 OFFSET $rows`, bind));
  return row ? order.columns.map((c) => row[c] ?? '') : null;
}

/**
 * What to walk: of the indexes that hold all a filter leaves, by what is counted already, the one with the fewest in it;
 * where that is not in the order asked for, the one with the fewest that is, if a page is full sooner than those of the
 * filter are sorted. That is given up after the rows it was reckoned to take.
 */
async function wayOf(
  r: Reader,
  businessId: string,
  f: ContactFilter,
  order: Order,
  { now, hidden }: AsOf,
): Promise<Way> {
  if (f.faults) return { along: { index: 'contact_number_faults' } };
  // Everybody in an order that has an index: nothing is to be reckoned, unless an intake hides many.
  const whole = ORDERS[order.by];
  const isNarrowed = FACET_NAMES.some((x) => f[x]) || MEMBERSHIPS.some((x) => f[x]);
  if ('index' in whole && !isNarrowed && hidden.length === 0) return { along: whole };
  const classes = await (f.replied ? repliedClasses(r, businessId, now) : countedClasses(r, businessId));
  const left = classes.filter((c) => matches(c, f));
  const everybody = sum(classes, {});
  let matching = sum(left, {});
  // Words and lists narrow it further; where the rest leaves nobody there is nothing to walk.
  if (matching === 0) return { along: 'nobody' };
  const inNames = order.by === 'contact';
  const ways: { along: Along; size: number; inOrder: boolean }[] = [
    { along: everyoneIn(order, classes), size: everybody, inOrder: true },
  ];
  const alike = standings(left);
  const sizeOf = (has: (c: CountedClass) => boolean): number => classes.filter(has).reduce((n, c) => n + c.n, 0);
  const standing = sizeOf((c) => alike.some((x) => STANDING.every((facet) => x[facet] === c[facet])));
  if (standing < everybody) ways.push({ along: { standing: alike }, size: standing, inOrder: order.by !== 'number' });
  for (const { facet, most } of INDEXED) {
    const values = [...new Set(left.map((c) => c[facet]))];
    if (values.length > STRETCHES || values.includes(most)) continue;
    const size = sizeOf((c) => values.includes(c[facet]));
    if (size < everybody) ways.push({ along: { facet, values, most }, size, inOrder: inNames });
  }
  if (f.replied && !valuesOf(f.replied).includes('never'))
    ways.push({ along: EVER_REPLIED, size: sizeOf((c) => c.replied !== 'never'), inOrder: inNames });
  for (const of of MEMBERSHIPS) {
    const ids = valuesOf(f[of]);
    if (ids.length === 0) continue;
    const lists = await r.of(contactListTable).findAll({ where: { id: ids, businessId }, raw: true });
    const members = Math.min(
      lists.reduce((n, l) => n + l.members, 0),
      everybody,
    );
    const from = `(SELECT DISTINCT m.contact_id AS member FROM list_member m WHERE m.list_id IN (SELECT value FROM jsonb_each($${of}))) AS lm CROSS JOIN contact_number cn ON cn.contact_id = lm.member`;
    const [one, ...others] = ids;
    ways.push(
      one !== undefined && others.length === 0
        ? { along: { members: of, id: one }, size: members, inOrder: inNames }
        : { along: { from, where: 'TRUE' }, size: members, inOrder: false },
    );
    matching *= members / Math.max(everybody, 1);
  }
  const least = (some: typeof ways): (typeof ways)[number] | undefined =>
    some.reduce<(typeof ways)[number] | undefined>((a, b) => (a && a.size <= b.size ? a : b), undefined);
  const narrowest = least(ways);
  const inOrder = least(ways.filter((x) => x.inOrder));
  if (!narrowest || !inOrder) return { along: 'nobody' };
  if (narrowest.inOrder) return { along: narrowest.along };
  const rows = reckoned(inOrder.size, matching, FILTER_TIMES);
  return rows >= narrowest.size
    ? { along: narrowest.along }
    : { along: inOrder.along, given: { rows, orElse: narrowest.along } };
}
