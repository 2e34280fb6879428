import type { Sequelize } from 'sequelize';

/** Values of a statement's parameters: by name (`$name`), or in order (`$1`, `$2`). */
export type Bind = Record<string, unknown> | unknown[];

/** The databases Long Gate can stand on. */
export type Dialect = 'sqlite' | 'postgres';

/** One connection: its Sequelize for models, and the driver itself for statements written by hand. */
export interface Connection {
  readonly sequelize: Sequelize;
  /** How many statements it is at work on. */
  readonly atWork: number;
  /** The rows a statement answers; none for one that only writes. @throws the driver's error. */
  all<T>(text: string, bind?: Bind): Promise<T[]>;
  close(): Promise<void>;
}

const CONNECTIONS = new WeakMap<Sequelize, Connection>();
/** Makes it known whose models this connection reads for. */
export function isConnection(c: Connection): void {
  CONNECTIONS.set(c.sequelize, c);
}
/** The connection whose Sequelize this is. */
export const connectionOf = (sequelize: Sequelize): Connection | undefined => CONNECTIONS.get(sequelize);

/** A database that stands open: what differs from one dialect to the other, and nothing else. */
export interface Opened {
  readonly dialect: Dialect;
  /** The one connection that writes. */
  readonly writer: Connection;
  /** Those that only read; the database itself refuses their writes. */
  readonly readers: readonly Connection[];
  /** Begins a transaction on the writer. */
  begin(): Promise<void>;
  /** Ends it, so that it is on disk when this returns. */
  commit(): Promise<void>;
  rollBack(): Promise<void>;
  /** Sees that what was written over or deleted can be read nowhere any more. */
  scrub(): Promise<void>;
  /** Closes every connection. */
  close(): Promise<void>;
}

type Hearer = (text: string) => void;
let hearer: Hearer | null = null;
/** Lets somebody hear the text of every statement, of those prepared by hand once a connection: for looking at plans. */
export function hearStatements(by: Hearer | null): void {
  hearer = by;
}
/** Whether anybody wants to hear statements. */
export const isHeard = (): boolean => hearer !== null;
/** Tells whoever listens of a statement. */
export const tellStatement = (text: string): void => hearer?.(text);

/** @throws Error for a parameter that nobody gave a value for. */
export function valueOf(name: string, bind: Bind): unknown {
  const value = Array.isArray(bind) ? bind[Number(name) - 1] : bind[name];
  if (value === undefined) throw new Error(`No value was given for $${name}.`);
  return value;
}
