import { QueryTypes, Sequelize } from 'sequelize';
import sqlite3 from 'sqlite3';
import type { NewOutsideEvent, OutsideEvent } from '@long-gate/gateways';

const SCHEMA = [
  `CREATE TABLE IF NOT EXISTS setting (name TEXT PRIMARY KEY, value TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS event (seq INTEGER PRIMARY KEY AUTOINCREMENT, at INTEGER NOT NULL, body TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS due (id INTEGER PRIMARY KEY AUTOINCREMENT, at INTEGER NOT NULL, kind TEXT NOT NULL, body TEXT NOT NULL)`,
  `CREATE INDEX IF NOT EXISTS due_at ON due (at, id)`,
  `CREATE TABLE IF NOT EXISTS request (key TEXT PRIMARY KEY, kind TEXT NOT NULL, at INTEGER NOT NULL, body TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS sold (e164 TEXT PRIMARY KEY, key TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS held (e164 TEXT PRIMARY KEY, key TEXT NOT NULL, until INTEGER NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS assigned (e164 TEXT PRIMARY KEY, campaign_key TEXT NOT NULL)`,
  // Campaigns that may not send for now; owners who were asked whether a brand is theirs; what vetting found.
  `CREATE TABLE IF NOT EXISTS suspended (campaign TEXT PRIMARY KEY, at INTEGER NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS confirmation (brand_key TEXT PRIMARY KEY, phone TEXT NOT NULL, until INTEGER NOT NULL, confirmed INTEGER NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS vetted (brand TEXT PRIMARY KEY, score INTEGER NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS line (e164 TEXT PRIMARY KEY, line_type TEXT NOT NULL, carrier TEXT NOT NULL, reachable INTEGER NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS given_up (e164 TEXT PRIMARY KEY, day TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS lookup (id INTEGER PRIMARY KEY, wall_at INTEGER NOT NULL, e164 TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS text (key TEXT PRIMARY KEY, sender TEXT NOT NULL, recipient TEXT NOT NULL, text TEXT NOT NULL, segments INTEGER NOT NULL, at INTEGER NOT NULL, received INTEGER NOT NULL DEFAULT 1)`,
  // What came from a phone, by its place in the feed.
  `CREATE TABLE IF NOT EXISTS from_phone (seq INTEGER PRIMARY KEY, phone TEXT NOT NULL)`,
  `CREATE INDEX IF NOT EXISTS from_phone_phone ON from_phone (phone, seq)`,
  `CREATE TABLE IF NOT EXISTS handset (id INTEGER PRIMARY KEY AUTOINCREMENT, phone TEXT NOT NULL, peer TEXT NOT NULL, direction TEXT NOT NULL, text TEXT NOT NULL, at INTEGER NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS bureau_record (e164 TEXT PRIMARY KEY, body TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS bureau_port (key TEXT PRIMARY KEY, filing TEXT NOT NULL, state TEXT NOT NULL, foc_at INTEGER)`,
  `CREATE TABLE IF NOT EXISTS sender_id (text TEXT NOT NULL, code TEXT NOT NULL, PRIMARY KEY (text, code))`,
  `CREATE TABLE IF NOT EXISTS call_handling (e164 TEXT PRIMARY KEY, forward_to TEXT NOT NULL, greeting TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS hosted (e164 TEXT PRIMARY KEY, provider TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS line_code (e164 TEXT PRIMARY KEY, code TEXT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS mail (n INTEGER PRIMARY KEY AUTOINCREMENT, key TEXT NOT NULL UNIQUE, recipient TEXT NOT NULL, at INTEGER NOT NULL, file TEXT NOT NULL)`,
  // What was asked and paid for under a key is answered alike the second time.
  `CREATE TABLE IF NOT EXISTS lookup_answer (key TEXT PRIMARY KEY, body TEXT NOT NULL)`,
  `CREATE INDEX IF NOT EXISTS handset_phone ON handset (phone, id)`,
];

/** Sequelize asks the driver to keep a stack trace for every query, which costs an eighth of all time; this one does not. */
const QUIET = { ...sqlite3, verbose: () => sqlite3 };

