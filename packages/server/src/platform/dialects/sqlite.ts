import { Sequelize } from 'sequelize';
import sqlite3 from 'sqlite3';
import { Journal } from './sqlite-journal.js';
import {
  isConnection,
  isHeard,
  tellStatement,
  valueOf,
  type Bind,
  type Connection,
  type Opened,
} from './connection.js';

/** Sequelize asks the driver to keep a stack trace for every query, which costs an eighth of all time; this one does not. */
const QUIET = { ...sqlite3, verbose: () => sqlite3 };
const READERS = 3;
/** What is committed is brought from the journal into the file, beside the writer, in stretches of so many bytes. */
const STRETCH = 24 * 2 ** 20;
/** So often one after the other, until little enough is left that the writer brings it in between two of its own. */
const PASSES = 8;
const LITTLE = 3 * 2 ** 20;
/** So much room the journal keeps on disk when it begins anew. */
const ROOM = 128 * 2 ** 20;
/** Should that never come about, the writer does it alone at so many pages. */
const TOO_LONG_PAGES = 100_000;
/** So many statements are kept prepared; those used longest ago make room. */
const KEPT = 400;

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
    // A journal that begins anew keeps its room on disk: cutting that off takes longer than a lot of work does. What was
    // in it before is gone with the next `scrub`.
    `journal_size_limit=${ROOM}`,
    'busy_timeout=10000',
    'cache_size=-65536',
    'temp_store=MEMORY',
    // What is overwritten or deleted is gone from the file, not only from its tables.
    'secure_delete=ON',
  ]);
  const readers: Connection[] = [];
  // Each reads the whole schema first; in specs nobody else's long question is in the way.
  for (let i = 0; i < (durable ? READERS : 1); i++) readers.push(await sqliteReader(file));
  const sweeper = await SqliteConnection.open(file, [synchronous, 'cache_size=-1024']);
  const run = async (text: string): Promise<void> => {
    await writer.all(text);
  };
  const journal = new Journal(file);
  let sweeping: Promise<unknown> | null = null;
  let commits = 0;
  /** How long the journal was when it was last brought in, and how often it was since that became due. */
  let swept = 0;
  let passes = 0;
  // Who commits does not wait until what many others wrote stands in the file as well: the journal is safe on disk.
  // Where it fails, the next commit has the same trouble and says so.
  const sweep = async (): Promise<void> => {
    commits++;
    if (sweeping) return;
    const length = journal.length();
    if (length < swept) swept = passes = 0;
    const rest = length - swept;
    if (passes === 0 && rest < STRETCH) return;
    swept = length;
    if (passes > 0 && rest <= LITTLE) {
      // So little that it is in sooner than the next would be written: the journal can begin anew.
      passes = 0;
      await run('PRAGMA wal_checkpoint(PASSIVE)').catch(() => undefined);
      return;
    }
    passes = passes < PASSES ? passes + 1 : 0;
    const upTo = commits;
    sweeping = sweeper
      .all('PRAGMA wal_checkpoint(PASSIVE)')
      // Else whoever brings in the last of it puts all of it on disk.
      .then(() => journal.settle())
      .then(() => {
        // Nothing was written meanwhile: with the next commit the journal begins anew.
        if (upTo === commits) passes = 0;
      })
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
      journal.close();
    },
  };
}

/**
 * So much of the file is read where the system keeps it, rather than copied page by page: a question that goes to rows
 * here and there takes a third of the time. Most that SQLite allows; it is the system's memory, given back when wanted.
 */
const MAPPED = 'mmap_size=2147418112';

/** A connection that only reads. @param sorts what it sorts goes to disk where it is much. */
export function sqliteReader(file: string, sorts = false): Promise<Connection> {
  const store = `temp_store=${sorts ? 'FILE' : 'MEMORY'}`;
  return SqliteConnection.open(file, ['busy_timeout=10000', 'query_only=ON', 'cache_size=-16384', MAPPED, store]);
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
  private busy = 0;
  private closing = false;

  private constructor(
    readonly sequelize: Sequelize,
    private readonly raw: sqlite3.Database,
  ) {
    isConnection(this);
    readQuietly(sequelize, {
      begin: () => this.begin(),
      end: () => this.busy--,
    });
  }

  /** @throws Error where it is being closed: what begins now would stand open for good. */
  private begin(): void {
    if (this.closing) throw new Error('The database is closed.');
    this.busy++;
  }

  get atWork(): number {
    return this.busy;
  }

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
    this.begin();
    try {
      const { statement, names } = await this.prepare(text);
      return await new Promise<T[]>((resolve, reject) => {
        statement.all<T>(valuesOf(names, bind), (error: Error | null, rows: T[]) =>
          error ? reject(error) : resolve(rows),
        );
      });
    } finally {
      this.busy--;
    }
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

  /** Once what was asked has been answered: a question whose asker has gone is under way all the same. */
  async close(): Promise<void> {
    this.closing = true;
    while (this.busy > 0) await new Promise((resolve) => setImmediate(resolve));
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

/** What Sequelize makes of a dialect for itself: the class of its queries. */
interface Asking {
  dialect: {
    Query: new (...of: never[]) => { options: { tableNames?: string[] }; run(...of: unknown[]): Promise<unknown> };
  };
}

/**
 * Before each read of a model Sequelize asks for the types of its table's columns, by which it reads dates, JSON and
 * numbers without end: a third of what a read by a key takes. Columns of ours have no such types (`table.ts`).
 * @param atWork told as a query begins (1) and ends (-1).
 */
function readQuietly(sequelize: Sequelize, work: { begin(): void; end(): void }): void {
  const { dialect } = sequelize as unknown as Asking;
  dialect.Query = class extends dialect.Query {
    override async run(...of: unknown[]): Promise<unknown> {
      // Also where none is named: then it takes the first the statement reads from.
      this.options.tableNames = [];
      work.begin();
      try {
        return await super.run(...of);
      } finally {
        work.end();
      }
    }
  };
}
