import { Op, type CountOptions, type FindOptions, type Model, type ModelStatic } from 'sequelize';
import { connectionOf, type Connection, type Dialect } from './connection.js';
import type { Column } from '../table.js';

/** A read of one table's rows as a prepared statement. */
export interface QuickRead {
  text: string;
  bind: unknown[];
}

/** What may be asked for so that the statement is known beforehand; anything else is Sequelize's. */
const ASKED = new Set(['where', 'order', 'limit', 'attributes', 'raw', 'plain']);
/** A word of the code's own, such as a state: it may decide which index serves, so it stands in the statement. */
const WORD = /^[a-z][a-z ]{0,23}$/;

/**
 * A `findAll` by plain values as a statement that is prepared once: a read by a key takes a tenth of what Sequelize
 * takes to write, prepare and read it anew. Null where it is more than that, which Sequelize then does.
 * @param columns the table's, by attribute.
 */
export function quickRead(
  tableName: string,
  columns: Columns,
  dialect: Dialect,
  options: FindOptions,
): QuickRead | null {
  if (Object.keys(options).some((k) => !ASKED.has(k))) return null;
  const attributes: unknown = options.attributes ?? Object.keys(columns);
  if (!Array.isArray(attributes) || !attributes.every((a) => typeof a === 'string' && a in columns)) return null;
  const bind: unknown[] = [];
  const where = conditions(columns, dialect, options.where ?? {}, bind);
  const order = ordered(columns, options.order);
  if (where === null || order === null) return null;
  if (options.limit !== undefined && !Number.isInteger(options.limit)) return null;
  const named = (a: string): string => `"${columns[a]?.field ?? ''}" AS "${a}"`;
  return {
    text: `SELECT ${(attributes as string[]).map(named).join(', ')} FROM "${tableName}"${where}${order}${options.limit === undefined ? '' : ` LIMIT ${String(options.limit)}`}`,
    bind,
  };
}

/** A `count` of rows by plain values, as {@link quickRead} reads them; null where it is more than that. */
export function quickCount(
  tableName: string,
  columns: Columns,
  dialect: Dialect,
  options: CountOptions,
): QuickRead | null {
  if (Object.keys(options).some((k) => k !== 'where')) return null;
  const bind: unknown[] = [];
  const where = conditions(columns, dialect, options.where ?? {}, bind);
  return where === null ? null : { text: `SELECT count(*) AS n FROM "${tableName}"${where}`, bind };
}

type Columns = Readonly<Record<string, Column & { field: string }>>;

function conditions(columns: Columns, dialect: Dialect, where: object, bind: unknown[]): string | null {
  if (!isPlain(where) || Object.getOwnPropertySymbols(where).length > 0) return null;
  const said: string[] = [];
  for (const [attribute, value] of Object.entries(where) as [string, unknown][]) {
    const column = columns[attribute];
    const is = column && condition(column, dialect, value, bind);
    if (!is) return null;
    said.push(is);
  }
  return said.length === 0 ? '' : ` WHERE ${said.join(' AND ')}`;
}

const COMPARED = new Map<string | symbol, string>([
  [Op.gt, '>'],
  [Op.gte, '>='],
  [Op.lt, '<'],
  [Op.lte, '<='],
  [Op.ne, '<>'],
]);

/** What is asked of one column; null where it is more than that. */
function condition(column: Columns[string], dialect: Dialect, value: unknown, bind: unknown[]): string | null {
  const field = `"${column.field}"`;
  const isWord = (x: unknown): x is string =>
    typeof x === 'string' && !column.primaryKey && !column.unique && WORD.test(x);
  const literal = (x: unknown): string | null => {
    if (typeof x === 'boolean') return dialect === 'sqlite' ? (x ? '1' : '0') : String(x);
    if (isWord(x)) return `'${x}'`;
    return typeof x === 'string' || typeof x === 'number' ? `$${bind.push(x)}` : null;
  };
  const compared = (by: string | undefined, x: unknown): string | null => {
    if (x === null) return by === '=' ? `${field} IS NULL` : by === '<>' ? `${field} IS NOT NULL` : null;
    const to = by === undefined ? null : literal(x);
    return to === null ? null : `${field} ${by} ${to}`;
  };
  if (Array.isArray(value))
    return value.length > 0 && value.every(isWord) ? `${field} IN (${value.map((x) => `'${x}'`).join(', ')})` : null;
  if (value === null || typeof value !== 'object') return compared('=', value);
  if (!isPlain(value)) return null;
  const all = Reflect.ownKeys(value).map((by) =>
    compared(COMPARED.get(by), (value as Record<symbol, unknown>)[by as symbol]),
  );
  return all.length > 0 && !all.includes(null) ? all.join(' AND ') : null;
}

