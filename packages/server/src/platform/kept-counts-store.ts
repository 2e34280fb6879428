import type { CreationAttributes, Model } from 'sequelize';
import { insertMany, lotsOf } from './bulk.js';
import { jsonRows, type Reader, type Writer } from './db.js';
import { snake, type Table } from './table.js';

/** Something that is counted as it changes, so that no page takes a scan for it, and how it is counted anew. */
export interface Kept {
  /** What is counted, for whoever checks it: “texts by day, number and outcome”. */
  what: string;
  /** How many of the counts are other than a count of the rows says now. */
  differing(r: Reader): Promise<number>;
  /** Counts anew, within the caller's transaction; `r` counts, since it has room for sorting millions. */
  recount(r: Reader, w: Writer): Promise<void>;
}

/** So many counts are written at once. */
const LOT = 5000;

/** How many rows of two sets have no equal in the other, each named by its keys once. */
async function unequal(r: Reader, keys: readonly string[], kept: string, counted: string): Promise<number> {
  const row = await r.one<{ n: number }>(
    `WITH counted AS MATERIALIZED (${counted}), kept AS MATERIALIZED (${kept}),
     apart AS (SELECT * FROM (SELECT * FROM kept EXCEPT SELECT * FROM counted) a UNION ALL SELECT * FROM (SELECT * FROM counted EXCEPT SELECT * FROM kept) b)
     SELECT count(*) AS n FROM (SELECT DISTINCT ${keys.join(', ')} FROM apart) differing`,
  );
  return row?.n ?? 0;
}

/**
 * A table that holds counts and nothing else.
 * @param o.values the columns that count; a row in which all are 0 is as good as none.
 * @param o.counted a SELECT that gives every column of the table under its own name, a row for each that is not 0.
 */
export function keptTable<M extends Model>(o: {
  what: string;
  table: Table<M>;
  values: readonly (string & keyof CreationAttributes<M>)[];
  counted: string;
}): Kept {
  const attributes = Object.keys(o.table.columns);
  const columns = attributes.map(snake).join(', ');
  const keys = attributes.filter((name) => !(o.values as readonly string[]).includes(name)).map(snake);
  const some = o.values.map((v) => `${snake(v)} <> 0`).join(' OR ');
  return {
    what: o.what,
    differing: (r) =>
      unequal(
        r,
        keys,
        `SELECT ${columns} FROM ${o.table.name} WHERE ${some}`,
        `SELECT ${columns} FROM (${o.counted}) c WHERE ${some}`,
      ),
    async recount(r, w) {
      const named = attributes.map((name) => `${snake(name)} AS "${name}"`).join(', ');
      const rows = await r.all<CreationAttributes<M>>(`SELECT ${named} FROM (${o.counted}) c`);
      await w.run(`DELETE FROM ${o.table.name}`);
      await insertMany(w, o.table, rows);
    },
  };
}

/**
 * A column that counts, in a table of things that have an id.
 * @param o.counted a SELECT that gives `id` and `n`, a row for each that is not 0.
 */
export function keptColumn(o: { what: string; table: string; column: string; counted: string }): Kept {
  const counted = `SELECT t.id, coalesce(c.n, 0) AS n FROM ${o.table} t LEFT JOIN (${o.counted}) c ON c.id = t.id`;
  return {
    what: o.what,
    differing: (r) => unequal(r, ['id'], `SELECT id, ${o.column} AS n FROM ${o.table}`, counted),
    async recount(r, w) {
      const rows = await r.all<{ id: string; n: number }>(counted);
      for (const lot of lotsOf(rows, LOT))
        await w.run(
          `UPDATE ${o.table} SET ${o.column} = CAST(j.value->>1 AS BIGINT) FROM jsonb_each($1) AS j WHERE ${o.table}.id = j.value->>0`,
          [jsonRows(lot.map((x) => [x.id, x.n]))],
        );
    },
  };
}
