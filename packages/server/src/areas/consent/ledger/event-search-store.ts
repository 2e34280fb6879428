import { jsonRows, type Reader } from '../../../platform/db.js';
import { consentCountTable } from '../model.js';
import type { EventRow } from './ledger-store.js';

export interface EventFilter {
  kinds: readonly string[];
  hows: readonly string[];
  /** Only of these numbers; of everybody where it is null. */
  numbers: readonly string[] | null;
  /** People that are too many to be named: a condition on `e`, with what it binds. */
  whoever: { sql: string; bind: Record<string, unknown> } | null;
  /** Empty for each. */
  purpose: string;
  /** The words that were shown, by their versions, any of these; empty for any. */
  words: readonly string[];
  /** When it happened, milliseconds, the end not among it; null where no time is meant. */
  between: { from: number; to: number } | null;
}
export const EVERY_EVENT: EventFilter = {
  kinds: [],
  hows: [],
  numbers: null,
  whoever: null,
  purpose: '',
  words: [],
  between: null,
};
/** A place in the ledger: when the event there happened, which counts where a time is meant, and its place in the chain. */
export type EventPlace = readonly [happenedAt: number, seq: number];
export const FIRST_PLACE: EventPlace = [0, 0];
export const LAST_PLACE: EventPlace = [Number.MAX_SAFE_INTEGER, Number.MAX_SAFE_INTEGER];

/** Up to how much is done while somebody waits. */
export const LIMITS = {
  /** So many events of the sorts that are meant are sorted anew; more are found in the order of time. */
  sorted: 10_000,
  /** So many stretches are merged; where there are more the chain is walked instead. */
  merged: 200,
  /** So many events are looked at one by one to be counted, and so many of them counted. */
  looked: 10_000,
  counted: 1_000,
};

/** What is walked for a filter. */
export interface Walk {
  /** Stretches of an index that hold all that is meant, each in the order it is shown in unless it is sorted anew. */
  stretches: string[];
  /** Conditions that each event of them is still held against. */
  left: string[];
  /** How many events they hold together; null where that is not known. */
  holds: number | null;
}

/**
 * What is walked for a filter: the numbers that are meant, each by its index; else each stretch of events of one kind,
 * way, set of purposes and version of words that there are any of, merged; else the index of time, or the chain.
 * @param bind takes what is bound.
 */
export async function walkOf(
  r: Reader,
  businessId: string,
  f: EventFilter,
  bind: Record<string, unknown>,
  limits = LIMITS,
): Promise<Walk> {
  const what: string[] = [];
  const time = f.between ? ['e.happened_at >= $from AND e.happened_at < $to'] : [];
  const whoever = f.whoever ? [f.whoever.sql] : [];
  Object.assign(bind, { businessId }, f.between, f.whoever?.bind);
  const among = (column: string, of: readonly string[]): void => {
    if (of.length === 0) return;
    what.push(`e.${column} IN (SELECT value FROM jsonb_each($${column}s))`);
    bind[`${column}s`] = jsonRows(of);
  };
  among('kind', f.kinds);
  among('how', f.hows);
  among('disclosure_version', f.words);
  if (f.purpose !== '') {
    what.push("(',' || e.purposes || ',') LIKE $purpose");
    bind['purpose'] = `%,${f.purpose},%`;
  }
  if (f.numbers !== null) {
    bind['numbers'] = jsonRows(f.numbers);
    return {
      stretches: [
        'jsonb_each($numbers) j CROSS JOIN consent_event e INDEXED BY consent_event_number ON e.business_id = $businessId AND e.e164 = j.value WHERE TRUE',
      ],
      left: [...what, ...time, ...whoever],
      holds: null,
    };
  }
  const isCounted = what.length > 0;
  const sorts = isCounted ? await sortsOf(r, businessId, f) : [];
  const holds = isCounted ? sum(sorts.map((x) => x.n)) : null;
  if (isCounted && sorts.length <= limits.merged && (!f.between || (holds ?? 0) <= limits.sorted)) {
    const stretches = sorts.map(({ kind, how, purposes, words }, i) => {
      Object.assign(bind, { [`kind${i}`]: kind, [`how${i}`]: how, [`purposes${i}`]: purposes });
      if (words !== null) bind[`words${i}`] = words;
      const [index, shown] = words === null ? ['way', ''] : ['words', ` AND e.disclosure_version = $words${i}`];
      return `consent_event e INDEXED BY consent_event_${index} WHERE e.business_id = $businessId${shown} AND e.kind = $kind${i} AND e.how = $how${i} AND e.purposes = $purposes${i}`;
    });
    return { stretches, left: [...time, ...whoever], holds };
  }
  const chain = f.between
    ? `consent_event e INDEXED BY consent_event_happened WHERE e.business_id = $businessId AND ${time.join('')}`
    : 'consent_event e WHERE e.business_id = $businessId';
  return { stretches: [chain], left: [...what, ...whoever], holds: null };
}

const sum = (of: readonly number[]): number => of.reduce((a, b) => a + b, 0);

