import Papa from 'papaparse';

/** The rows of a file, its heading first where it has one; read a stretch at a time. */
export interface Source {
  /** Rows in all, the heading among them. */
  readonly rows: number;
  /** Some rows from a place on. @throws Unreadable where the file is not there any more as it was. */
  read(from: number, count: number): Promise<string[][]>;
}

/** Refuses a file with what is wrong with it and what to do. */
export class Unreadable extends Error {}

/** Bytes read at once; about four thousand rows of a usual file. */
const STRETCH = 512 * 1024;
const NEW_LINE = 0x0a;
const RETURN = 0x0d;

/** Where a stretch of whole rows begins in the file, and how many rows stand before it. */
interface Stretch {
  at: number;
  before: number;
}

/** The bytes of a file from one place to another. @throws Unreadable */
export async function bytesOf(file: Blob, from = 0, to = file.size): Promise<Uint8Array> {
  try {
    return new Uint8Array(await file.slice(from, to).arrayBuffer());
  } catch {
    throw new Unreadable('This file was changed or taken away since it was chosen. Choose it again.');
  }
}

/**
 * Delimited text that stays in its file: of it only the places of its stretches are kept, and a stretch is read again as
 * it is needed, so that a file of any size takes the memory of one stretch.
 */
export class TextSource implements Source {
  private last: { stretch: number; rows: string[][] } | null = null;

  private constructor(
    private readonly file: Blob,
    private readonly encoding: string,
    private readonly delimiter: string,
    private readonly stretches: readonly Stretch[],
    readonly rows: number,
  ) {}

  /**
   * Goes through the file once. @param o.take each stretch of bytes as it goes by, for its digest.
   * @param o.stretch bytes read at once.
   * @returns null where a byte is none of the encoding, if that is to be `sure`.
   * @throws Unreadable
   */
  static async open(
    file: Blob,
    o: { encoding: string; delimiter: string; sure: boolean; take?: (bytes: Uint8Array) => void; stretch?: number },
  ): Promise<TextSource | null> {
    const decoder = new TextDecoder(o.encoding, { fatal: o.sure });
    const stretches: Stretch[] = [];
    let rows = 0;
    let at = 0;
    const usual = o.stretch ?? STRETCH;
    let size = usual;
    while (at < file.size) {
      const bytes = await bytesOf(file, at, Math.min(file.size, at + size));
      const end = at + bytes.length >= file.size ? bytes.length : endOfLine(bytes, o.encoding);
      let read: { rows: string[][]; whole: boolean } | null = null;
      if (end > 0)
        try {
          read = rowsIn(decoder.decode(bytes.subarray(0, end)), o.delimiter);
        } catch {
          return null;
        }
      // A line longer than the stretch, or a cell in quotes that goes on after it: more is taken at once.
      if (!read || (!read.whole && at + end < file.size)) {
        size *= 2;
        continue;
      }
      o.take?.(bytes.subarray(0, end));
      stretches.push({ at, before: rows });
      rows += read.rows.length;
      at += end;
      size = usual;
    }
    return new TextSource(file, o.encoding, o.delimiter, stretches, rows);
  }

  async read(from: number, count: number): Promise<string[][]> {
    const out: string[][] = [];
    let s = this.stretchOf(from);
    for (let next = from; out.length < count && s < this.stretches.length; s++) {
      const skip = next - (this.stretches[s]?.before ?? 0);
      const part = (await this.stretch(s)).slice(skip, skip + count - out.length);
      out.push(...part);
      next += part.length;
    }
    return out;
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
  private async stretch(i: number): Promise<string[][]> {
    if (this.last?.stretch === i) return this.last.rows;
    const bytes = await bytesOf(this.file, this.stretches[i]?.at, this.stretches[i + 1]?.at);
    const { rows } = rowsIn(new TextDecoder(this.encoding).decode(bytes), this.delimiter);
    this.last = { stretch: i, rows };
    return rows;
  }
}

/** The rows of a text of whole lines, and whether its last cell has ended: one in quotes may go on after it. */
function rowsIn(text: string, delimiter: string): { rows: string[][]; whole: boolean } {
  const { data, errors } = Papa.parse<string[]>(text.replace(/\r\n?/g, '\n'), {
    delimiter,
    newline: '\n',
    skipEmptyLines: 'greedy',
  });
  return { rows: data, whole: !errors.some((e) => e.code === 'MissingQuotes') };
}

/** How many bytes end with the last line that ends in them; 0 where none does. No encoding here has these bytes in a letter. */
function endOfLine(bytes: Uint8Array, encoding: string): number {
  const wide = encoding.startsWith('UTF-16');
  const big = encoding === 'UTF-16BE';
  const lastOf = (byte: number, from = bytes.length - 1): number => {
    for (let i = bytes.lastIndexOf(byte, from); i >= 0; i = i === 0 ? -1 : bytes.lastIndexOf(byte, i - 1)) {
      if (!wide) return i + 1;
      // Two bytes a letter: the other one is zero, and the pair stands where pairs do.
      if (big ? i % 2 === 1 && bytes[i - 1] === 0 : i % 2 === 0 && i + 1 < bytes.length && bytes[i + 1] === 0)
        return big ? i + 1 : i + 2;
    }
    return 0;
  };
  const end = lastOf(NEW_LINE);
  if (end > 0) return end;
  // Lines that end with a return alone; the very last one may be the first half of a pair.
  return lastOf(RETURN, bytes.length - (wide ? 3 : 2));
}

/** How the bytes a file begins with are encoded, by their mark or by what they are; an error where they are no text. */
export function encodingOf(head: Uint8Array): { encoding: string; sure: boolean } | { error: string } {
  if (head.length === 0) return { error: 'The file is empty.' };
  if (head[0] === 0xff && head[1] === 0xfe) return { encoding: 'UTF-16LE', sure: false };
  if (head[0] === 0xfe && head[1] === 0xff) return { encoding: 'UTF-16BE', sure: false };
  const odd = head.filter((b, i) => i % 2 === 1 && b === 0).length;
  const even = head.filter((b, i) => i % 2 === 0 && b === 0).length;
  const half = head.length / 2;
  if (half > 4 && odd > half * 0.6 && even < half * 0.1) return { encoding: 'UTF-16LE', sure: false };
  if (half > 4 && even > half * 0.6 && odd < half * 0.1) return { encoding: 'UTF-16BE', sure: false };
  const control = head.filter((b) => b !== 0 && (b < 9 || (b > 13 && b < 32))).length;
  const zeros = head.filter((b) => b === 0).length;
  if (control > head.length * 0.02 || zeros > head.length * 0.1)
    return { error: 'This is no CSV or text file: it holds binary data. Export the list as CSV and drop that.' };
  return { encoding: 'UTF-8', sure: true };
}
