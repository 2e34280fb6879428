import type { Model, ModelStatic, Sequelize } from 'sequelize';
import { Connection, type Bind } from './connection.js';
import { FactBook, type FactName, type Facts } from './facts.js';
import type { Table } from './table.js';

export type { Bind };

/** Reads rows. Inside a write it sees what the write has done so far. */
export interface Reader {
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

const READERS = 3;
/**
 * SQLite through Sequelize: one connection that writes, fed by one queue (`BEGIN IMMEDIATE`), and a few read-only
 * ones beside it, so that a long count never keeps another read waiting.
 */
export class Db implements Reader {
  readonly facts = new FactBook();
  private tail: Promise<unknown> = Promise.resolve();
  private turn = 0;
  private written: () => void = () => undefined;

  private constructor(
    readonly file: string,
    private readonly writer: Connection,
    private readonly readers: Connection[],
  ) {}

  /** @param durable false only in specs: an acknowledged write would not survive a power cut. */
  static async open(file: string, durable = true): Promise<Db> {
    const writer = await Connection.open(file, [
      'journal_mode=WAL',
      'foreign_keys=ON',
      `synchronous=${durable ? 'FULL' : 'OFF'}`,
      'busy_timeout=10000',
      'cache_size=-65536',
      'temp_store=MEMORY',
      // What is overwritten or deleted is gone from the file, not only from its tables.
      'secure_delete=ON',
    ]);
    const readers: Connection[] = [];
    for (let i = 0; i < READERS; i++)
      readers.push(
        await Connection.open(file, ['busy_timeout=10000', 'query_only=ON', 'cache_size=-32768', 'temp_store=MEMORY']),
      );
    return new Db(file, writer, readers);
  }

  /** The connection migrations run on, before anything else does. */
  get migrationConnection(): Sequelize {
    return this.writer.sequelize;
  }

  async all<T extends object>(sql: string, bind: Bind = []): Promise<T[]> {
    return this.reader().all<T>(sql, bind);
  }

  of<M extends Model>(table: Table<M>): ModelStatic<M> {
    return table.on(this.reader().sequelize);
  }

  /** The read-only connections take turns, so that a long question keeps only every third waiting. */
  private reader(): Connection {
    return this.readers[this.turn++ % this.readers.length] as Connection;
  }

  async one<T extends object>(sql: string, bind: Bind = []): Promise<T | undefined> {
    return (await this.all<T>(sql, bind))[0];
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
    const turn = this.tail.then(() => this.transact(work));
    this.tail = turn.catch(() => undefined);
    return turn;
  }

  private async transact<T>(work: (w: Writer) => Promise<T>): Promise<T> {
    const after: (() => void)[] = [];
    const told = new Map<string, () => Promise<void>>();
    const w: Writer = {
      of: (table) => table.on(this.writer.sequelize),
      all: (sql, bind = []) => this.writer.all(sql, bind),
      one: async (sql, bind = []) => (await this.writer.all(sql, bind))[0] as never,
      run: async (sql, bind = []) => {
        await this.writer.all(sql, bind);
      },
      tell: (name, fact) => {
        this.facts.noticed(name);
        told.set(`${name} ${JSON.stringify(fact)}`, () => this.facts.hear(w, name, fact));
      },
      afterCommit: (action) => {
        after.push(action);
      },
    };
    await this.writer.all('BEGIN IMMEDIATE');
    let result: T;
    try {
      result = await work(w);
      // Who hears a fact may tell another.
      for (let next = told.entries().next(); !next.done; next = told.entries().next()) {
        const [key, hear] = next.value;
        told.delete(key);
        await hear();
      }
      await this.writer.all('COMMIT');
    } catch (error) {
      await this.writer.all('ROLLBACK').catch(() => undefined);
      throw error;
    }
    for (const action of after) action();
    this.written();
    return result;
  }

  /**
   * Brings what was written over into the file and empties the journal beside it, so that overwritten secrets are in
   * neither. While somebody reads an older state it does what it can; the next time does the rest.
   */
  async scrub(): Promise<void> {
    const turn = this.tail.then(() => this.writer.all('PRAGMA wal_checkpoint(TRUNCATE)'));
    this.tail = turn.catch(() => undefined);
    await turn;
  }

  async close(): Promise<void> {
    await this.tail;
    await Promise.all([...this.readers, this.writer].map((s) => s.close()));
  }
}

/** Rows for `INSERT … SELECT … FROM json_each($rows)`: bound, so that no personal data gets into error messages. */
export function jsonRows(rows: readonly unknown[]): string {
  return JSON.stringify(rows);
}
