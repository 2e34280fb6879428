import type { Model, ModelStatic, Sequelize } from 'sequelize';
import type { Bind, Connection, Dialect, Opened } from './dialects/connection.js';
import { openSqlite, sqliteReader } from './dialects/sqlite.js';
import { FactBook, type FactName, type Facts } from './facts.js';
import type { Table } from './table.js';

export type { Bind };

/** A yes or no as it stands in a row: 0 or 1 in SQLite, a boolean in PostgreSQL. */
export type Flag = boolean | number;

/** Reads rows. Inside a write it sees what the write has done so far. */
export interface Reader {
  /** For the few statements that have a form for each. */
  readonly dialect: Dialect;
  all<T extends object>(sql: string, bind?: Bind): Promise<T[]>;
  one<T extends object>(sql: string, bind?: Bind): Promise<T | undefined>;
  /** The model of a table on this connection. A reader's models refuse to write. */
  of<M extends Model>(table: Table<M>): ModelStatic<M>;
}

/** Reads and writes within one transaction. */
export interface Writer extends Reader {
  run(sql: string, bind?: Bind): Promise<void>;
  /**
   * Tells what this write makes true. Who listens hears it in this transaction, once the work is done and before it is
   * on disk; the same fact told twice is heard once.
   */
  tell<K extends FactName>(name: K, fact: Facts[K]): void;
  /** Runs once the transaction is safely on disk; nothing runs when it is rolled back. */
  afterCommit(action: () => void): void;
}

/**
 * The database through Sequelize: one connection that writes, fed by one queue, and a few that only read beside it, so
 * that a long count never keeps another read waiting. SQLite unless another one is named (`dialects/`).
 */
export class Db implements Reader {
  readonly facts = new FactBook();
  private tail: Promise<unknown> = Promise.resolve();
  private turn = 0;
  private done = 0;
  private queued = 0;
  private written: () => void = () => undefined;

  private constructor(
    /** Where it is: a file, or an address. */
    readonly place: string,
    private readonly opened: Opened,
  ) {}

  /**
   * @param place a file of SQLite's, or the address of a PostgreSQL database (`postgres://…`).
   * @param durable false only in specs: an acknowledged write would not survive a power cut.
   */
  static async open(place: string, durable = true): Promise<Db> {
    return new Db(
      place,
      isAddress(place) ? await (await postgres()).openPostgres(place, durable) : await openSqlite(place, durable),
    );
  }

  get dialect(): Dialect {
    return this.opened.dialect;
  }

  /** Runs a step of a migration in a transaction of its own, before anything else writes. */
  async alone(step: () => Promise<void>): Promise<void> {
    await this.opened.begin();
    try {
      await step();
      await this.opened.commit();
    } catch (error) {
      await this.opened.rollBack();
      throw error;
    }
  }

  /** The connection migrations run on, before anything else does. */
  get migrationConnection(): Sequelize {
    return this.opened.writer.sequelize;
  }

  async all<T extends object>(sql: string, bind: Bind = []): Promise<T[]> {
    return this.reader().all<T>(sql, bind);
  }

  of<M extends Model>(table: Table<M>): ModelStatic<M> {
    return table.on(this.reader().sequelize);
  }

  /**
   * The read-only connections take turns, those that rest first: behind a long question one would wait.
   */
  private reader(): Connection {
    const { readers } = this.opened;
    const inTurn = readers.map((_, i) => readers[(this.turn + i) % readers.length] as Connection);
    this.turn++;
    return inTurn.reduce((a, b) => (b.atWork < a.atWork ? b : a));
  }

  async one<T extends object>(sql: string, bind: Bind = []): Promise<T | undefined> {
    return (await this.all<T>(sql, bind))[0];
  }

  /** How many writes are on disk since the start: as long as it stays, so does all that is read. */
  get commits(): number {
    return this.done;
  }

  /** Whether anybody waits for the write that is under way. */
  isAwaited(): boolean {
    return this.queued > 0;
  }

  /** Lets the engine know of every write, once it is on disk. */
  watchWrites(hear: () => void): void {
    this.written = hear;
  }

  /**
   * Runs `work` alone in a transaction; returns once it is on disk. An error rolls everything back.
   * Never call it from inside `work`: it would wait for itself.
   */
  async write<T>(work: (w: Writer) => Promise<T>): Promise<T> {
    this.queued++;
    const turn = this.tail.then(() => {
      this.queued--;
      return this.transact(work);
    });
    this.tail = turn.catch(() => undefined);
    return turn;
  }

