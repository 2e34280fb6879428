import type { FindOptions, Model, ModelStatic } from 'sequelize';
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
  columns: Readonly<Record<string, Column & { field: string }>>,
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

function conditions(
  columns: Readonly<Record<string, Column & { field: string }>>,
  dialect: Dialect,
  where: object,
  bind: unknown[],
): string | null {
  if (Object.getPrototypeOf(where) !== Object.prototype || Object.getOwnPropertySymbols(where).length > 0) return null;
  const said: string[] = [];
  for (const [attribute, value] of Object.entries(where) as [string, unknown][]) {
    const column = columns[attribute];
    if (!column) return null;
    const is = (literal: string): number => said.push(`"${column.field}" = ${literal}`);
    if (value === null) said.push(`"${column.field}" IS NULL`);
    else if (typeof value === 'boolean') is(dialect === 'sqlite' ? (value ? '1' : '0') : String(value));
    else if (typeof value === 'string' && !column.primaryKey && !column.unique && WORD.test(value)) is(`'${value}'`);
    else if (typeof value === 'string' || typeof value === 'number') is(`$${bind.push(value)}`);
    else return null;
  }
  return said.length === 0 ? '' : ` WHERE ${said.join(' AND ')}`;
}

/** `['createdAt', ['id', 'DESC']]` in SQL; null where it is anything else. */
function ordered(
  columns: Readonly<Record<string, Column & { field: string }>>,
  order: FindOptions['order'],
): string | null {
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
type Asking<M extends Model> = ModelStatic<M> & { scoped?: boolean };

/** Lets a model read quickly what can be; `findByPk` of Sequelize rests on `findOne`. */
export function readingQuickly<M extends Model>(
  model: ModelStatic<M>,
  columns: Readonly<Record<string, Column & { field: string }>>,
): void {
  const own = model as unknown as Record<'findAll' | 'findOne', (this: Asking<M>, options?: Asked) => Found>;
  const quickly = (of: Asking<M>, options: Asked): Found | null => {
    const connection = of.sequelize && connectionOf(of.sequelize);
    const dialect = of.sequelize?.getDialect() as Dialect;
    const read = connection && !of.scoped ? quickRead(of.tableName, columns, dialect, options) : null;
    return connection && read ? rowsOf(of, connection, read, options) : null;
  };
  const { findAll, findOne } = own;
  own.findAll = function (options = {}): Found {
    return quickly(this, options) ?? findAll.call(this, options);
  };
  // Sequelize copies what it is asked, all of it, before it asks for the rows: about what reading one takes.
  own.findOne = function (options = {}): Found {
    return quickly(this, { limit: 1, ...options, plain: true }) ?? findOne.call(this, options);
  };
}

async function rowsOf<M extends Model>(of: ModelStatic<M>, c: Connection, read: QuickRead, asked: Asked): Found {
  const rows = await c.all<object>(read.text, read.bind);
  const found = asked.raw
    ? (rows as Model[])
    : of.bulkBuild(rows as never, { isNewRecord: false, raw: true, attributes: asked.attributes } as never);
  return asked.plain ? (found[0] ?? null) : found;
}
