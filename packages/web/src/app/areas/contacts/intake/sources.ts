import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import Papa from 'papaparse';
import { bytesOf, encodingOf, TextSource, Unreadable, type Source } from './text-source';

/** What a file can be read as, where that is for the person to say. */
export interface SourceChoices {
  encoding?: string;
  delimiter?: string;
  sheet?: string;
}
export interface OpenedSource {
  source: Source;
  /** SHA-256 of the file, in hexadecimal, by which it is known again. */
  digest: string;
  /** What it was read as, in words: `UTF-8`, `sheet 1 of 3`. */
  encoding: string;
  /** Set where another can be chosen. */
  delimiter?: string;
  sheets?: string[];
  sheet?: string;
  /** It has its own heading: nobody need say whether the first row is one. */
  headed?: boolean;
}

export const DELIMITERS: readonly { value: string; label: string }[] = [
  { value: ',', label: 'comma' },
  { value: ';', label: 'semicolon' },
  { value: '\t', label: 'tab' },
  { value: '|', label: 'vertical bar' },
];
export const ENCODINGS = ['UTF-8', 'UTF-16LE', 'UTF-16BE', 'Windows-1252', 'ISO-8859-2', 'Shift_JIS'] as const;
/** Rows of a spreadsheet that are read in a browser; it is held in memory whole. */
export const SHEET_ROWS = 100_000;
export const MAX_ROWS = 2_000_000;
/** So much of a file tells what it is. */
const HEAD = 256 * 1024;

class ListSource implements Source {
  constructor(private readonly cells: string[][]) {}
  get rows(): number {
    return this.cells.length;
  }
  read(from: number, count: number): Promise<string[][]> {
    return Promise.resolve(this.cells.slice(from, from + count));
  }
}