const isPlain = (x: object): boolean => Object.getPrototypeOf(x) === Object.prototype;

/** `['createdAt', ['id', 'DESC']]` in SQL; null where it is anything else. */
function ordered(columns: Columns, order: FindOptions['order']): string | null {
  if (order === undefined || order === null) return '';
  if (!Array.isArray(order)) return null;
  const said = (order as unknown[]).map((o): string | null => {
    const [attribute, way = 'ASC'] = (Array.isArray(o) ? o : [o]) as unknown[];
    if (typeof attribute !== 'string' || (way !== 'ASC' && way !== 'DESC')) return null;
    const column = columns[attribute];
    return column ? `"${column.field}" ${way}` : null;
  });
  if (said.includes(null) || said.length === 0) return said.length === 0 ? '' : null;
  return ` ORDER BY ${said.join(', ')}`;
}

type Found = Promise<Model[] | Model | null>;
type Asked = FindOptions & { plain?: boolean };
/** `_scope` is what a scope asks for on top, where a model is read through one. */
type Asking<M extends Model> = ModelStatic<M> & { scoped?: boolean; _scope?: FindOptions };

/** What is asked of a model with what its scope says; null where the scope says more than what rows it is about. */
function withScope<T extends { where?: FindOptions['where'] }>(of: Asking<Model>, options: T): T | null {
  if (!of.scoped) return options;
  const { where, ...more } = of._scope ?? {};
  if (Object.keys(more).length > 0) return null;
  return { ...options, where: { ...where, ...options.where } };
}

/** Lets a model read quickly what can be; `findByPk` of Sequelize rests on `findOne`. */
export function readingQuickly<M extends Model>(model: ModelStatic<M>, columns: Columns): void {
  const own = model as unknown as Record<'findAll' | 'findOne', (this: Asking<M>, options?: Asked) => Found> &
    Record<'count', (this: Asking<M>, options?: CountOptions) => Promise<unknown>>;
  /** What a question is written as, and where it is asked; null where it is Sequelize's. */
  const written = <O extends { where?: FindOptions['where'] }>(
    of: Asking<M>,
    options: O,
    write: (tableName: string, columns: Columns, dialect: Dialect, options: O) => QuickRead | null,
  ): (QuickRead & { on: Connection }) | null => {
    const on = of.sequelize && connectionOf(of.sequelize);
    const asked = on && withScope(of, options);
    const read = asked && write(of.tableName, columns, of.sequelize?.getDialect() as Dialect, asked);
    return on && read ? { ...read, on } : null;
  };
  const quickly = (of: Asking<M>, options: Asked): Found | null => {
    const read = written(of, options, quickRead);
    return read && rowsOf(of, read.on, read, options);
  };
  const { findAll, findOne, count } = own;
  own.findAll = function (options = {}): Found {
    return quickly(this, options) ?? findAll.call(this, options);
  };
  // Sequelize copies what it is asked, all of it, before it asks for the rows: about what reading one takes.
  own.findOne = function (options = {}): Found {
    return quickly(this, { limit: 1, ...options, plain: true }) ?? findOne.call(this, options);
  };
  own.count = function (options = {}): Promise<unknown> {
    const read = written(this, options, quickCount);
    return read
      ? read.on.all<{ n: number }>(read.text, read.bind).then(([row]) => row?.n ?? 0)
      : count.call(this, options);
  };
}

async function rowsOf<M extends Model>(of: ModelStatic<M>, c: Connection, read: QuickRead, asked: Asked): Found {
  const rows = await c.all<object>(read.text, read.bind);
  const found = asked.raw
    ? (rows as Model[])
    : of.bulkBuild(rows as never, { isNewRecord: false, raw: true, attributes: asked.attributes } as never);
  return asked.plain ? (found[0] ?? null) : found;
}
