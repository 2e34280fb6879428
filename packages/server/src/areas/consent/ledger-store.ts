import type { ConsentEventKind, ConsentRoute, ConsentState, LedgerEvent, Purpose } from '@long-gate/core';
import { z } from 'zod';
import { insertMany } from '../../platform/bulk.js';
import { jsonRows, manyRows, type Reader, type Writer } from '../../platform/db.js';
import { fromJson } from '../../platform/table.js';
import { consentCountTable, consentEventTable, consentStateTable } from './model.js';

export interface EventRow {
  business_id: string;
  seq: number;
  id: string;
  e164: string;
  purposes: string;
  kind: ConsentEventKind;
  awaits_confirmation: number;
  happened_at: number;
  recorded_at: number;
  how: ConsentRoute;
  disclosure: string;
  disclosure_version: string;
  evidence: string;
  recorded_by: string;
  prev_hash: string;
  hash: string;
}
const COLUMNS = [
  'business_id',
  'seq',
  'id',
  'e164',
  'purposes',
  'kind',
  'awaits_confirmation',
  'happened_at',
  'recorded_at',
  'how',
  'disclosure',
  'disclosure_version',
  'evidence',
  'recorded_by',
  'prev_hash',
  'hash',
] as const satisfies readonly (keyof EventRow)[];
const Evidence = z.record(z.string(), z.string());
/** Zod costs more than all the rest of an event; most have none. */
const evidenceOf = (raw: string): Record<string, string> => (raw === '{}' ? {} : fromJson(Evidence, raw));

/** Takes a stored row back into the event it was hashed as. @throws where its evidence cannot be read. */
export function eventOf(row: EventRow): LedgerEvent {
  return {
    id: row.id,
    businessId: row.business_id,
    seq: row.seq,
    e164: row.e164,
    purposes: row.purposes.split(',') as Purpose[],
    kind: row.kind,
    awaitsConfirmation: Boolean(row.awaits_confirmation),
    happenedAt: row.happened_at,
    recordedAt: row.recorded_at,
    how: row.how,
    disclosure: row.disclosure,
    disclosureVersion: row.disclosure_version,
    evidence: evidenceOf(row.evidence),
    recordedBy: row.recorded_by,
    prevHash: row.prev_hash,
    hash: row.hash,
  };
}

// -- events ----------------------------------------------------------------------------------------------------------

/** Where a business's chain stands. */
export async function headOf(r: Reader, businessId: string): Promise<{ seq: number; hash: string } | undefined> {
  return r.one('SELECT seq, hash FROM consent_event WHERE business_id = $1 ORDER BY seq DESC LIMIT 1', [businessId]);
}

export async function eventAt(r: Reader, businessId: string, seq: number): Promise<{ hash: string } | undefined> {
  return r.one('SELECT hash FROM consent_event WHERE business_id = $1 AND seq = $2', [businessId, seq]);
}

export async function eventById(r: Reader, businessId: string, id: string): Promise<EventRow | undefined> {
  return r.one<EventRow>('SELECT * FROM consent_event WHERE business_id = $1 AND id = $2', [businessId, id]);
}

/** Appends events at the end of their chains, and counts them by kind and route. */
export async function appendEvents(w: Writer, events: readonly LedgerEvent[]): Promise<void> {
  await insertMany(
    w,
    consentEventTable,
    events.map((e) => ({ ...e, purposes: e.purposes.join(','), evidence: JSON.stringify(e.evidence) })),
  );
  const counts = new Map<string, [businessId: string, kind: string, how: string, n: number]>();
  for (const { businessId, kind, how } of events) {
    const key = `${businessId}|${kind}|${how}`;
    const count = counts.get(key);
    if (count) count[3]++;
    else counts.set(key, [businessId, kind, how, 1]);
  }
  await w.run(
    `INSERT INTO consent_count (business_id, kind, how, n) SELECT value->>0, value->>1, value->>2, CAST(value->>3 AS BIGINT) FROM jsonb_each($1) WHERE true
     ON CONFLICT (business_id, kind, how) DO UPDATE SET n = consent_count.n + excluded.n`,
    [jsonRows([...counts.values()])],
  );
}

/**
 * The events of these numbers in the order of the chain. Each number by its own index: without the hint the whole
 * ledger of the business is walked for every one.
 */
export async function eventsOfNumbers(r: Reader, businessId: string, e164s: readonly string[]): Promise<EventRow[]> {
  return r.all<EventRow>(
    'SELECT e.* FROM jsonb_each($2) j CROSS JOIN consent_event e INDEXED BY consent_event_number ON e.business_id = $1 AND e.e164 = j.value ORDER BY j.key, e.seq',
    [businessId, jsonRows(e164s)],
  );
}

