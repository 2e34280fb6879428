import {
  DataTypes,
  literal,
  type CreationAttributes,
  type InitOptions,
  type Model,
  type ModelAttributeColumnOptions,
  type ModelOptions,
  type ModelStatic,
  type QueryInterface,
  type Sequelize,
} from 'sequelize';
import type { z } from 'zod';
import { readingQuickly } from './dialects/quick-reads-store.js';

/** A column, as a model reads it and as a migration makes it. */
export interface Column extends ModelAttributeColumnOptions {
  /** A condition the database itself holds rows to, in SQL that every dialect understands. */
  check?: string;
  /** How a value becomes the JSON that stands in the column. */
  codec?: z.ZodType;
}
type Columns<M extends Model> = Record<keyof CreationAttributes<M>, Column>;

/**
 * A table of one area. A model class belongs to one connection, so what is exported is this, and `Reader.of` and
 * `Writer.of` hand out the model of theirs.
 */
export interface Table<M extends Model> {
  readonly name: string;
  readonly columns: Columns<M>;
  /** The model on this connection; the same one each time. */
  on(sequelize: Sequelize): ModelStatic<M>;
}

/** Every table that was declared, for the spec that holds models and migrated tables against each other. */
export const TABLES: Table<Model>[] = [];

/** Conditions that have a name, for `.scope('dated')` or `.scope({ method: ['landed', since] })`. */
type Scopes = NonNullable<ModelOptions['scopes']>;

/** Declares a table. Attributes are in camel case, columns in snake case. */
export function table<M extends Model>(
  base: ModelStatic<M>,
  name: string,
  columns: Columns<M>,
  scopes: Scopes = {},
): Table<M> {
  const bound = new WeakMap<Sequelize, ModelStatic<M>>();
  const fields = Object.fromEntries(
    Object.entries<Column>(columns).map(([attribute, c]) => [attribute, { ...c, field: snake(attribute) }]),
  );
  const made: Table<M> = {
    name,
    columns,
    on(sequelize) {
      const known = bound.get(sequelize);
      if (known) return known;
      const Bound = class extends (base as unknown as new () => Model) {} as unknown as ModelStatic<M>;
      (Bound as unknown as { init: (a: object, o: InitOptions) => void }).init(attributes(columns), {
        sequelize,
        modelName: name,
        tableName: name,
        timestamps: false,
        scopes,
      });
      // Sequelize would make up a key for a table that has none.
      if (!Object.values<Column>(columns).some((c) => c.primaryKey)) Bound.removeAttribute('id');
      readingQuickly(Bound, fields);
      bound.set(sequelize, Bound);
      for (const bind of ASSOCIATIONS.get(name) ?? []) bind(sequelize);
      return Bound;
    },
  };
  TABLES.push(made);
  return made;
}

/** What is bound beside a table: its associations, by its name. */
const ASSOCIATIONS = new Map<string, ((sequelize: Sequelize) => unknown)[]>();

const associate = (name: string, bind: (sequelize: Sequelize) => unknown): void => {
  ASSOCIATIONS.set(name, [...(ASSOCIATIONS.get(name) ?? []), bind]);
};

/** Rows of `many` belong to a row of `one` by a key, and are found with it: `include: { association: as }`. */
export function hasMany<M extends Model, N extends Model>(
  one: Table<M>,
  many: Table<N>,
  as: string,
  foreignKey: string & keyof Columns<N>,
): void {
  associate(one.name, (sequelize) =>
    one.on(sequelize).hasMany(many.on(sequelize), { as, foreignKey, constraints: false }),
  );
}

/** A row of `one` names a row of `other` by a key, and that is found with it: `include: { association: as }`. */
export function belongsTo<M extends Model, N extends Model>(
  one: Table<M>,
  other: Table<N>,
  as: string,
  foreignKey: string & keyof Columns<M>,
): void {
  associate(one.name, (sequelize) =>
    one.on(sequelize).belongsTo(other.on(sequelize), { as, foreignKey, constraints: false }),
  );
}

function attributes(columns: Record<string, Column>): Record<string, ModelAttributeColumnOptions> {
  return Object.fromEntries(
    Object.entries(columns).map(([name, { check: _, references: __, codec: ___, ...column }]) => [
      name,
      { ...column, field: snake(name) },
    ]),
  );
}

/** `happenedAt` is the column `happened_at`. */
export function snake(name: string): string {
  return name.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);
}

// -- columns ---------------------------------------------------------------------------------------------------------

const column = (type: Column['type'], defaultValue?: unknown): Column => ({
  type,
  allowNull: false,
  ...(defaultValue === undefined ? {} : { defaultValue }),
});

export const text = (byDefault?: string): Column => column(DataTypes.TEXT, byDefault);
/** A whole number of moderate size: a count, a version. */
export const whole = (byDefault?: number): Column => column(DataTypes.INTEGER, byDefault);
/** A whole number of any size: a moment (milliseconds since the epoch) or money (millionths of a dollar). */
export const big = (byDefault?: number): Column => column(DataTypes.BIGINT, byDefault);
export const real = (byDefault?: number): Column => column(DataTypes.DOUBLE, byDefault);
export const flag = (byDefault?: boolean): Column => column(DataTypes.BOOLEAN, byDefault);
export const bytes = (): Column => column(DataTypes.BLOB);
/** A number the database gives to each row, rising. */
export const serial = (): Column => ({ ...whole(), primaryKey: true, autoIncrement: true });
/** One of some words; the database refuses others. */
export const oneOf = (values: readonly string[], byDefault?: string): Column => ({
  ...text(byDefault),
  validate: { isIn: [values] },
  check: `$column IN (${values.map((v) => `'${v}'`).join(',')})`,
});
/** Text that holds JSON; read and written through a codec, so that nothing is taken on trust. */
export function json<S extends z.ZodType>(name: string, codec: S, byDefault?: string): Column {
  return {
    ...text(byDefault),
    codec,
    get(this: Model) {
      // Of a change only what changes is there.
      const raw = this.getDataValue(name) as string | null | undefined;
      return raw === null || raw === undefined ? raw : fromJson(codec, raw);
    },
    set(this: Model, value: unknown) {
      this.setDataValue(name, value === null ? null : JSON.stringify(codec.parse(value)));
    },
  };
}