/** The simulated outside's own memory: one SQLite file, one connection, one writer at a time. */
export class OutsideStore {
  private readonly sql: Sequelize;
  private tail: Promise<unknown> = Promise.resolve();
  private readonly waiting = new Set<() => void>();

  private constructor(file: string) {
    this.sql = new Sequelize({ dialect: 'sqlite', storage: file, logging: false, dialectModule: QUIET });
  }

  static async open(file: string): Promise<OutsideStore> {
    const store = new OutsideStore(file);
    for (const pragma of ['journal_mode=WAL', 'synchronous=NORMAL', 'busy_timeout=5000'])
      await store.sql.query(`PRAGMA ${pragma}`);
    for (const statement of SCHEMA) await store.sql.query(statement);
    return store;
  }

  async all<T extends object>(sql: string, bind: unknown[] = []): Promise<T[]> {
    return this.sql.query<T>(sql, { bind, type: QueryTypes.SELECT });
  }

  async one<T extends object>(sql: string, bind: unknown[] = []): Promise<T | undefined> {
    return (await this.all<T>(sql, bind))[0];
  }

  async run(sql: string, bind: unknown[] = []): Promise<void> {
    await this.sql.query(sql, { bind });
  }

  /** Runs `work` alone, in one transaction. */
  async write<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.tail.then(async () => {
      await this.sql.query('BEGIN IMMEDIATE');
      try {
        const result = await work();
        await this.sql.query('COMMIT');
        this.wake();
        return result;
      } catch (error) {
        await this.sql.query('ROLLBACK');
        throw error;
      }
    });
    this.tail = turn.catch(() => undefined);
    return turn;
  }

  /** Resolves when something was written, or after so many milliseconds. */
  async written(withinMs: number): Promise<void> {
    await new Promise<void>((resolve) => {
      const timer = setTimeout(done, withinMs);
      const { waiting } = this;
      function done(): void {
        clearTimeout(timer);
        waiting.delete(done);
        resolve();
      }
      waiting.add(done);
    });
  }

  /** Whoever waits for something to be written looks again. */
  wake(): void {
    for (const done of [...this.waiting]) done();
  }

  async tell(event: NewOutsideEvent): Promise<void> {
    await this.run('INSERT INTO event (at, body) VALUES ($1, $2)', [event.at, JSON.stringify(event)]);
    const row = await this.one<{ seq: number }>('SELECT last_insert_rowid() AS seq');
    if (event.kind === 'text.inbound' || event.kind === 'call.inbound')
      await this.run('INSERT INTO from_phone (seq, phone) VALUES ($1, $2)', [row?.seq ?? 0, event.from]);
  }

  async eventsAfter(seq: number, limit: number): Promise<OutsideEvent[]> {
    const rows = await this.all<{ seq: number; body: string }>(
      'SELECT seq, body FROM event WHERE seq > $1 ORDER BY seq LIMIT $2',
      [seq, limit],
    );
    return rows.map((r) => ({ ...(JSON.parse(r.body) as NewOutsideEvent), seq: r.seq }));
  }

  async schedule(at: number, kind: string, body: object): Promise<void> {
    await this.run('INSERT INTO due (at, kind, body) VALUES ($1, $2, $3)', [
      Math.round(at),
      kind,
      JSON.stringify(body),
    ]);
  }

  async scheduleAll(kind: string, due: readonly { at: number; body: object }[]): Promise<void> {
    await this.run('INSERT INTO due (at, kind, body) SELECT value->>0, $2, value->>1 FROM json_each($1)', [
      JSON.stringify(due.map((d) => [Math.round(d.at), JSON.stringify(d.body)])),
      kind,
    ]);
  }

  /** Remembers a request by its key; false when it was here before. */
  async remember(key: string, kind: string, at: number, body: object): Promise<boolean> {
    if (await this.one('SELECT key FROM request WHERE key = $1', [key])) return false;
    await this.run('INSERT INTO request (key, kind, at, body) VALUES ($1, $2, $3, $4)', [
      key,
      kind,
      at,
      JSON.stringify(body),
    ]);
    return true;
  }

  async close(): Promise<void> {
    await this.tail;
    await this.sql.close();
  }
}
