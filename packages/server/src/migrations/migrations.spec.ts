import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Db } from '../platform/db.js';
import { migrate } from '../platform/migrate.js';
import { MIGRATIONS } from './index.js';

describe('migrations', () => {
  let dir = '';
  let db: Db;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'migrations-'));
    db = await Db.open(path.join(dir, 'long-gate.sqlite'));
  });
  afterEach(async () => {
    await db.close();
    await rm(dir, { recursive: true, force: true });
  });

  /** The database as a version of before left it: all steps up to and with one of them. */
  async function upTo(name: string): Promise<void> {
    await db.migrationConnection.query('CREATE TABLE migration (name TEXT PRIMARY KEY)');
    for (const step of MIGRATIONS) {
      for (const statement of step.statements) await db.migrationConnection.query(statement);
      await db.write((w) => w.run('INSERT INTO migration (name) VALUES ($1)', [step.name]));
      if (step.name === name) return;
    }
    throw new Error(`there is no step ${name}`);
  }
  const schema = async () =>
    (await db.all<{ sql: string }>(`SELECT sql FROM sqlite_schema WHERE sql IS NOT NULL ORDER BY name`)).map(
      (r) => r.sql,
    );

  it('have names in their order, each once', () => {
    const names = MIGRATIONS.map((m) => m.name);
    expect(names).toEqual([...names].sort());
    expect(new Set(names).size).toBe(names.length);
    expect(names.every((n, i) => n.startsWith(String(i + 1).padStart(4, '0')))).toBeTrue();
  });

  it('run once: a second start changes nothing', async () => {
    await migrate(db);
    const before = await schema();
    await migrate(db);
    expect(await schema()).toEqual(before);
    expect((await db.all('SELECT name FROM migration')).length).toBe(MIGRATIONS.length);
  });

  it('lead from every earlier version to the same shape', async () => {
    await upTo('0008-basket');
    await migrate(db);
    const late = await schema();
    const fresh = await mkdtemp(path.join(tmpdir(), 'migrations-'));
    const other = await Db.open(path.join(fresh, 'long-gate.sqlite'));
    await migrate(other);
    const names = (list: string[]) =>
      list.map((s) => s.replace(/\s+/g, ' ')).filter((s) => !s.startsWith('CREATE TABLE migration'));
    const whole = (
      await other.all<{ sql: string }>(`SELECT sql FROM sqlite_schema WHERE sql IS NOT NULL ORDER BY name`)
    ).map((r) => r.sql);
    expect(names(late)).toEqual(names(whole));
    await other.close();
    await rm(fresh, { recursive: true, force: true });
  });

  it('keep people, their roles and what was submitted, and forget what told something of a PIN', async () => {
    await upTo('0014-proof');
    await db.write(async (w) => {
      await w.run(
        `INSERT INTO business (id, legal_name, name_line, form, created_at) VALUES ('biz_1','Heron Lane','Heron','private company',1)`,
      );
      await w.run(
        `INSERT INTO user (id, email, name, password, created_at) VALUES ('usr_1','a@heron.example','Ada','x',1), ('usr_2','b@heron.example','Bo','x',1)`,
      );
      await w.run(
        `INSERT INTO membership (user_id, business_id, role) VALUES ('usr_1','biz_1','administrator'), ('usr_2','biz_1','viewer')`,
      );
      await w.run(
        `INSERT INTO session (token_hash, user_id, csrf, expires_wall) VALUES ('h','usr_1','c',9999999999999)`,
      );
      await w.run(
        `INSERT INTO port (id, business_id, facts, begun_at, last_submitted) VALUES ('prt_1','biz_1','{}',1,$1)`,
        [JSON.stringify({ holderName: 'Heron Lane', pin: '••••• (mark 42)', accountNumber: '•••0712' })],
      );
    });
    await migrate(db);
    expect(await db.all('SELECT user_id, role, administrator_since FROM membership ORDER BY user_id')).toEqual([
      { user_id: 'usr_1', role: 'administrator', administrator_since: 0 },
      { user_id: 'usr_2', role: 'viewer', administrator_since: null },
    ]);
    expect(await db.all('SELECT * FROM session'))
      .withContext('sessions of before have ended')
      .toEqual([]);
    const port = await db.one<{ last_submitted: string }>('SELECT last_submitted FROM port');
    expect(JSON.parse(port?.last_submitted ?? '')).toEqual({ holderName: 'Heron Lane' });
  });

  it('leave the database as it was where a step fails', async () => {
    await upTo('0014-proof');
    await db.migrationConnection.query('CREATE TABLE recovery_code (x)');
    const before = await schema();
    await expectAsync(migrate(db)).toBeRejectedWithError(/recovery_code/);
    expect(await schema()).toEqual(before);
  });
});
