import { Umzug, type UmzugStorage } from 'umzug';
import type { Db } from './db.js';
import { MIGRATIONS } from '../migrations/index.js';

/** The database is of another version than this program can take over; nothing was changed. */
export class OtherDatabase extends Error {}

/** Brings the database to the present shape; forward only. Each step runs in a transaction of its own. */
export async function migrate(db: Db): Promise<void> {
  const sql = db.migrationConnection;
  await sql.query('CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY)');
  const storage: UmzugStorage = {
    logMigration: async ({ name }) => {
      await sql.query('INSERT INTO migration (name) VALUES ($1)', { bind: [name] });
    },
    unlogMigration: () => Promise.reject(new Error('migrations go forward only')),
    executed: async () => {
      const [rows] = await sql.query('SELECT name FROM migration ORDER BY name');
      return (rows as { name: string }[]).map((r) => r.name);
    },
  };
  const known = new Set(MIGRATIONS.map((m) => m.name));
  const done = await storage.executed({ context: {} });
  if (done.includes('0001-first'))
    throw new OtherDatabase(
      'This database was written before the first release, in a shape that is not taken over. Move its folder away, or set LONG_GATE_DATA to another one.',
    );
  const newer = done.find((name) => !known.has(name));
  if (newer !== undefined)
    throw new OtherDatabase(
      `This database was written by a newer version of Long Gate (step ${newer}). Start that version, or a copy made before.`,
    );
  const umzug = new Umzug({
    storage,
    logger: undefined,
    migrations: MIGRATIONS.map(({ name, up }) => ({
      name,
      up: async () => {
        await db.alone(() => up(sql.getQueryInterface()));
      },
    })),
  });
  await umzug.up();
}
