import { Sequelize } from 'sequelize';
import sqlite3 from 'sqlite3';

/** Values of a statement's parameters: by name (`$name`), or in order (`$1`, `$2`). */
export type Bind = Record<string, unknown> | unknown[];

/** Sequelize asks the driver to keep a stack trace for every query, which costs an eighth of all time; this one does not. */
const QUIET = { ...sqlite3, verbose: () => sqlite3 };
/** So many statements are kept prepared; those used longest ago make room. */
const KEPT = 200;

type Hearer = (text: string) => void;
let hearer: Hearer | null = null;
/** Lets somebody hear the text of every statement, of those prepared by hand once a connection: for looking at plans. */
export function hearStatements(by: Hearer | null): void {
  hearer = by;
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
export class Connection {
  private readonly prepared = new Map<string, Prepared>();

  private constructor(
    readonly sequelize: Sequelize,
    private readonly raw: sqlite3.Database,
  ) {}

  /** Pragmas are set by hand, since Sequelize's `afterConnect` never fires for SQLite. */
  static async open(file: string, pragmas: readonly string[]): Promise<Connection> {
    const logging = hearer ? (text: string) => hearer?.(text.replace(/^Executing \(.*?\): /, '')) : false;
    const sequelize = new Sequelize({ dialect: 'sqlite', storage: file, logging, dialectModule: QUIET });
    for (const pragma of pragmas) await sequelize.query(`PRAGMA ${pragma}`);
    // All queries of a Sequelize instance outside its own transactions share this one connection.
    const manager = sequelize.connectionManager as unknown as { getConnection(o: object): Promise<sqlite3.Database> };
    return new Connection(sequelize, await manager.getConnection({}));
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
    hearer?.(text);
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
  const values: Record<string, unknown> = {};
  for (const name of names) {
    const value = Array.isArray(bind) ? bind[Number(name.slice(1)) - 1] : bind[name.slice(1)];
    if (value === undefined) throw new Error(`No value was given for ${name}.`);
    values[name] = value;
  }
  return values;
}
