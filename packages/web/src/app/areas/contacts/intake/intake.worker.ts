import type { ContactField } from '@long-gate/contracts';
import { dateOrderOf, type DateOrder } from '@long-gate/core';
import Papa from 'papaparse';
import { guessColumns, looksLikeHeader, type ColumnUse } from './columns';
import { OUTCOMES, readRow, type Group, type Outcome, type ReadRow, type Reading } from './reading';
import { openSource, type OpenedSource, type SourceChoices } from './sources';
import { Unreadable, type Source } from './text-source';

/** How the file is to be read. */
export interface Mapping {
  uses: ColumnUse[];
  header: boolean;
  region: string;
  dateOrder: DateOrder | null;
}
/** What the page asks of the worker. */
export type ToWorker =
  | { kind: 'open'; file: Blob; name: string; fields: ContactField[]; choices: SourceChoices }
  | { kind: 'map'; mapping: Mapping; fields: ContactField[]; today: string }
  | { kind: 'known'; e164s: string[] }
  | { kind: 'knownAll' }
  | { kind: 'keep'; outcome: Outcome; reason: string; keep: boolean }
  | { kind: 'keepAll'; keep: boolean }
  | { kind: 'keepRow'; row: number; keep: boolean }
  | { kind: 'edit'; row: number; values: Partial<Record<ColumnUse, string>> }
  | { kind: 'rows'; from: number; count: number }
  | { kind: 'numbers'; from: number; count: number }
  | { kind: 'group'; outcome: Outcome; reason: string }
  | { kind: 'refused' };
/** What it answers. */
export type FromWorker =
  | { kind: 'unreadable'; message: string }
  | ({
      kind: 'opened';
      header: boolean;
      columns: string[];
      uses: ColumnUse[];
      sample: string[][];
      total: number;
      /** The order of day and month the file tells by itself. */
      dateOrder: DateOrder | null;
    } & Omit<OpenedSource, 'source'>)
  | { kind: 'progress'; done: number; total: number }
  | { kind: 'read'; total: number; groups: Group[]; kept: number }
  | { kind: 'rows'; rows: ReadRow[]; from: number }
  | { kind: 'numbers'; e164s: string[]; next: number | null }
  | { kind: 'group'; rows: ReadRow[]; more: boolean }
  | { kind: 'refusedFile'; csv: string };

const STEP = 5_000;
/** Rows of one group shown at once. */
const GROUP_SHOWN = 500;
const EXAMPLES = 5;

let source: Source | null = null;
let header = false;
let heading: string[] = [];
let reading: Reading | null = null;
let total = 0;
/** Of each row: its outcome, why (a place in `reasons`), its number, and whether it is not wanted. */
let outcomes = new Uint8Array(0);
let why = new Uint16Array(0);
let numbers = new Float64Array(0);
let unwanted = new Uint8Array(0);
let reasons: string[] = [];
/** Rows that were edited in place: their cells. */
const edits = new Map<number, string[]>();
/** Groups that are not wanted. */
const dropped = new Set<string>();
let run = 0;

const say = (message: FromWorker): void => postMessage(message);
const keyOf = (outcome: Outcome, reason: string): string => `${outcome}|${reason}`;
const e164Of = (i: number): string => (numbers[i] ? `+${String(numbers[i])}` : '');

async function open({ file, name, fields, choices }: Extract<ToWorker, { kind: 'open' }>): Promise<void> {
  edits.clear();
  // Read here, a stretch at a time: of a file of a hundred megabytes neither the page nor this holds it all.
  const { source: opened, ...how } = await openSource(file, name, choices);
  source = opened;
  const head = await opened.read(0, 201);
  header = how.headed ?? looksLikeHeader(head[0] ?? [], head[1]);
  const width = Math.min(60, Math.max(...head.map((r) => r.length)));
  const names = Array.from({ length: width }, (_, i) => (header ? (head[0]?.[i] ?? '').trim() : ''));
  heading = names.map((n, i) => n || `Column ${i + 1}`);
  const sample = head.slice(header ? 1 : 0);
  const uses = guessColumns(names, sample, fields);
  const day = uses.indexOf('consentDate');
  say({
    kind: 'opened',
    ...how,
    header,
    columns: heading,
    uses,
    sample: sample.slice(0, 3).map((r) => heading.map((_, i) => r[i] ?? '')),
    total: opened.rows - (header ? 1 : 0),
    dateOrder: day < 0 ? null : dateOrderOf(sample.map((r) => r[day] ?? '')),
  });
}

const cellsOf = (row: number, cells: readonly string[]): readonly string[] => edits.get(row) ?? cells;