  private async transact<T>(work: (w: Writer) => Promise<T>): Promise<T> {
    const after: (() => void)[] = [];
    const told = new Map<string, () => Promise<void>>();
    const { writer } = this.opened;
    const w: Writer = {
      dialect: this.dialect,
      of: (table) => table.on(writer.sequelize),
      all: (sql, bind = []) => writer.all(sql, bind),
      one: async (sql, bind = []) => (await writer.all(sql, bind))[0] as never,
      run: async (sql, bind = []) => {
        await writer.all(sql, bind);
      },
      tell: (name, fact) => {
        this.facts.noticed(name);
        told.set(`${name} ${JSON.stringify(fact)}`, () => this.facts.hear(w, name, fact));
      },
      afterCommit: (action) => {
        after.push(action);
      },
    };
    await this.opened.begin();
    let result: T;
    try {
      result = await work(w);
      // Who hears a fact may tell another.
      for (let next = told.entries().next(); !next.done; next = told.entries().next()) {
        const [key, hear] = next.value;
        told.delete(key);
        await hear();
      }
      await this.opened.commit();
    } catch (error) {
      await this.opened.rollBack().catch(() => undefined);
      throw error;
    }
    this.done++;
    for (const action of after) action();
    this.written();
    return result;
  }

  /** Sees that overwritten secrets can be read nowhere any more. */
  async scrub(): Promise<void> {
    const turn = this.tail.then(() => this.opened.scrub());
    this.tail = turn.catch(() => undefined);
    await turn;
  }

  async close(): Promise<void> {
    await this.tail;
    await this.opened.close();
  }
}

/** Loaded where it is named only: a thread that starts for SQLite need not wait for it. */
const postgres = (): Promise<typeof import('./dialects/postgres.js')> => import('./dialects/postgres.js');

/**
 * A connection that only reads, for whoever has long to read: apart from the database's own.
 * @param sorts it sorts millions of rows, for which there is room on disk and not in memory.
 */
export async function openReader(place: string, sorts = false): Promise<Reader & { close(): Promise<void> }> {
  const [dialect, c] = isAddress(place)
    ? (['postgres', await (await postgres()).postgresReader(place)] as const)
    : (['sqlite', await sqliteReader(place, sorts)] as const);
  return {
    dialect,
    all: (sql, bind = []) => c.all(sql, bind),
    one: async (sql, bind = []) => (await c.all(sql, bind))[0] as never,
    of: (table) => table.on(c.sequelize),
    close: () => c.close(),
  };
}

/** Whether a place is the address of a database server. */
export function isAddress(place: string): boolean {
  return /^postgres(ql)?:\/\//.test(place);
}

/**
 * Rows for `INSERT … SELECT … FROM jsonb_each($rows)`: bound, so that no personal data gets into error messages. Taken
 * apart as JSONB, since the text of a row is read anew for each of its columns otherwise, three times as slowly.
 */
export function jsonRows(rows: readonly unknown[]): string {
  return JSON.stringify(rows);
}

/**
 * Many rows of a few columns, for whoever reads thousands after another: in SQLite they come as one text, since the
 * driver makes an object of a row four times slower than it is read.
 * @param rest what follows the columns, with a limit, which keeps the rows in their order.
 */
export async function manyRows<T extends object>(
  r: Reader,
  columns: readonly (string & keyof T)[],
  rest: string,
  bind: Bind,
): Promise<T[]> {
  const plain = `SELECT ${columns.join(', ')} ${rest}`;
  if (r.dialect !== 'sqlite') return r.all<T>(plain, bind);
  const packed = `SELECT json_group_array(json_array(${columns.join(', ')})) AS rows FROM (${plain})`;
  // A value that JSON cannot hold got in past us; whoever asked has to see it as it is.
  const found = await r.one<{ rows: string }>(packed, bind).catch(() => undefined);
  if (!found) return r.all<T>(plain, bind);
  return (JSON.parse(found.rows) as unknown[][]).map((values) => {
    const row: Partial<Record<string, unknown>> = {};
    for (let i = 0; i < columns.length; i++) row[columns[i] as string] = values[i];
    return row as T;
  });
}
