import { DataTypes, type CreationAttributes, type Model } from 'sequelize';
import { jsonRows, type Writer } from './db.js';
import { snake, type Column, type Table } from './table.js';

/** So many rows go into one statement: while the database writes one, the next is put into words. */
const LOT = 500;
/** From so many rows on it is worth a statement of its own that what all of them say alike goes there once. */
const ALIKE_FROM = 20;
/** What JSON does not tell apart, or tells by another name, than the column wants. */
const CASTS = new Map<unknown, string>([
  [DataTypes.INTEGER, 'BIGINT'],
  [DataTypes.BIGINT, 'BIGINT'],
  [DataTypes.BOOLEAN, 'BOOLEAN'],
  [DataTypes.DOUBLE, 'DOUBLE PRECISION'],
]);

/** A list in lots of so many, the last of what is left. */
export function* lotsOf<T>(list: readonly T[], size: number): Generator<T[]> {
  for (let i = 0; i < list.length; i += size) yield list.slice(i, i + size);
}

/** So many bytes are gone through at once, within a millisecond or two. */
const SLICE = 2 ** 20;
/** Many bytes in slices, between which others have their turn. */
export async function* slicesOf(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += SLICE) {
    if (at > 0) await new Promise((resolve) => setImmediate(resolve));
    yield bytes.subarray(at, at + SLICE);
  }
}

/** Rows of a table put into words, so that only the writing of them is left to do. */
export interface Worded {
  write(w: Writer): Promise<void>;
}

/**
 * Puts rows of one table into the words of one statement: for what is brought in by the thousand, where a model for each
 * row would take far longer than the database. What a row does not name gets the default of its column; what many rows
 * say alike is said once.
 * @param rows all with the same members; at least one.
 * @throws Error where one has others than the first, or bytes, which do not travel this way.
 */
export function inWords<M extends Model>(table: Table<M>, rows: readonly CreationAttributes<M>[]): Worded {
  const all = rows as readonly Record<string, unknown>[];
  const [first = {}] = all;
  const names = Object.keys(first);
  for (const row of all) {
    let members = 0;
    for (const name in row) {
      if (row[name] === undefined) throw new Error(`A row of ${table.name} does not say its “${name}”.`);
      members++;
    }
    if (members !== names.length) throw new Error(`Rows of ${table.name} differ in what they name.`);
  }
  const isAlike = (name: string): boolean => all.length >= ALIKE_FROM && all.every((r) => r[name] === first[name]);
  const once = names.filter(isAlike);
  const each = names.filter((name) => !once.includes(name));
  const columns = table.columns as Record<string, Column>;
  const plain = (name: string, value: unknown): unknown => {
    if (value === undefined) throw new Error(`Rows of ${table.name} differ in what they name.`);
    const codec = columns[name]?.codec;
    return codec && value !== null ? JSON.stringify(codec.parse(value)) : value;
  };
  const typed = (name: string, said: string): string => {
    const type = columns[name]?.type;
    if (type === undefined || type === DataTypes.BLOB)
      throw new Error(`“${name}” of ${table.name} cannot be written in bulk.`);
    const cast = CASTS.get(type);
    return cast ? `CAST(${said} AS ${cast})` : said;
  };
  const values = [
    ...each.map((name, i) => typed(name, `value->>${i}`)),
    // What a parameter is cannot be told from its column there.
    ...once.map((name, i) => typed(name, CASTS.has(columns[name]?.type) ? `$${i + 2}` : `CAST($${i + 2} AS TEXT)`)),
  ];
  const text = `INSERT INTO "${table.name}" (${[...each, ...once].map((n) => `"${snake(n)}"`).join(', ')}) SELECT ${values.join(', ')} FROM jsonb_each($1)`;
  const words = jsonRows(all.map((row) => each.map((name) => plain(name, row[name]))));
  const bind = [words, ...once.map((name) => plain(name, first[name]))];
  return { write: (w) => w.run(text, bind) };
}

/** Writes many rows of one table, a lot in a statement; see {@link inWords}. */
export async function insertMany<M extends Model>(
  w: Writer,
  table: Table<M>,
  rows: readonly CreationAttributes<M>[],
): Promise<void> {
  let written: Promise<void> = Promise.resolve();
  try {
    for (const lot of lotsOf(rows, LOT)) {
      const worded = inWords(table, lot);
      await written;
      written = worded.write(w);
    }
  } finally {
    // Also where a later row is refused: nothing is taken back while a statement is still at work.
    await written;
  }
}
