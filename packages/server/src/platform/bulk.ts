import { DataTypes, type CreationAttributes, type Model } from 'sequelize';
import { jsonRows, type Writer } from './db.js';
import { snake, type Column, type Table } from './table.js';

/** So many rows go into one statement: while the database writes one, the next is put into words. */
const LOT = 500;
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
 * row would take far longer than the database. What a row does not name gets the default of its column.
 * @param rows all with the same members; at least one.
 * @throws Error where one has others than the first, or bytes, which do not travel this way.
 */
export function inWords<M extends Model>(table: Table<M>, rows: readonly CreationAttributes<M>[]): Worded {
  const names = Object.keys(rows[0] ?? {});
  const columns = table.columns as Record<string, Column>;
  const values = names.map((name, i) => {
    const type = columns[name]?.type;
    if (type === undefined || type === DataTypes.BLOB)
      throw new Error(`“${name}” of ${table.name} cannot be written in bulk.`);
    const cast = CASTS.get(type);
    return cast ? `CAST(value->>${i} AS ${cast})` : `value->>${i}`;
  });
  const plain = (row: CreationAttributes<M>): unknown[] => {
    if (Object.keys(row).length !== names.length) throw new Error(`Rows of ${table.name} differ in what they name.`);
    return names.map((name) => {
      const value = (row as Record<string, unknown>)[name];
      if (value === undefined) throw new Error(`A row of ${table.name} does not say its “${name}”.`);
      const codec = columns[name]?.codec;
      return codec && value !== null ? JSON.stringify(codec.parse(value)) : value;
    });
  };
  const text = `INSERT INTO "${table.name}" (${names.map((n) => `"${snake(n)}"`).join(', ')}) SELECT ${values.join(', ')} FROM jsonb_each($1)`;
  const words = jsonRows(rows.map(plain));
  return { write: (w) => w.run(text, [words]) };
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
