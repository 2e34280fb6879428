import { randomBytes } from 'node:crypto';
import { rmSync } from 'node:fs';
import { copyFile, mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import pg from 'pg';
import { Db, type Reader, type Writer } from '../platform/db.js';
import { migrate } from '../platform/migrate.js';

/** The server specs run on, where one is named; SQLite otherwise. Its user must be allowed to create databases. */
const SERVER = process.env['LONG_GATE_SPECS_ON'] ?? '';

/** Whether specs run on a database server: a few are about SQLite's file. */
export const onServer = SERVER !== '';

let template: Promise<string> | null = null;

/** A database with all tables and no rows: its place, and how to be rid of it. */
export async function emptyDatabase(dir: string): Promise<{ place: string; drop: () => Promise<void> }> {
  if (!onServer) {
    const place = path.join(dir, 'long-gate.sqlite');
    await copyFile(await (template ??= migratedFile()), place);
    return { place, drop: () => Promise.resolve() };
  }
  const name = `spec_${randomBytes(6).toString('hex')}`;
  await say(`CREATE DATABASE ${name} TEMPLATE ${await (template ??= migrated())}`);
  return { place: at(name), drop: () => say(`DROP DATABASE ${name} WITH (FORCE)`) };
}

/** Migrations take their time; each spec gets a copy of what they made once. */
async function migrated(): Promise<string> {
  const name = `spec_template_${randomBytes(6).toString('hex')}`;
  await say(`CREATE DATABASE ${name} TEMPLATE template0 LC_COLLATE 'C' LC_CTYPE 'C' ENCODING 'UTF8'`);
  const db = await Db.open(at(name), false);
  await migrate(db);
  await db.close();
  return name;
}

/** A file as {@link migrated}; closed, its journal is in it. Goes with the process. */
async function migratedFile(): Promise<string> {
  const dir = await mkdtemp(path.join(tmpdir(), 'spec-template-'));
  process.once('exit', () => rmSync(dir, { recursive: true, force: true }));
  const file = path.join(dir, 'long-gate.sqlite');
  const db = await Db.open(file, false);
  await migrate(db);
  await db.close();
  return file;
}

function at(name: string): string {
  const url = new URL(SERVER);
  url.pathname = `/${name}`;
  return url.toString();
}

async function say(text: string): Promise<void> {
  const client = new pg.Client(SERVER);
  await client.connect();
  try {
    await client.query(text);
  } finally {
    await client.end();
  }
}

/** Takes a guard of the database away, as whoever has its files in hand could. */
export async function withoutGuard(w: Writer, table: string, guard: string): Promise<void> {
  await w.run(w.dialect === 'sqlite' ? `DROP TRIGGER ${guard}` : `DROP TRIGGER ${guard} ON ${table}`);
}

/** The names of all tables. */
export async function tableNames(r: Reader): Promise<string[]> {
  const rows = await r.all<{ name: string }>(
    r.dialect === 'sqlite'
      ? `SELECT name FROM sqlite_schema WHERE type = 'table' ORDER BY name`
      : `SELECT tablename AS name FROM pg_tables WHERE schemaname = 'public' ORDER BY tablename`,
  );
  return rows.map((t) => t.name);
}

/** A spec about SQLite's own file; left out where specs run on a server. */
export function ofSqlite(name: string, spec: () => Promise<void>): void {
  (onServer ? xit : it)(name, spec);
}