interface Sort {
  kind: string;
  how: string;
  purposes: string;
  /** Null where they are not told apart by them. */
  words: string | null;
  n: number;
}
/** Each kind, way, set of purposes, and version of words where some are meant, that a filter leaves any events of, with how many. */
async function sortsOf(r: Reader, businessId: string, f: EventFilter): Promise<Sort[]> {
  const rows = await r.of(consentCountTable).findAll({
    where: {
      businessId,
      ...(f.kinds.length > 0 ? { kind: [...f.kinds] } : {}),
      ...(f.hows.length > 0 ? { how: [...f.hows] } : {}),
      ...(f.words.length > 0 ? { words: [...f.words] } : {}),
    },
    raw: true,
  });
  const by = new Map<string, Sort>();
  for (const { kind, how, purposes, n, ...row } of rows) {
    if (f.purpose !== '' && !purposes.split(',').includes(f.purpose)) continue;
    const words = f.words.length > 0 ? row.words : null;
    const key = [kind, how, purposes, words ?? ''].join('\n');
    const sort = by.get(key);
    if (sort) sort.n += n;
    else by.set(key, { kind, how, purposes, words, n });
  }
  return [...by.values()];
}

/** A stretch with further conditions, of some columns. */
const from = (columns: string, stretch: string, more: readonly string[]): string =>
  `SELECT ${columns} FROM ${[stretch, ...more].join(' AND ')}`;

/**
 * A page of the ledger beyond one place in it, the newest first or the oldest: in the order of the chain, or of when it
 * happened where a time is meant. Of what is not on it, a page walks only what people and a time leave out.
 */
export async function pageOfEvents(
  r: Reader,
  businessId: string,
  f: EventFilter,
  place: { before: EventPlace } | { after: EventPlace },
  limit: number,
  limits = LIMITS,
): Promise<EventRow[]> {
  const [[at, seq], sign, order] =
    'before' in place ? ([place.before, '<', 'DESC'] as const) : ([place.after, '>', 'ASC'] as const);
  // The place narrows the time itself: as a condition beside it the engine would walk all from the place to the time.
  const { from: first, to } = f.between ?? { from: 0, to: 0 };
  const between =
    f.between && (sign === '<' ? { from: first, to: Math.min(to, at + 1) } : { from: Math.max(first, at), to });
  const bind: Record<string, unknown> = {};
  const { stretches, left } = await walkOf(r, businessId, { ...f, between }, bind, limits);
  if (stretches.length === 0) return [];
  const beyond = `${between ? 'e.happened_at <> $at OR ' : ''}e.seq ${sign} $seq`;
  // Places first, which the indexes hold; the rows of the page alone are read whole.
  const [columns, sorted] = f.between
    ? (['e.seq, e.happened_at', ['happened_at', 'seq']] as const)
    : (['e.seq', ['seq']] as const);
  const by = (of: string): string => sorted.map((x) => `${of}${x} ${order}`).join(', ');
  const found = stretches.map((x) => from(columns, x, [...left, `(${beyond})`])).join(' UNION ALL ');
  return r.all<EventRow>(
    `SELECT x.* FROM (${found} ORDER BY ${by('')} LIMIT $limit) AS found
     CROSS JOIN consent_event x ON x.business_id = $businessId AND x.seq = found.seq ORDER BY ${by('found.')}`,
    { ...bind, at, seq, limit },
  );
}

/** How many events there are: at least `total` where there may be `more`. */
export interface EventCount {
  total: number;
  more: boolean;
}

/**
 * How many events a filter leaves: added up from what is counted already, else gone through, as far as
 * the limits allow.
 */
export async function countEvents(r: Reader, businessId: string, f: EventFilter, limits = LIMITS): Promise<EventCount> {
  const { looked, counted } = limits;
  const bind: Record<string, unknown> = {};
  const { stretches, left, holds } = await walkOf(r, businessId, f, bind, limits);
  if (stretches.length === 0) return { total: 0, more: false };
  if (f.numbers === null && !f.between && left.length === 0)
    return { total: holds ?? sum((await sortsOf(r, businessId, f)).map((x) => x.n)), more: false };
  const count = async (rows: string, most: number): Promise<number> =>
    (await r.one<{ n: number }>(`SELECT count(*) AS n FROM (${rows} LIMIT ${most}) AS counted`, bind))?.n ?? 0;
  const all = (columns: string): string => stretches.map((x) => from(columns, x, [])).join(' UNION ALL ');
  const there = holds ?? (await count(all('1 AS one'), looked + 1));
  if (left.length === 0) return { total: Math.min(there, looked), more: there > looked };
  const matching = await count(
    `SELECT 1 AS one FROM (${all('e.seq')} LIMIT ${looked}) AS place CROSS JOIN consent_event e ON e.business_id = $businessId AND e.seq = place.seq WHERE ${left.join(' AND ')}`,
    counted + 1,
  );
  return {
    total: Math.min(matching, counted),
    more: matching > counted || there > looked,
  };
}

/** The versions of words that events name, in their order. */
export async function wordsShown(r: Reader, businessId: string): Promise<string[]> {
  const rows = await r.of(consentCountTable).findAll({
    attributes: ['words'],
    where: { businessId },
    group: ['words'],
    order: ['words'],
    raw: true,
  });
  return rows.flatMap(({ words }) => (words === '' ? [] : [words]));
}