/** The next events of the chain after one. */
export async function eventsAfter(r: Reader, businessId: string, after: number, limit: number): Promise<EventRow[]> {
  return manyRows<EventRow>(
    r,
    COLUMNS,
    `FROM consent_event WHERE business_id = $1 AND seq > $2 ORDER BY seq LIMIT ${limit}`,
    [businessId, after],
  );
}

export interface EventFilter {
  kinds: readonly string[];
  hows: readonly string[];
  /** Only of these numbers; of everybody where it is null. */
  numbers: readonly string[] | null;
  /** People that are too many to be named: a condition on `e`, with what it binds. */
  whoever: { sql: string; bind: Record<string, unknown> } | null;
  /** Empty for each. */
  purpose: string;
  /** The version of the words that were shown; empty for any. */
  words: string;
  /** When it happened, milliseconds, the end not among it; null where no time is meant. */
  between: { from: number; to: number } | null;
}
export const EVERY_EVENT: EventFilter = {
  kinds: [],
  hows: [],
  numbers: null,
  whoever: null,
  purpose: '',
  words: '',
  between: null,
};
/** A place in the ledger: when the event there happened, which counts where a time is meant, and its place in the chain. */
export type EventPlace = readonly [happenedAt: number, seq: number];
export const FIRST_PLACE: EventPlace = [0, 0];
export const LAST_PLACE: EventPlace = [Number.MAX_SAFE_INTEGER, Number.MAX_SAFE_INTEGER];

function where(f: EventFilter): { parts: string[]; bind: Record<string, unknown> } {
  const bind: Record<string, unknown> = { ...f.whoever?.bind };
  const parts = ['e.business_id = $businessId'];
  const say = (sql: string, more: Record<string, unknown>): void => {
    parts.push(sql);
    Object.assign(bind, more);
  };
  if (f.kinds.length > 0) say('e.kind IN (SELECT value FROM jsonb_each($kinds))', { kinds: jsonRows(f.kinds) });
  if (f.hows.length > 0) say('e.how IN (SELECT value FROM jsonb_each($hows))', { hows: jsonRows(f.hows) });
  if (f.whoever) parts.push(f.whoever.sql);
  if (f.purpose !== '') say("(',' || e.purposes || ',') LIKE $purpose", { purpose: `%,${f.purpose},%` });
  if (f.words !== '') say('e.disclosure_version = $words', { words: f.words });
  if (f.between) say('e.happened_at >= $from AND e.happened_at < $to', { from: f.between.from, to: f.between.to });
  return { parts, bind };
}

/**
 * What is walked for a filter, in the order it is shown in: the numbers that are meant, each by its index; else the
 * index of the words or of the time; of kinds and routes each pair of which there are any, merged; else the chain.
 */
async function walked(r: Reader, businessId: string, f: EventFilter, bind: Record<string, unknown>): Promise<string[]> {
  if (f.numbers !== null) {
    bind['numbers'] = jsonRows(f.numbers);
    return [
      'jsonb_each($numbers) j CROSS JOIN consent_event e INDEXED BY consent_event_number ON e.business_id = $businessId AND e.e164 = j.value WHERE TRUE',
    ];
  }
  if (f.between) return ['consent_event e INDEXED BY consent_event_happened WHERE TRUE'];
  if (f.words !== '') return ['consent_event e INDEXED BY consent_event_words WHERE TRUE'];
  if (f.kinds.length === 0 && f.hows.length === 0) return ['consent_event e WHERE TRUE'];
  const pairs = await r.of(consentCountTable).findAll({ where: counted(businessId, f), raw: true });
  return pairs.map(({ kind, how }, i) => {
    bind[`kind${i}`] = kind;
    bind[`how${i}`] = how;
    return `consent_event e INDEXED BY consent_event_way WHERE e.kind = $kind${i} AND e.how = $how${i}`;
  });
}

/** The counts of a business's events that a filter by kinds and routes leaves. */
const counted = (businessId: string, f: EventFilter) => ({
  businessId,
  ...(f.kinds.length > 0 ? { kind: [...f.kinds] } : {}),
  ...(f.hows.length > 0 ? { how: [...f.hows] } : {}),
});

/**
 * A page of the ledger beyond one place in it, the newest first or the oldest: in the order of the chain, or of when it
 * happened where a time is meant. A page never walks much that is not on it.
 */