/** Reads every row once; of each only what it is is kept, and the file is read again where more is asked for. */
async function map({ mapping, fields, today }: Extract<ToWorker, { kind: 'map' }>, mine: number): Promise<void> {
  if (!source) return;
  if (mapping.header !== header) edits.clear();
  header = mapping.header;
  reading = { uses: mapping.uses, fields, region: mapping.region, dateOrder: mapping.dateOrder, today };
  const from = header ? 1 : 0;
  total = Math.max(0, source.rows - from);
  outcomes = new Uint8Array(total);
  why = new Uint16Array(total);
  numbers = new Float64Array(total);
  unwanted = new Uint8Array(total);
  reasons = [];
  dropped.clear();
  const known = new Map<string, number>();
  const seen = new Set<number>();
  for (let at = 0; at < total; at += STEP) {
    for (const [k, cells] of (await source.read(from + at, Math.min(STEP, total - at))).entries()) {
      const i = at + k;
      const r = readRow(i + 1, cellsOf(i + 1, cells), reading);
      const number = r.e164 === '' ? 0 : Number(r.e164.slice(1));
      const repeat = number !== 0 && seen.has(number);
      seen.add(number);
      const reason = repeat ? 'the same number stands in an earlier row' : r.reason;
      numbers[i] = number;
      outcomes[i] = OUTCOMES.indexOf(repeat ? 'repeat' : r.outcome);
      why[i] = placeOf(reason, known);
    }
    say({ kind: 'progress', done: Math.min(at + STEP, total), total });
    await new Promise((r) => setTimeout(r, 0));
    if (mine !== run) return;
  }
  await summary();
}

/** Reasons are few; beyond what can be told apart they are one. */
function placeOf(reason: string, known: Map<string, number>): number {
  const at = known.get(reason);
  if (at !== undefined) return at;
  if (reasons.length >= 2000) return placeOf('several things are doubtful', known);
  known.set(reason, reasons.length);
  return reasons.push(reason) - 1;
}

/** These numbers are contacts already; what was to look at stays to be looked at. */
function markKnown(e164s: readonly string[]): void {
  const here = new Set(e164s.map((e) => Number(e.slice(1))));
  let reason = reasons.indexOf(KNOWN);
  if (reason < 0) reason = reasons.push(KNOWN) - 1;
  for (let i = 0; i < total; i++) {
    if (outcomes[i] !== OUTCOMES.indexOf('ok') || !here.has(numbers[i] ?? 0)) continue;
    outcomes[i] = OUTCOMES.indexOf('known');
    why[i] = reason;
  }
}
const KNOWN = 'a contact here already';

function wanted(i: number): boolean {
  const outcome = OUTCOMES[outcomes[i] ?? 0] ?? 'ok';
  return outcome !== 'refused' && !unwanted[i] && !dropped.has(keyOf(outcome, reasons[why[i] ?? 0] ?? ''));
}

function rowAt(i: number, cells: readonly string[]): ReadRow {
  const r = readRow(i + 1, cellsOf(i + 1, cells), reading as Reading);
  return {
    ...r,
    outcome: OUTCOMES[outcomes[i] ?? 0] ?? 'ok',
    reason: reasons[why[i] ?? 0] ?? '',
    e164: e164Of(i),
    keep: wanted(i),
  };
}
async function rowsAt(from: number, count: number): Promise<ReadRow[]> {
  const cells = (await source?.read(from + (header ? 1 : 0), Math.min(count, total - from))) ?? [];
  return cells.map((c, k) => rowAt(from + k, c));
}
/** Rows by themselves, in their order: those of one stretch are read with it. */
async function rowsOf(places: readonly number[]): Promise<ReadRow[]> {
  const out: ReadRow[] = [];
  for (const i of places) out.push(...(await rowsAt(i, 1)));
  return out;
}

async function summary(): Promise<void> {
  const groups = new Map<string, { group: Group; first: number[] }>();
  let kept = 0;
  for (let i = 0; i < total; i++) {
    const [outcome, reason] = [OUTCOMES[outcomes[i] ?? 0] ?? 'ok', reasons[why[i] ?? 0] ?? ''];
    const key = keyOf(outcome, reason);
    let g = groups.get(key);
    if (!g) {
      const keep = outcome !== 'refused' && !dropped.has(key);
      groups.set(key, (g = { group: { outcome, reason, count: 0, examples: [], keep }, first: [] }));
    }
    g.group.count++;
    if (g.first.length < EXAMPLES) g.first.push(i);
    if (outcome !== 'repeat' && wanted(i)) kept++;
  }
  for (const { group, first } of groups.values())
    group.examples = (await rowsOf(first)).map(({ row, phone, e164 }) => ({ row, phone, e164 }));
  const order = (g: Group): number => OUTCOMES.indexOf(g.outcome);
  say({
    kind: 'read',
    total,
    groups: [...groups.values()].map((g) => g.group).sort((a, b) => order(a) - order(b) || b.count - a.count),
    kept,
  });
}

