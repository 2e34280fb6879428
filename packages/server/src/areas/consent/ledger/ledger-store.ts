import type { ConsentEventKind, ConsentRoute, ConsentState, LedgerEvent, Purpose } from '@long-gate/core';
import { z } from 'zod';
import { inWords, type Worded } from '../../../platform/bulk.js';
import { jsonRows, manyRows, type Reader, type Writer } from '../../../platform/db.js';
import { fromJson } from '../../../platform/table.js';
import { consentEventTable, consentStateTable } from '../model.js';

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

/**
 * Puts events into words, to be appended at the end of their chains; what is appended is to be counted too, by
 * {@link countAppended}.
 */
export function toAppend(events: readonly LedgerEvent[]): Worded {
  return inWords(
    consentEventTable,
    // Member by member, as `linkEvent` does it and for the same reason.
    events.map((e) => ({
      id: e.id,
      businessId: e.businessId,
      seq: e.seq,
      e164: e.e164,
      purposes: e.purposes.join(','),
      kind: e.kind,
      awaitsConfirmation: e.awaitsConfirmation,
      happenedAt: e.happenedAt,
      recordedAt: e.recordedAt,
      how: e.how,
      disclosure: e.disclosure,
      disclosureVersion: e.disclosureVersion,
      evidence: JSON.stringify(e.evidence),
      recordedBy: e.recordedBy,
      prevHash: e.prevHash,
      hash: e.hash,
    })),
  );
}

/** Counts events that were appended, by what they are searched by. */
export async function countAppended(w: Writer, events: readonly LedgerEvent[]): Promise<void> {
  const counts = new Map<string, [string, string, string, string, string, n: number]>();
  for (const e of events) {
    const purposes = e.purposes.join(',');
    const key = `${e.businessId}\n${e.kind}\n${e.how}\n${purposes}\n${e.disclosureVersion}`;
    const count = counts.get(key);
    if (count) count[5]++;
    else counts.set(key, [e.businessId, e.kind, e.how, purposes, e.disclosureVersion, 1]);
  }
  await w.run(
    `INSERT INTO consent_count (business_id, kind, how, purposes, words, n) SELECT value->>0, value->>1, value->>2, value->>3, value->>4, CAST(value->>5 AS BIGINT) FROM jsonb_each($1) WHERE true
     ON CONFLICT (business_id, kind, how, purposes, words) DO UPDATE SET n = consent_count.n + excluded.n`,
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

/** What folding needs of the events of a number, in the order of the chain. */
export async function foldingOf(r: Reader, businessId: string, e164: string): Promise<Folding[]> {
  const rows = await r.all<EventRow>(
    `SELECT ${FOLDING.columns.join(', ')} FROM consent_event INDEXED BY consent_event_number WHERE business_id = $1 AND e164 = $2 ORDER BY seq`,
    [businessId, e164],
  );
  return rows.map(FOLDING.of);
}

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
