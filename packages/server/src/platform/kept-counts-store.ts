import type { Reader, Writer } from './db.js';

/** Something that is counted as it changes, so that no page takes a scan for it, and how it is counted anew. */
export interface Kept {
  /** What is counted, for whoever checks it: “texts by day, number and outcome”. */
  what: string;
  /** How many of the counts are other than a count of the rows says now. */
  differing(r: Reader): Promise<number>;
  /** Counts anew, within the caller's transaction. */
  recount(w: Writer): Promise<void>;
}

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
 * @param o.counted a SELECT that gives keys and values under their own names, a row for each that is not 0.
 */
export function keptTable(o: {
  what: string;
  table: string;
  keys: readonly string[];
  values: readonly string[];
  counted: string;
}): Kept {
  const columns = [...o.keys, ...o.values].join(', ');
  const some = o.values.map((v) => `${v} <> 0`).join(' OR ');
  return {
    what: o.what,
    differing: (r) =>
      unequal(
        r,
        o.keys,
        `SELECT ${columns} FROM ${o.table} WHERE ${some}`,
        `SELECT ${columns} FROM (${o.counted}) c WHERE ${some}`,
      ),
    async recount(w) {
      await w.run(`DELETE FROM ${o.table}`);
      await w.run(`INSERT INTO ${o.table} (${columns}) SELECT ${columns} FROM (${o.counted}) c`);
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
    async recount(w) {
      await w.run(
        `UPDATE ${o.table} SET ${o.column} = c.n FROM (${counted}) c WHERE c.id = ${o.table}.id AND ${o.column} <> c.n`,
      );
    },
  };
}
