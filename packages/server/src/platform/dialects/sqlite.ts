import { statSync } from 'node:fs';
import { Sequelize } from 'sequelize';
import sqlite3 from 'sqlite3';
import { isHeard, tellStatement, valueOf, type Bind, type Connection, type Opened } from './connection.js';

/** Sequelize asks the driver to keep a stack trace for every query, which costs an eighth of all time; this one does not. */
const QUIET = { ...sqlite3, verbose: () => sqlite3 };
const READERS = 3;
/** What is committed is brought from the journal into the file, beside the writer, in stretches of so many bytes. */
const STRETCH = 24 * 2 ** 20;
/** A journal longer than this is brought in until nothing of it is needed any more, and begins anew. */
const LONG_JOURNAL = 128 * 2 ** 20;
/** Should that never come about, the writer does it alone at so many pages. */
const TOO_LONG_PAGES = 100_000;
/** So many statements are kept prepared; those used longest ago make room. */
const KEPT = 200;

/**
 * A file of SQLite: one connection that writes and a few that only read, in WAL, so that neither keeps the other
 * waiting.
 * @param durable false only in specs: an acknowledged write would not survive a power cut.
 */
export async function openSqlite(file: string, durable: boolean): Promise<Opened> {
  const synchronous = `synchronous=${durable ? 'FULL' : 'OFF'}`;
  const writer = await SqliteConnection.open(file, [
    'journal_mode=WAL',
    'foreign_keys=ON',
    synchronous,
    `wal_autocheckpoint=${TOO_LONG_PAGES}`,
    // A journal that begins anew is as long as what is in it.
    'journal_size_limit=0',
    'busy_timeout=10000',
    'cache_size=-65536',
    'temp_store=MEMORY',
    // What is overwritten or deleted is gone from the file, not only from its tables.
    'secure_delete=ON',
  ]);
  const readers: Connection[] = [];
  for (let i = 0; i < READERS; i++) readers.push(await sqliteReader(file));
  const sweeper = await SqliteConnection.open(file, [synchronous, 'cache_size=-1024']);
  const run = async (text: string): Promise<void> => {
    await writer.all(text);
  };
  let sweeping: Promise<unknown> | null = null;
  let swept = 0;
  let rest = false;
  /** How often it was brought in, one after the other, since it became long. */
  let passes = 0;
  const journalLength = (): number => {
    try {
      return statSync(`${file}-wal`).size;
    } catch {
      // What is committed is committed, whether its journal can be looked at or not.
      return 0;
    }
  };
  // Who commits does not wait until what many others wrote stands in the file as well: the journal is safe on disk.
  // Where it fails, the next commit has the same trouble and says so.
  const sweep = async (): Promise<void> => {
    const length = journalLength();
    if (length < swept) swept = passes = 0;
    const long = length > LONG_JOURNAL;
    const grown = length - swept >= STRETCH || long;
    if (sweeping || !(grown || rest)) return;
    swept = length;
    if (long && passes >= 2) {
      // Each time less was written meanwhile than before; what is left now is little, and nobody writes beside this.
      passes = 0;
      await run('PRAGMA wal_checkpoint(PASSIVE)').catch(() => undefined);
      return;
    }
    if (long) passes++;
    sweeping = sweeper
      .all('PRAGMA wal_checkpoint(PASSIVE)')
      // What was written meanwhile is little, and comes after; with it the journal can begin anew.
      .then(() => (rest = grown && !long))
      .catch(() => undefined)
      .finally(() => (sweeping = null));
  };
  return {
    dialect: 'sqlite',
    writer,
    readers,
    begin: () => run('BEGIN IMMEDIATE'),
    commit: async () => {
      await run('COMMIT');
      await sweep();
    },
    rollBack: () => run('ROLLBACK'),
    // Brings what was written over into the file and empties the journal beside it. While somebody reads an older
    // state it does what it can; the next time does the rest.
    scrub: async () => {
      await sweeping;
      await run('PRAGMA wal_checkpoint(TRUNCATE)');
    },
    close: async () => {
      await sweeping;
      for (const c of [sweeper, ...readers, writer]) await c.close();
    },
  };
}

/** A connection that only reads. */
export function sqliteReader(file: string): Promise<Connection> {
  return SqliteConnection.open(file, ['busy_timeout=10000', 'query_only=ON', 'cache_size=-32768', 'temp_store=MEMORY']);
}

interface Prepared {
  statement: sqlite3.Statement;
  /** The names of its parameters, with their dollar. */
  names: readonly string[];
}

/**
 * One connection: its Sequelize for models, and the driver itself for statements written by hand. Sequelize prepares
 * every query anew and makes a stack trace beside it; here each text is prepared once.
 */
export class SqliteConnection implements Connection {
  private readonly prepared = new Map<string, Prepared>();

  private constructor(
    readonly sequelize: Sequelize,
    private readonly raw: sqlite3.Database,
  ) {}

  /** Pragmas are set by hand, since Sequelize's `afterConnect` never fires for SQLite. */
  static async open(file: string, pragmas: readonly string[]): Promise<SqliteConnection> {
    const logging = isHeard() ? (text: string) => tellStatement(text.replace(/^Executing \(.*?\): /, '')) : false;
    const sequelize = new Sequelize({ dialect: 'sqlite', storage: file, logging, dialectModule: QUIET });
    for (const pragma of pragmas) await sequelize.query(`PRAGMA ${pragma}`);
    // All queries of a Sequelize instance outside its own transactions share this one connection.
    const manager = sequelize.connectionManager as unknown as { getConnection(o: object): Promise<sqlite3.Database> };
    return new SqliteConnection(sequelize, await manager.getConnection({}));
  }

  /** The rows a statement answers; none for one that only writes. @throws the driver's error, `SQLITE_…: …`. */
  async all<T>(text: string, bind: Bind = []): Promise<T[]> {
    const { statement, names } = await this.prepare(text);
    return new Promise((resolve, reject) => {
      statement.all<T>(valuesOf(names, bind), (error: Error | null, rows: T[]) =>
        error ? reject(error) : resolve(rows),
      );
    });
  }

  private async prepare(text: string): Promise<Prepared> {
    const known = this.prepared.get(text);
    if (known) {
      // Used just now: the last to make room.
      this.prepared.delete(text);
      this.prepared.set(text, known);
      return known;
    }
    tellStatement(text);
    const statement = await new Promise<sqlite3.Statement>((resolve, reject) => {
      const made = this.raw.prepare(text, (error: Error | null) => (error ? reject(error) : resolve(made)));
    });
    const again = this.prepared.get(text);
    if (again) {
      statement.finalize();
      return again;
    }
    const made = { statement, names: [...new Set(text.match(/\$\w+/g) ?? [])] };
    this.prepared.set(text, made);
    const [oldest] = this.prepared;
    if (this.prepared.size > KEPT && oldest) {
      this.prepared.delete(oldest[0]);
      oldest[1].statement.finalize();
    }
    return made;
  }

  async close(): Promise<void> {
    for (const { statement } of this.prepared.values())
      await new Promise<void>((resolve) => statement.finalize(() => resolve()));
    this.prepared.clear();
    await this.sequelize.close();
  }
}

/** The driver refuses a value that no parameter asks for, so only those are given. */
function valuesOf(names: readonly string[], bind: Bind): Record<string, unknown> {
  return Object.fromEntries(names.map((name) => [name, valueOf(name.slice(1), bind)]));
}
