import Papa from 'papaparse';
import {
  decodeText,
  guessColumns,
  looksLikeHeader,
  readPhone,
  type ColumnUse,
  type Group,
  type ReadRow,
} from './reading';

/** What the page asks of the worker. */
export type ToWorker =
  | { kind: 'open'; bytes: ArrayBuffer; name: string }
  | { kind: 'map'; uses: ColumnUse[]; header: boolean }
  | { kind: 'keep'; outcome: ReadRow['outcome']; reason: string; keep: boolean }
  | { kind: 'rows'; from: number; count: number }
  | { kind: 'group'; outcome: ReadRow['outcome']; reason: string }
  | { kind: 'keepRow'; row: number; keep: boolean };
/** What it answers. */
export type FromWorker =
  | { kind: 'refused'; message: string }
  | {
      kind: 'opened';
      encoding: string;
      header: boolean;
      columns: string[];
      uses: ColumnUse[];
      sample: string[][];
      total: number;
    }
  | { kind: 'progress'; done: number; total: number }
  | { kind: 'read'; total: number; groups: Group[]; kept: number }
  | { kind: 'rows'; rows: ReadRow[]; from: number }
  | { kind: 'group'; rows: ReadRow[]; more: boolean };

const MAX_ROWS = 2_000_000;
const STEP = 20_000;
/** Rows of one group shown at once. */
const GROUP_SHOWN = 500;

let cells: string[][] = [];
let hasHeader = false;
let rows: ReadRow[] = [];
/** Groups, and single rows, that are not wanted. */
const dropped = new Set<string>();
const droppedRows = new Set<number>();
let run = 0;

const say = (message: FromWorker): void => postMessage(message);

function open(bytes: ArrayBuffer): void {
  const decoded = decodeText(new Uint8Array(bytes));
  if ('error' in decoded) return say({ kind: 'refused', message: decoded.error });
  const text = decoded.text.replace(/^\uFEFF/, '');
  if (text.trim() === '') return say({ kind: 'refused', message: 'There is nothing but white space in it.' });
  const longest = text
    .slice(0, 200_000)
    .split(/\r\n|\n|\r/, 50)
    .reduce((n, l) => Math.max(n, l.length), 0);
  if (longest > 100_000)
    return say({ kind: 'refused', message: 'A line is longer than 100,000 characters; this is no list of contacts.' });
  const parsed = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy', delimitersToGuess: [',', ';', '\t', '|'] });
  cells = parsed.data.filter((r) => r.length > 0);
  if (cells.length === 0) return say({ kind: 'refused', message: 'There are no rows in it.' });
  if (cells.length > MAX_ROWS)
    return say({
      kind: 'refused',
      message: `There are ${cells.length.toLocaleString('en-US')} rows; at most ${MAX_ROWS.toLocaleString('en-US')} are taken at once. Split the file.`,
    });
  hasHeader = looksLikeHeader(cells[0] ?? [], cells[1]);
  const width = Math.min(40, Math.max(...cells.slice(0, 200).map((r) => r.length)));
  const header = Array.from({ length: width }, (_, i) => (hasHeader ? (cells[0]?.[i] ?? '') : `Column ${i + 1}`));
  const sample = cells.slice(hasHeader ? 1 : 0, 200);
  const uses = guessColumns(hasHeader ? header : header.map(() => ''), sample);
  say({
    kind: 'opened',
    encoding: decoded.encoding,
    header: hasHeader,
    columns: header,
    uses,
    sample: sample.slice(0, 3).map((r) => header.map((_, i) => r[i] ?? '')),
    total: cells.length - (hasHeader ? 1 : 0),
  });
}

async function map(uses: ColumnUse[], header: boolean): Promise<void> {
  const mine = ++run;
  const from = header ? 1 : 0;
  const total = cells.length - from;
  const column = (use: ColumnUse): number => uses.indexOf(use);
  const at = {
    phone: column('phone'),
    firstName: column('firstName'),
    lastName: column('lastName'),
    email: column('email'),
    stateCode: column('stateCode'),
  };
  const seen = new Set<string>();
  const out: ReadRow[] = [];
  dropped.clear();
  droppedRows.clear();
  for (let i = from; i < cells.length; i++) {
    const cell = cells[i] ?? [];
    const get = (k: number): string => (k < 0 ? '' : (cell[k] ?? '').trim().slice(0, 200));
    const phone = get(at.phone);
    const read = readPhone(phone);
    const repeat = read.e164 !== '' && seen.has(read.e164);
    if (read.e164 !== '') seen.add(read.e164);
    out.push({
      row: i - from + 1,
      phone,
      firstName: get(at.firstName),
      lastName: get(at.lastName),
      email: get(at.email),
      stateCode: /^[A-Za-z]{2}$/.test(get(at.stateCode)) ? get(at.stateCode).toUpperCase() : '',
      ...read,
      ...(repeat ? { outcome: 'repeat' as const, reason: 'the same number stands in an earlier row' } : {}),
      keep: true,
    });
    if (out.length % STEP === 0) {
      say({ kind: 'progress', done: out.length, total });
      await new Promise((r) => setTimeout(r, 0));
      if (mine !== run) return;
    }
  }
  rows = out;
  summary();
}

function wanted(r: ReadRow): boolean {
  return r.outcome !== 'refused' && !dropped.has(`${r.outcome}|${r.reason}`) && !droppedRows.has(r.row);
}

function summary(): void {
  const groups = new Map<string, Group>();
  let kept = 0;
  for (const r of rows) {
    const key = `${r.outcome}|${r.reason}`;
    let g = groups.get(key);
    if (!g)
      groups.set(
        key,
        (g = {
          outcome: r.outcome,
          reason: r.reason,
          count: 0,
          examples: [],
          keep: r.outcome !== 'refused' && !dropped.has(key),
        }),
      );
    g.count++;
    if (g.keep && r.outcome !== 'repeat' && !droppedRows.has(r.row)) kept++;
    if (g.examples.length < 5) g.examples.push({ row: r.row, phone: r.phone, e164: r.e164 });
  }
  const order = { ok: 0, look: 1, repeat: 2, refused: 3 };
  say({
    kind: 'read',
    total: rows.length,
    groups: [...groups.values()].sort((a, b) => order[a.outcome] - order[b.outcome] || b.count - a.count),
    kept,
  });
}

addEventListener('message', (event: MessageEvent<ToWorker>) => {
  const m = event.data;
  if (m.kind === 'open') open(m.bytes);
  if (m.kind === 'map') void map(m.uses, m.header);
  if (m.kind === 'keep') {
    const key = `${m.outcome}|${m.reason}`;
    if (m.keep) dropped.delete(key);
    else dropped.add(key);
    summary();
  }
  if (m.kind === 'keepRow') {
    if (m.keep) droppedRows.delete(m.row);
    else droppedRows.add(m.row);
    summary();
  }
  if (m.kind === 'group') {
    const all = rows.filter((r) => r.outcome === m.outcome && r.reason === m.reason);
    say({
      kind: 'group',
      rows: all.slice(0, GROUP_SHOWN).map((r) => ({ ...r, keep: wanted(r) })),
      more: all.length > GROUP_SHOWN,
    });
  }
  if (m.kind === 'rows')
    say({
      kind: 'rows',
      from: m.from,
      rows: rows.slice(m.from, m.from + m.count).map((r) => ({ ...r, keep: wanted(r) })),
    });
});
