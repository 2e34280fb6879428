import type { QueryInterface } from 'sequelize';
import { trigger } from '../platform/table.js';

/** What the gate reads of one table: whose a row is, what names it, since when it stands, and which columns. */
export interface KeptFacts {
  table: string;
  business: string;
  /** The column that names a row; `id` where it is not said. */
  id?: string;
  /** The column that says since when a new row stands; empty for the moment it is written. */
  since: string;
  facts: readonly string[];
  /** Those facts that are a yes or no: kept as 1 or 0, whatever the database calls them. */
  flags?: readonly string[];
  /** Tells further facts of a table apart from those that are kept already. */
  more?: string;
}

/** Scenario time in SQL, milliseconds: wall time and the offset that the clock keeps. */
export const now = (qi: QueryInterface): string => {
  const wall =
    qi.sequelize.getDialect() === 'sqlite'
      ? `CAST((julianday('now') - 2440587.5) * 86400000 AS INTEGER)`
      : 'CAST(extract(epoch FROM clock_timestamp()) * 1000 AS BIGINT)';
  return `(${wall} + CAST(coalesce((SELECT value FROM setting WHERE name = 'clock.offset'), '0') AS BIGINT))`;
};

const COLUMNS = 'INSERT INTO stood (business_id, object_kind, object_id, fact, value, from_at)';

/**
 * Whatever the gate reads of a table keeps its history (from, to), so that evidence can say what stood on a day. The
 * database keeps it by itself, so that no write can forget it.
 */
export async function keepHistory(qi: QueryInterface, kept: KeptFacts): Promise<void> {
  const { table, business, id = 'id', since, facts, flags = [], more = '' } = kept;
  const at = now(qi);
  const begin = (fact: string, from: string): string =>
    `${COLUMNS} VALUES (NEW.${business}, '${table}', NEW.${id}, '${fact}', ${flags.includes(fact) ? `CASE WHEN NEW.${fact} THEN '1' ELSE '0' END` : `CAST(NEW.${fact} AS TEXT)`}, ${from})`;
  await trigger(qi, {
    name: `stood_${table}${more}`,
    table,
    when: 'AFTER INSERT',
    run: facts.map((f) => begin(f, since === '' ? at : `NEW.${since}`)),
  });
  for (const fact of facts)
    await trigger(qi, {
      name: `stood_${table}_${fact}`,
      table,
      when: `AFTER UPDATE OF ${fact}`,
      only: `NEW.${fact} IS DISTINCT FROM OLD.${fact}`,
      run: [
        `UPDATE stood SET to_at = CASE WHEN from_at > ${at} THEN from_at ELSE ${at} END WHERE business_id = NEW.${business} AND object_kind = '${table}' AND object_id = NEW.${id} AND fact = '${fact}' AND to_at IS NULL`,
        begin(fact, at),
      ],
    });
}

/** What rows that are there say of such facts stands from now on: before, nobody kept it. */
export async function keepFromNow(qi: QueryInterface, { table, business, id = 'id', facts }: KeptFacts): Promise<void> {
  for (const fact of facts)
    await qi.sequelize.query(
      `${COLUMNS} SELECT ${business}, '${table}', ${id}, '${fact}', CAST(${fact} AS TEXT), ${now(qi)} FROM ${table}`,
    );
}