/** Opens whatever it is: a spreadsheet, address cards, lines of JSON, or delimited text. @throws Unreadable */
export async function openSource(file: Blob, name: string, choices: SourceChoices = {}): Promise<OpenedSource> {
  const head = await bytesOf(file, 0, Math.min(file.size, HEAD));
  if (head[0] === 0x50 && head[1] === 0x4b) {
    const bytes = await bytesOf(file);
    return { digest: bytesToHex(sha256(bytes)), ...(await openWorkbook(bytes, choices.sheet)) };
  }
  if (/\.xls$/i.test(name) && head[0] === 0xd0)
    throw new Unreadable('This is a spreadsheet of the old kind (XLS). Save it as XLSX or CSV and choose that.');
  const found = choices.encoding ? { encoding: choices.encoding, sure: false } : encodingOf(head.subarray(0, 4096));
  if ('error' in found) throw new Unreadable(found.error);
  // The head may end within a letter, and what is found by it may be wrong further on.
  const shown = new TextDecoder(found.encoding).decode(head).replace(/\r\n?/g, '\n');
  if (/^\s*BEGIN:VCARD/i.test(shown) || /^\s*\{/.test(shown)) {
    const whole = await wholeText(file, found);
    const { digest, encoding } = whole;
    if (/^\s*BEGIN:VCARD/i.test(shown))
      return { source: await readCards(whole.text), digest, encoding: `vCard, ${encoding}`, headed: true };
    const lines = readJsonLines(whole.text);
    if (lines) return { source: lines, digest, encoding: `JSON Lines, ${encoding}`, headed: true };
  }
  const longest = shown
    .slice(0, 200_000)
    .split('\n', 50)
    .reduce((n, l) => Math.max(n, l.length), 0);
  if (longest > 100_000) throw new Unreadable('A line is longer than 100,000 characters; this is no list of contacts.');
  const delimiter =
    choices.delimiter ??
    Papa.parse(shown.slice(0, 65_536), {
      preview: 50,
      skipEmptyLines: 'greedy',
      delimitersToGuess: DELIMITERS.map((d) => d.value),
    }).meta.delimiter;
  const opened =
    (await openText(file, { ...found, delimiter })) ??
    (await openText(file, { encoding: 'Windows-1252', sure: false, delimiter }));
  if (!opened) throw new Unreadable('This file is no text that can be read. Export the list as CSV and drop that.');
  const { rows } = opened.source;
  if (rows === 0)
    throw new Unreadable(shown.trim() === '' ? 'There is nothing but white space in it.' : 'There are no rows in it.');
  if (rows > MAX_ROWS)
    throw new Unreadable(
      `There are ${rows.toLocaleString('en-US')} rows; at most ${MAX_ROWS.toLocaleString('en-US')} are taken at once. Split the file.`,
    );
  return { ...opened, delimiter };
}

/** Delimited text, gone through once; null where it is not of that encoding. */
async function openText(
  file: Blob,
  o: { encoding: string; sure: boolean; delimiter: string },
): Promise<Pick<OpenedSource, 'source' | 'digest' | 'encoding'> | null> {
  const hash = sha256.create();
  const source = await TextSource.open(file, { ...o, take: (bytes) => void hash.update(bytes) });
  return source && { source, digest: bytesToHex(hash.digest()), encoding: o.encoding };
}

/** A whole file as text, for what is not read a stretch at a time. */
async function wholeText(
  file: Blob,
  { encoding, sure }: { encoding: string; sure: boolean },
): Promise<{ text: string; digest: string; encoding: string }> {
  const bytes = await bytesOf(file);
  const digest = bytesToHex(sha256(bytes));
  const as = (of: string, fatal: boolean) => ({
    text: new TextDecoder(of, { fatal }).decode(bytes).replace(/\r\n?/g, '\n'),
    digest,
    encoding: of,
  });
  try {
    return as(encoding, sure);
  } catch {
    return as('Windows-1252', false);
  }
}

async function openWorkbook(bytes: Uint8Array, wanted?: string): Promise<Omit<OpenedSource, 'digest'>> {
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  try {
    await book.xlsx.load(bytes.buffer as ArrayBuffer);
  } catch {
    throw new Unreadable('This spreadsheet could not be read. Save it as CSV and choose that.');
  }
  const sheets = book.worksheets.filter((s) => s.actualRowCount > 0);
  const sheet = sheets.find((s) => s.name === wanted) ?? sheets[0];
  if (!sheet) throw new Unreadable('There is nothing in this spreadsheet.');
  if (sheet.actualRowCount > SHEET_ROWS)
    throw new Unreadable(
      `The sheet “${sheet.name}” has ${sheet.actualRowCount.toLocaleString('en-US')} rows; a browser reads ${SHEET_ROWS.toLocaleString('en-US')} of a spreadsheet. Save it as CSV and choose that: a million rows are no trouble then.`,
    );
  const cells: string[][] = [];
  sheet.eachRow((row) => {
    const out: string[] = [];
    row.eachCell({ includeEmpty: true }, (cell, i) => {
      out[i - 1] = cellText(cell.value, cell.text);
    });
    if (out.some((c) => c !== '')) cells.push(Array.from(out, (c) => c ?? ''));
  });
  return {
    source: new ListSource(cells),
    encoding: 'XLSX',
    sheets: sheets.map((s) => s.name),
    sheet: sheet.name,
  };
}

/** A cell as somebody would copy it: a day as `YYYY-MM-DD`, a number without its format. */
function cellText(value: unknown, shown: string): string {
  if (value === null || value === undefined) return '';
  if (value instanceof Date) return value.toISOString().slice(0, 10);
  if (typeof value === 'number') return String(value);
  if (typeof value === 'object' && 'result' in value) return cellText(value.result, shown);
  return shown;
}

const CARD = [
  'Whole name',
  'Phone',
  'Other phone',
  'E-mail',
  'Street',
  'City',
  'State',
  'ZIP code',
  'Language',
  'Tags',
];

/** Address cards (vCard 3.0 and 4.0, RFC 6350): one row each; one that cannot be read is a row without a number. */
async function readCards(text: string): Promise<Source> {
  const { default: ICAL } = await import('ical.js');
  const cells: string[][] = [CARD];
  for (const [card] of text.matchAll(/BEGIN:VCARD[\s\S]*?END:VCARD/gi)) {
    try {
      const c = new ICAL.Component(ICAL.parse(card) as unknown as unknown[]);
      const first = (key: string): unknown => c.getFirstPropertyValue(key);
      const all = (key: string): string[] => c.getAllProperties(key).map((x) => String(x.getFirstValue()));
      const n = first('n');
      const parts = (Array.isArray(n) ? n : []).map((x) => String(x));
      const phones = c
        .getAllProperties('tel')
        .sort((a, b) => telRank(a.getParameter('type')) - telRank(b.getParameter('type')))
        .map((x) => String(x.getFirstValue()));
      const adr = first('adr');
      const at = (i: number): string => (Array.isArray(adr) ? [adr[i]].flat().join(' ') : '');
      const whole =
        parts[0] || parts[1] ? `${parts[0] ?? ''}, ${parts[1] ?? ''}`.replace(/^, |, $/g, '') : (all('fn')[0] ?? '');
      const tags = c.getAllProperties('categories').flatMap((x) => x.getValues().map((y) => String(y)));
      cells.push([
        whole,
        phones[0] ?? '',
        phones[1] ?? '',
        all('email')[0] ?? '',
        at(2),
        at(3),
        at(4),
        at(5),
        all('lang')[0] ?? '',
        tags.join(';'),
      ]);
    } catch {
      cells.push([card.slice(0, 80).replace(/\s+/g, ' '), '']);
    }
  }
  if (cells.length === 1) throw new Unreadable('No address card in it is whole.');
  return new ListSource(cells);
}
/** Mobile numbers come first: texts reach them. */
function telRank(type: string | string[] | undefined): number {
  const types = [type ?? ''].flat().map((t) => t.toLowerCase());
  return types.some((t) => t === 'cell' || t === 'text') ? 0 : types.some((t) => t === 'fax' || t === 'pager') ? 2 : 1;
}

/** One JSON object a line; null where it is something else. A line that is none is a row that says so. */
function readJsonLines(text: string): Source | null {
  if (!/^\s*\{/.test(text)) return null;
  const objects: (Record<string, unknown> | string)[] = [];
  for (const line of text.split('\n')) {
    if (line.trim() === '') continue;
    try {
      const read: unknown = JSON.parse(line);
      objects.push(read !== null && typeof read === 'object' && !Array.isArray(read) ? flat(read) : line.slice(0, 80));
    } catch {
      objects.push(line.slice(0, 80));
    }
  }
  const keys = new Set<string>();
  for (const o of objects.slice(0, 1000)) if (typeof o === 'object') for (const k of Object.keys(o)) keys.add(k);
  if (keys.size === 0) return null;
  const header = [...keys].slice(0, 60);
  const cellsOf = (o: Record<string, unknown> | string): string[] =>
    typeof o === 'string' ? [o] : header.map((k) => said(o[k]));
  return new ListSource([header, ...objects.map(cellsOf)]);
}
function flat(of: object, before = ''): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const [k, v] of Object.entries(of))
    if (v !== null && typeof v === 'object' && !Array.isArray(v) && before === '')
      Object.assign(out, flat(v as object, `${k}.`));
    else out[before + k] = v;
  return out;
}
const said = (v: unknown): string =>
  v === null || v === undefined
    ? ''
    : Array.isArray(v)
      ? v.map(said).join(';')
      : typeof v === 'object'
        ? JSON.stringify(v)
        : String(v as string | number | boolean);
