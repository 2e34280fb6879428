import Papa from 'papaparse';

/** The rows of a file, its heading first where it has one; read a stretch at a time. */
export interface Source {
  /** Rows in all, the heading among them. */
  readonly rows: number;
  /** Some rows from a place on. */
  read(from: number, count: number): string[][];
}
/** What a file can be read as, where that is for the person to say. */
export interface SourceChoices {
  encoding?: string;
  delimiter?: string;
  sheet?: string;
}
export interface OpenedSource {
  source: Source;
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
/** Characters read at once; about two thousand rows of a usual file. */
const STRETCH = 256 * 1024;

/** Decodes a file as UTF-8, UTF-16 (by its mark or its zero bytes) or, failing that, Windows-1252; refuses what is no text. */
export function decodeText(bytes: Uint8Array, wanted?: string): { text: string; encoding: string } | { error: string } {
  if (bytes.length === 0) return { error: 'The file is empty.' };
  if (wanted !== undefined) return { text: new TextDecoder(wanted).decode(bytes), encoding: wanted };
  const head = bytes.subarray(0, 4096);
  const as = (encoding: string) => ({ text: new TextDecoder(encoding).decode(bytes), encoding });
  if (head[0] === 0xff && head[1] === 0xfe) return as('UTF-16LE');
  if (head[0] === 0xfe && head[1] === 0xff) return as('UTF-16BE');
  const odd = head.filter((b, i) => i % 2 === 1 && b === 0).length;
  const even = head.filter((b, i) => i % 2 === 0 && b === 0).length;
  const half = head.length / 2;
  if (half > 4 && odd > half * 0.6 && even < half * 0.1) return as('UTF-16LE');
  if (half > 4 && even > half * 0.6 && odd < half * 0.1) return as('UTF-16BE');
  const control = head.filter((b) => b !== 0 && (b < 9 || (b > 13 && b < 32))).length;
  const zeros = head.filter((b) => b === 0).length;
  if (control > head.length * 0.02 || zeros > head.length * 0.1)
    return { error: 'This is no CSV or text file: it holds binary data. Export the list as CSV and drop that.' };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' };
  } catch {
    return as('Windows-1252');
  }
}

/** Delimited text, of which only the places of its stretches are kept beside it: a million rows are read again as needed. */
class TextSource implements Source {
  /** Where each stretch begins in the text, and how many rows stand before it. */
  private readonly stretches: { at: number; before: number }[] = [];
  readonly rows: number;
  private last: { stretch: number; rows: string[][] } | null = null;

  constructor(
    private readonly text: string,
    private readonly delimiter: string,
  ) {
    let rows = 0;
    let at = 0;
    const take = ({ data, meta }: Papa.ParseResult<string[]>): void => {
      this.stretches.push({ at, before: rows });
      rows += data.length;
      at = meta.cursor;
    };
    // Its types know stretches of files alone; it reads those of a text in the same way, at once.
    const config = { ...this.config(), chunkSize: STRETCH, chunk: take, complete: () => undefined };
    Papa.parse<string[]>(text as unknown as File, config);
    this.rows = rows;
  }

  read(from: number, count: number): string[][] {
    const out: string[][] = [];
    let s = this.stretchOf(from);
    for (let next = from; out.length < count && s < this.stretches.length; s++) {
      const skip = next - (this.stretches[s]?.before ?? 0);
      const part = this.stretch(s).slice(skip, skip + count - out.length);
      out.push(...part);
      next += part.length;
    }
    return out;
  }

  private config() {
    return { delimiter: this.delimiter, newline: '\n' as const, skipEmptyLines: 'greedy' as const };
  }
  private stretchOf(row: number): number {
    let [low, high] = [0, this.stretches.length - 1];
    while (low < high) {
      const mid = Math.ceil((low + high) / 2);
      if ((this.stretches[mid]?.before ?? 0) <= row) low = mid;
      else high = mid - 1;
    }
    return low;
  }
  private stretch(i: number): string[][] {
    if (this.last?.stretch === i) return this.last.rows;
    const from = this.stretches[i]?.at ?? 0;
    const to = this.stretches[i + 1]?.at ?? this.text.length;
    const rows = Papa.parse<string[]>(this.text.slice(from, to), this.config()).data;
    this.last = { stretch: i, rows };
    return rows;
  }
}

class ListSource implements Source {
  constructor(private readonly cells: string[][]) {}
  get rows(): number {
    return this.cells.length;
  }
  read(from: number, count: number): string[][] {
    return this.cells.slice(from, from + count);
  }
}

/** Refuses a file with what is wrong with it and what to do. */
export class Unreadable extends Error {}

/** Opens whatever it is: a spreadsheet, address cards, lines of JSON, or delimited text. @throws Unreadable */
export async function openSource(bytes: ArrayBuffer, name: string, choices: SourceChoices = {}): Promise<OpenedSource> {
  const head = new Uint8Array(bytes, 0, Math.min(4, bytes.byteLength));
  if (head[0] === 0x50 && head[1] === 0x4b) return openWorkbook(bytes, choices.sheet);
  if (/\.xls$/i.test(name) && head[0] === 0xd0)
    throw new Unreadable('This is a spreadsheet of the old kind (XLS). Save it as XLSX or CSV and choose that.');
  const decoded = decodeText(new Uint8Array(bytes), choices.encoding);
  if ('error' in decoded) throw new Unreadable(decoded.error);
  const text = decoded.text.replace(/^\uFEFF/, '').replace(/\r\n?/g, '\n');
  if (text.trim() === '') throw new Unreadable('There is nothing but white space in it.');
  const { encoding } = decoded;
  if (/^\s*BEGIN:VCARD/i.test(text))
    return { source: await readCards(text), encoding: `vCard, ${encoding}`, headed: true };
  const lines = readJsonLines(text);
  if (lines) return { source: lines, encoding: `JSON Lines, ${encoding}`, headed: true };
  const longest = text
    .slice(0, 200_000)
    .split('\n', 50)
    .reduce((n, l) => Math.max(n, l.length), 0);
  if (longest > 100_000) throw new Unreadable('A line is longer than 100,000 characters; this is no list of contacts.');
  const delimiter =
    choices.delimiter ??
    Papa.parse(text.slice(0, 65_536), {
      preview: 50,
      skipEmptyLines: 'greedy',
      delimitersToGuess: DELIMITERS.map((d) => d.value),
    }).meta.delimiter;
  const source = new TextSource(text, delimiter);
  if (source.rows === 0) throw new Unreadable('There are no rows in it.');
  if (source.rows > MAX_ROWS)
    throw new Unreadable(
      `There are ${source.rows.toLocaleString('en-US')} rows; at most ${MAX_ROWS.toLocaleString('en-US')} are taken at once. Split the file.`,
    );
  return { source, encoding, delimiter };
}

async function openWorkbook(bytes: ArrayBuffer, wanted?: string): Promise<OpenedSource> {
  const { default: ExcelJS } = await import('exceljs');
  const book = new ExcelJS.Workbook();
  try {
    await book.xlsx.load(bytes);
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
