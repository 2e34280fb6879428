import { rm } from 'node:fs/promises';
import path from 'node:path';
import sqlite3 from 'sqlite3';
import { further, number, person, PREFERENCES, seat, TAGS, tags } from './people.js';

/** A connection with nothing between: for references. */
export class Bare {
  private constructor(private readonly db: sqlite3.Database) {}
  static open(file: string, readonly = true): Promise<Bare> {
    return new Promise((resolve, reject) => {
      const db = new sqlite3.Database(file, readonly ? sqlite3.OPEN_READONLY : sqlite3.OPEN_READWRITE, (e) =>
        e ? reject(e) : resolve(new Bare(db)),
      );
    });
  }
  all<T = Record<string, unknown>>(sql: string, bind: unknown[] = []): Promise<T[]> {
    return new Promise((resolve, reject) => this.db.all<T>(sql, bind, (e, rows) => (e ? reject(e) : resolve(rows))));
  }
  exec(sql: string): Promise<void> {
    return new Promise((resolve, reject) => this.db.exec(sql, (e) => (e ? reject(e) : resolve())));
  }
  /** A prepared insert, row by row. */
  insert(sql: string, rows: readonly unknown[][]): Promise<void> {
    return new Promise((resolve, reject) => {
      const statement = this.db.prepare(sql);
      for (const row of rows) statement.run(row);
      statement.finalize((e: Error | null) => (e ? reject(e) : resolve()));
    });
  }
  close(): Promise<void> {
    return new Promise((resolve) => this.db.close(() => resolve()));
  }
}

/**
 * Brings so many people in by a bare prepared insert, into the same tables with all their indexes and triggers as those of
 * `source`. @returns how long it took, in milliseconds.
 */
export async function bareIntake(source: Bare, dir: string, n: number): Promise<number> {
  const file = path.join(dir, 'bare.sqlite');
  const schema = await source.all<{ sql: string }>(
    `SELECT sql FROM sqlite_schema WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite_%' AND name NOT LIKE 'contact_search_%' ORDER BY type = 'trigger', type = 'index', rowid`,
  );
  const triggers = await source.all<{ sql: string }>(
    `SELECT sql FROM sqlite_schema WHERE type = 'trigger' AND name LIKE 'contact_search_%'`,
  );
  const made = new sqlite3.Database(file);
  await new Promise<void>((r) => made.close(() => r()));
  const bare = await Bare.open(file, false);
  await bare.exec('PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA cache_size=-65536;');
  for (const { sql } of [...schema, ...triggers]) await bare.exec(sql);
  await bare.exec(
    `INSERT INTO business (id, legal_name, name_line, form, created_at) VALUES ('b','b','b','b',1); INSERT INTO contact_list (id, business_id, name, created_at) VALUES ('l','b','l',1)${TAGS.map((t) => `, ('${t}','b','${t}',1)`).join('')}`,
  );
  const at = performance.now();
  for (let i = 0; i < n; i += 20_000) {
    const part = Array.from({ length: Math.min(20_000, n - i) }, (_, k) => {
      const p = person(i + k);
      const sort = `${p.lastName} ${p.firstName}`.toLowerCase();
      const own = [PREFERENCES[(i + k) % PREFERENCES.length] ?? '', seat(i + k)];
      return {
        id: `con_${i + k}`,
        sort,
        ...p,
        own: JSON.stringify({ a: own[0], b: own[1] }),
        words: own.join('\n'),
        tags: tags(i + k),
        numbers: [number(i + k), further(i + k)].filter((e164) => e164 !== ''),
      };
    });
    await bare.exec('BEGIN');
    await bare.insert(
      'INSERT INTO contact (id, business_id, first_name, last_name, email, sort_name, own, own_words, created_at) VALUES (?,?,?,?,?,?,?,?,1)',
      part.map((p) => [p.id, 'b', p.firstName, p.lastName, p.email, p.sort, p.own, p.words]),
    );
    await bare.insert(
      `INSERT OR IGNORE INTO contact_number (business_id, contact_id, e164, preferred, sort_name, country, zones, states) VALUES ('b',?,?,?,?,'US','America/New_York','NJ')`,
      part.flatMap((p) => p.numbers.map((e164, k) => [p.id, e164, k === 0 ? 1 : 0, p.sort])),
    );
    await bare.insert(
      `INSERT OR IGNORE INTO list_member (list_id, contact_id, sort_name) VALUES (?,?,?)`,
      part.flatMap((p) => ['l', ...p.tags].map((list) => [list, p.id, p.sort])),
    );
    await bare.exec('COMMIT');
  }
  const took = performance.now() - at;
  await bare.close();
  await rm(file, { force: true });
  return took;
}