export async function pageOfEvents(
  r: Reader,
  businessId: string,
  f: EventFilter,
  from: { before: EventPlace } | { after: EventPlace },
  limit: number,
): Promise<EventRow[]> {
  const { parts, bind } = where(f);
  const [[at, seq], sign, order] =
    'before' in from ? ([from.before, '<', 'DESC'] as const) : ([from.after, '>', 'ASC'] as const);
  const beyond = f.between
    ? `(e.happened_at ${sign} $at OR (e.happened_at = $at AND e.seq ${sign} $seq))`
    : `e.seq ${sign} $seq`;
  // Places first, which the indexes hold; the rows of the page alone are read whole.
  const stretches = (await walked(r, businessId, f, bind)).map(
    (x) => `SELECT e.seq, e.happened_at FROM ${x} AND ${[...parts, beyond].join(' AND ')}`,
  );
  if (stretches.length === 0) return [];
  const sorted = f.between ? `happened_at ${order}, seq ${order}` : `seq ${order}`;
  return r.all<EventRow>(
    `SELECT x.* FROM (${stretches.join(' UNION ALL ')} ORDER BY ${sorted} LIMIT $limit) AS found
     CROSS JOIN consent_event x ON x.business_id = $businessId AND x.seq = found.seq ORDER BY ${sorted.replace(/\b(happened_at|seq)\b/g, 'found.$1')}`,
    { ...bind, businessId, seq, ...(f.between ? { at } : {}), limit },
  );
}

/** So many are counted one by one while somebody waits. */
const COUNTED_UP_TO = 1_000;

/**
 * How many events a filter leaves: added up from what is counted already, or gone through.
 * @returns null where it would take counting more than {@link COUNTED_UP_TO}.
 */