/** JSON out of a row that was read by hand. @throws ZodError where it is something else. */
export function fromJson<S extends z.ZodType>(codec: S, raw: string): z.output<S> {
  return codec.parse(JSON.parse(raw));
}

export const key = (c: Column): Column => ({ ...c, primaryKey: true });
export const maybe = (c: Column): Column => ({ ...c, allowNull: true });
/** No two rows have the same. */
export const once = (c: Column): Column => ({ ...c, unique: true });
/** Names a row of another table by its id. */
export const refers = (c: Column, model: string): Column => ({ ...c, references: { model, key: 'id' } });
export const checked = (c: Column, check: string): Column => ({ ...c, check });

// -- migrations ------------------------------------------------------------------------------------------------------

/** Makes a table, with the conditions the database holds its rows to. */
export async function createTable(qi: QueryInterface, name: string, columns: Record<string, Column>): Promise<void> {
  await qi.createTable(
    name,
    Object.fromEntries(
      Object.entries(columns).map(([attribute, { check, ...column }]) => {
        const field = snake(attribute);
        // What only a model knows is no business of the database.
        const c = { ...column, validate: undefined, get: undefined, set: undefined, codec: undefined };
        // SQLite numbers rows by a column of just this type, which there has 64 bits.
        if (c.autoIncrement && qi.sequelize.getDialect() !== 'sqlite') c.type = DataTypes.BIGINT;
        if (!check) return [field, c];
        const type =
          typeof c.type === 'string' ? c.type : new (c.type as new () => DataTypes.AbstractDataType)().toSql();
        return [field, { ...c, type: `${type} CHECK (${check.replaceAll('$column', `"${field}"`)})` }];
      }),
    ),
  );
}

/** Adds a column to a table that is there; every row of it has its default. */
export async function addColumn(qi: QueryInterface, table: string, name: string, column: Column): Promise<void> {
  const { check: _check, ...c } = column;
  await qi.addColumn(table, snake(name), { ...c, validate: undefined, get: undefined, set: undefined } as never);
}

/**
 * Makes an index.
 * @param columns names, each with ` DESC` where it runs down.
 * @param o.where only rows of which this is true, as queries must say it too.
 */
export async function index(
  qi: QueryInterface,
  table: string,
  name: string,
  columns: readonly string[],
  o: { unique?: boolean; where?: string } = {},
): Promise<void> {
  await qi.addIndex(table, {
    name,
    fields: columns.map((c) => (c.endsWith(' DESC') ? { name: c.slice(0, -5), order: 'DESC' as const } : { name: c })),
    ...(o.unique ? { unique: true } : {}),
    ...(o.where ? { where: literal(o.where) } : {}),
  });
}

/** What a trigger does: when, on which rows, and the statements it runs. */
export interface Trigger {
  name: string;
  table: string;
  /** `AFTER INSERT`, `AFTER UPDATE OF sent_at`, … */
  when: string;
  /** Only for rows of which this is true, said of `NEW` and `OLD`. */
  only?: string;
  run: readonly string[];
}

/** Makes a trigger, from statements that every dialect understands. */
export async function trigger(qi: QueryInterface, { name, table: on, when, only, run }: Trigger): Promise<void> {
  const body = run.map((statement) => `${statement};`).join(' ');
  if (qi.sequelize.getDialect() === 'sqlite') {
    await qi.sequelize.query(`CREATE TRIGGER ${name} ${when} ON ${on}${only ? ` WHEN ${only}` : ''} BEGIN ${body} END`);
    return;
  }
  await qi.sequelize.query(
    `CREATE FUNCTION ${name}() RETURNS trigger LANGUAGE plpgsql AS $body$ BEGIN ${only ? `IF ${only} THEN ${body} END IF;` : body} RETURN NEW; END $body$`,
  );
  await qi.sequelize.query(`CREATE TRIGGER ${name} ${when} ON ${on} FOR EACH ROW EXECUTE FUNCTION ${name}()`);
}

/** Takes a trigger away. */
export async function dropTrigger(
  qi: QueryInterface,
  { name, table: on }: Pick<Trigger, 'name' | 'table'>,
): Promise<void> {
  if (qi.sequelize.getDialect() === 'sqlite') {
    await qi.sequelize.query(`DROP TRIGGER ${name}`);
    return;
  }
  await qi.sequelize.query(`DROP TRIGGER ${name} ON ${on}`);
  await qi.sequelize.query(`DROP FUNCTION ${name}()`);
}

/** The statement by which a trigger refuses a row. */
export function refusal(qi: QueryInterface, words: string): string {
  return qi.sequelize.getDialect() === 'sqlite' ? `SELECT raise(ABORT, '${words}')` : `RAISE EXCEPTION '${words}'`;
}