/** The first rows of a group. */
async function group(outcome: Outcome, reason: string): Promise<void> {
  const found: number[] = [];
  let more = false;
  for (let i = 0; i < total && !more; i++) {
    if (OUTCOMES[outcomes[i] ?? 0] !== outcome || reasons[why[i] ?? 0] !== reason) continue;
    if (found.length === GROUP_SHOWN) more = true;
    else found.push(i);
  }
  say({ kind: 'group', rows: await rowsOf(found), more });
}

/** A row as somebody mended it: read anew, in its own place. */
async function edit(row: number, values: Partial<Record<ColumnUse, string>>): Promise<void> {
  if (!source || !reading) return;
  const i = row - 1;
  const cells = [...cellsOf(row, (await source.read(i + (header ? 1 : 0), 1))[0] ?? [])];
  for (const [use, value] of Object.entries(values)) {
    const at = reading.uses.indexOf(use as ColumnUse);
    if (at < 0) continue;
    while (cells.length <= at) cells.push('');
    cells[at] = value ?? '';
  }
  edits.set(row, cells);
  const r = readRow(row, cells, reading);
  const number = r.e164 === '' ? 0 : Number(r.e164.slice(1));
  const repeat = number !== 0 && numbers.some((n, k) => n === number && k !== i);
  const reason = repeat ? 'the same number stands in another row' : r.reason;
  numbers[i] = number;
  outcomes[i] = OUTCOMES.indexOf(repeat ? 'repeat' : r.outcome);
  let place = reasons.indexOf(reason);
  if (place < 0) place = reasons.push(reason) - 1;
  why[i] = place;
  unwanted[i] = 0;
  await summary();
}

/** Rows that are refused or not wanted as they stand in the file, each with why: mended, they can be read again. */
async function refusedFile(): Promise<void> {
  if (!source) return;
  const from = header ? 1 : 0;
  const out: string[][] = [['why', ...heading]];
  for (let at = 0; at < total; at += STEP)
    for (const [k, cells] of (await source.read(from + at, Math.min(STEP, total - at))).entries()) {
      const i = at + k;
      const refused = OUTCOMES[outcomes[i] ?? 0] === 'refused';
      if (!refused && wanted(i)) continue;
      const kept = cellsOf(i + 1, cells);
      out.push([refused ? (reasons[why[i] ?? 0] ?? '') : 'not wanted', ...heading.map((_, c) => kept[c] ?? '')]);
    }
  // A cell that begins like a formula is none where the file is opened in a spreadsheet.
  say({ kind: 'refusedFile', csv: `\uFEFF${Papa.unparse(out, { escapeFormulae: true })}\r\n` });
}

/** Numbers that are to be compared with those who are here, from a row on. */
function numbersFrom(from: number, count: number): void {
  const e164s: string[] = [];
  let i = from;
  for (; i < total && e164s.length < count; i++) if (OUTCOMES[outcomes[i] ?? 0] === 'ok') e164s.push(e164Of(i));
  say({ kind: 'numbers', e164s, next: i < total ? i : null });
}

/** One after the other, since reading takes its time: what is asked meanwhile waits its turn. */
let turn: Promise<void> = Promise.resolve();
addEventListener('message', ({ data: m }: MessageEvent<ToWorker>) => {
  // What is asked of another file, or read in another way, makes what is under way worth nothing.
  if (m.kind === 'open' || m.kind === 'map') run++;
  const mine = run;
  turn = turn
    .then(() => carryOut(m, mine))
    .catch((error: unknown) => {
      if (error instanceof Unreadable) say({ kind: 'unreadable', message: error.message });
      else
        setTimeout(() => {
          // As if nothing had caught it: the page is told that it failed.
          throw error;
        });
    });
});

async function carryOut(m: ToWorker, mine: number): Promise<void> {
  switch (m.kind) {
    case 'open':
      return open(m);
    case 'map':
      return map(m, mine);
    case 'known':
      return markKnown(m.e164s);
    case 'knownAll':
      return summary();
    case 'keep':
      if (m.keep) dropped.delete(keyOf(m.outcome, m.reason));
      else dropped.add(keyOf(m.outcome, m.reason));
      if (m.keep)
        for (let i = 0; i < total; i++)
          if (OUTCOMES[outcomes[i] ?? 0] === m.outcome && reasons[why[i] ?? 0] === m.reason) unwanted[i] = 0;
      return summary();
    case 'keepAll':
      dropped.clear();
      unwanted.fill(m.keep ? 0 : 1);
      return summary();
    case 'keepRow':
      unwanted[m.row - 1] = m.keep ? 0 : 1;
      return summary();
    case 'edit':
      return edit(m.row, m.values);
    case 'group':
      return group(m.outcome, m.reason);
    case 'numbers':
      return numbersFrom(m.from, m.count);
    case 'refused':
      return refusedFile();
    case 'rows':
      return say({ kind: 'rows', from: m.from, rows: await rowsAt(m.from, m.count) });
  }
}