export async function countEvents(r: Reader, businessId: string, f: EventFilter): Promise<number | null> {
  if (f.numbers === null && !f.whoever && f.purpose === '' && f.words === '' && !f.between)
    return (await r.of(consentCountTable).sum('n', { where: counted(businessId, f) })) ?? 0;
  const { parts, bind } = where(f);
  const stretches = (await walked(r, businessId, f, bind)).map(
    (x) => `SELECT 1 AS one FROM ${x} AND ${parts.join(' AND ')}`,
  );
  if (stretches.length === 0) return 0;
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM (SELECT one FROM (${stretches.join(' UNION ALL ')}) AS all_of_it LIMIT $most) AS counted`,
    { ...bind, businessId, most: COUNTED_UP_TO + 1 },
  );
  const n = row?.n ?? 0;
  return n > COUNTED_UP_TO ? null : n;
}

/**
 * The versions of words that events name, in their order: one look at the index for each, however many events there are.
 * @param most at most so many.
 */
export async function wordsShown(r: Reader, businessId: string, most: number): Promise<string[]> {
  const rows = await r.all<{ words: string }>(
    `WITH RECURSIVE shown(words) AS (
       SELECT (SELECT min(e.disclosure_version) FROM consent_event e WHERE e.business_id = $businessId AND e.disclosure_version > '')
       UNION ALL
       SELECT (SELECT min(e.disclosure_version) FROM consent_event e WHERE e.business_id = $businessId AND e.disclosure_version > shown.words) FROM shown WHERE shown.words IS NOT NULL
     ) SELECT words FROM shown WHERE words IS NOT NULL LIMIT $most`,
    { businessId, most },
  );
  return rows.map((x) => x.words);
}

// -- the state of now ------------------------------------------------------------------------------------------------

/** Keeps the folded states of these numbers beside the ledger; a set, since a list brought in has thousands. */
export async function keepStates(
  w: Writer,
  businessId: string,
  states: readonly (readonly [
    e164: string,
    conversational: ConsentState,
    informational: ConsentState,
    promotional: ConsentState,
    lapsesAt: number | null,
    agreedAt: number | null,
  ])[],
  asOf: number,
): Promise<void> {
  await w.run(
    `INSERT INTO consent_state (business_id, e164, conversational, informational, promotional, as_of, lapses_at, agreed_at) SELECT $1, value->>0, value->>1, value->>2, value->>3, $3, CAST(value->>4 AS BIGINT), CAST(value->>5 AS BIGINT) FROM jsonb_each($2) WHERE true
     ON CONFLICT (business_id, e164) DO UPDATE SET conversational = excluded.conversational, informational = excluded.informational, promotional = excluded.promotional, as_of = excluded.as_of, lapses_at = excluded.lapses_at, agreed_at = excluded.agreed_at`,
    [businessId, jsonRows(states), asOf],
  );
}

export async function statesOfNumbers(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<{ e164: string; conversational: ConsentState; informational: ConsentState; promotional: ConsentState }[]> {
  return r.all(
    `SELECT s.e164, s.conversational, s.informational, s.promotional FROM jsonb_each($2) j CROSS JOIN consent_state s ON s.business_id = $1 AND s.e164 = j.value`,
    [businessId, jsonRows(e164s)],
  );
}

/** The same with the moment at which the owner of each last agreed to what is in force. */
export async function agreedStates(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<(Record<Purpose, ConsentState> & { e164: string; agreed_at: number | null })[]> {
  return r.all(
    `SELECT s.e164, s.conversational, s.informational, s.promotional, s.agreed_at FROM jsonb_each($2) j CROSS JOIN consent_state s ON s.business_id = $1 AND s.e164 = j.value`,
    [businessId, jsonRows(e164s)],
  );
}

/** Whether any contact has these numbers. Set by the model; of numbers of which nothing is on file nothing changes. */
export async function setOfNobody(
  w: Writer,
  businessId: string,
  e164s: readonly string[],
  ofNobody: boolean,
): Promise<void> {
  await w.of(consentStateTable).update({ ofNobody }, { where: { businessId, e164: [...e164s], ofNobody: !ofNobody } });
}

/** Numbers on file that no contact has any more, in which these figures stand. */
export async function numbersOfNobody(r: Reader, businessId: string, figures: string, most: number): Promise<string[]> {
  const rows = await r.all<{ e164: string }>(
    'SELECT e164 FROM consent_state WHERE business_id = $1 AND of_nobody AND instr(e164, $2) > 0 LIMIT $3',
    [businessId, figures, most],
  );
  return rows.map((x) => x.e164);
}

/** That an event's number is one that is named, or what a condition says. @param bind takes what is bound. */
export function orNamed(sql: string, e164s: readonly string[], bind: Record<string, unknown>): string {
  bind['named'] = jsonRows(e164s);
  return `(${sql} OR e.e164 IN (SELECT value FROM jsonb_each($named)))`;
}

type KeptRow = Record<Purpose, ConsentState> & { e164: string };
/** What is kept of the next numbers after one, up to another (to the last where null), in their order. */
export async function statesBetween(
  r: Reader,
  businessId: string,
  after: string,
  upTo: string | null,
  limit: number,
): Promise<KeptRow[]> {
  return manyRows<KeptRow>(
    r,
    ['e164', 'conversational', 'informational', 'promotional'],
    `FROM consent_state WHERE business_id = $businessId AND e164 > $after${upTo === null ? '' : ' AND e164 <= $upTo'} ORDER BY e164 LIMIT ${limit}`,
    { businessId, after, upTo },
  );
}

/** What is read of events where they are gone through by number: which columns, and what is made of a row. */
interface Reading<T> {
  columns: readonly (keyof EventRow)[];
  of: (row: EventRow) => T;
}
export type Folding = Pick<LedgerEvent, 'id' | 'purposes' | 'kind' | 'awaitsConfirmation' | 'happenedAt'>;
/** What folding an event needs. */
export const FOLDING: Reading<Folding> = {
  columns: ['id', 'e164', 'purposes', 'kind', 'awaits_confirmation', 'happened_at'],
  of: (row) => ({
    id: row.id,
    purposes: row.purposes.split(',') as Purpose[],
    kind: row.kind,
    awaitsConfirmation: Boolean(row.awaits_confirmation),
    happenedAt: row.happened_at,
  }),
};
/** And how it came about. */
export const TOLD: Reading<Folding & Pick<LedgerEvent, 'how' | 'evidence'>> = {
  columns: [...FOLDING.columns, 'how', 'evidence'],
  of: (row) => ({ ...FOLDING.of(row), how: row.how, evidence: evidenceOf(row.evidence) }),
};

/**
 * The events of the next numbers after one, up to another (to the last where null), by number, all of each.
 * @returns up to which number these are all.
 */
export async function nextByNumber<T>(
  r: Reader,
  businessId: string,
  after: string,
  upTo: string | null,
  limit: number,
  read: Reading<T>,
): Promise<{ events: Map<string, T[]>; upTo: string | null }> {
  const rows = await manyRows<EventRow>(
    r,
    read.columns,
    `FROM consent_event INDEXED BY consent_event_number WHERE business_id = $businessId AND e164 > $after${upTo === null ? '' : ' AND e164 <= $upTo'} ORDER BY e164, seq LIMIT ${limit}`,
    { businessId, after, upTo },
  );
  const events = new Map<string, T[]>();
  for (const row of rows) {
    const list = events.get(row.e164);
    if (list) list.push(read.of(row));
    else events.set(row.e164, [read.of(row)]);
  }
  if (rows.length < limit) return { events, upTo };
  // The last number's events may go on beyond these: it comes with the next, or more are read where it alone fills them.
  const cut = rows.at(-1)?.e164 ?? '';
  if (events.size === 1) return nextByNumber(r, businessId, after, upTo, limit * 2, read);
  events.delete(cut);
  return { events, upTo: [...events.keys()].at(-1) ?? '' };
}
