import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Db } from '../platform/db.js';
import { migrate } from '../platform/migrate.js';
import { snake, TABLES } from '../platform/table.js';
import { onServer } from '../testing/database.js';
import { MIGRATIONS } from './index.js';

// The shape as SQLite keeps it; PostgreSQL's is looked at beside its dialect.
(onServer ? xdescribe : describe)('migrations', () => {
  let dir = '';
  let db: Db;
  beforeAll(async () => {
    // Every model, also one that nothing uses yet.
    const root = path.join(import.meta.dirname, '..');
    for (const file of await readdir(root, { recursive: true }))
      if (path.basename(file) === 'model.js') await import(path.join(root, file));
  });
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'migrations-'));
    db = await Db.open(path.join(dir, 'long-gate.sqlite'), false);
  });
  afterEach(async () => {
    await db.close();
    await rm(dir, { recursive: true, force: true });
  });

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

  it('tell the planner of indexes that there are, each with a figure for all its columns', async () => {
    await migrate(db);
    const figures = await db.all<{ tbl: string; idx: string; stat: string }>('SELECT tbl, idx, stat FROM sqlite_stat1');
    expect(figures.length).toBeGreaterThan(40);
    for (const { tbl, idx, stat } of figures) {
      const columns = await db.all<{ name: string }>(`SELECT name FROM pragma_index_info('${idx}')`);
      expect(columns.length).withContext(`${idx} on ${tbl}`).toBeGreaterThan(0);
      expect(stat.split(' ').length)
        .withContext(idx)
        .toBe(columns.length + 1);
    }
  });

  it('tell the planner of every index of the tables it knows figures of: of others it thinks they are narrow', async () => {
    await migrate(db);
    const without = await db.all<{ name: string }>(
      `SELECT m.name FROM sqlite_master m WHERE m.type = 'index' AND m.tbl_name IN (SELECT tbl FROM sqlite_stat1) AND m.name NOT IN (SELECT idx FROM sqlite_stat1)`,
    );
    expect(without.map((x) => x.name)).toEqual([]);
  });

  it('have the end of a chain found without walking it, which every new event does', async () => {
    await migrate(db);
    const plan = await db.all<{ detail: string }>(
      `EXPLAIN QUERY PLAN SELECT seq, hash FROM consent_event WHERE business_id = 'b' ORDER BY seq DESC LIMIT 1`,
    );
    expect(plan.map((p) => p.detail)).toEqual([
      'SEARCH consent_event USING INDEX sqlite_autoindex_consent_event_2 (business_id=?)',
    ]);
  });

  it('make a business wide and a contact narrow, from the first day', async () => {
    await migrate(db);
    const plan = await db.all<{ detail: string }>(
      `EXPLAIN QUERY PLAN SELECT count(*) FROM list_member m CROSS JOIN contact_number cn ON cn.contact_id = m.contact_id WHERE m.list_id = 'l' AND cn.business_id = 'b'`,
    );
    expect(plan[1]?.detail).toContain('contact_number_contact');
  });

  it('leave the database as it was where a step fails', async () => {
    await db.migrationConnection.query('CREATE TABLE recovery_code (x)');
    await db.migrationConnection.query('CREATE TABLE migration (name TEXT PRIMARY KEY)');
    await db.migrationConnection.query('CREATE INDEX session_user ON recovery_code (x)');
    const before = await schema();
    await expectAsync(migrate(db)).toBeRejectedWithError(/session_user/);
    expect(await schema()).toEqual(before);
  });

  it('refuse a database of before the first release, and one of tomorrow, and change neither', async () => {
    for (const [name, words] of [
      ['0001-first', /before the first release/],
      ['9999-of-tomorrow', /newer version/],
    ] as const) {
      await db.migrationConnection.query('CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY)');
      await db.migrationConnection.query('DELETE FROM migration');
      await db.migrationConnection.query(`INSERT INTO migration (name) VALUES ('${name}')`);
      const before = await schema();
      await expectAsync(migrate(db)).toBeRejectedWithError(words);
      expect(await schema()).toEqual(before);
    }
  });

  /** A model's column in the words of the database. */
  const declared = (columns: (typeof TABLES)[number]['columns']) =>
    Object.entries(columns)
      .map(([name, c]) => ({
        name: snake(name),
        type: String(typeof c.type === 'string' ? c.type : new (c.type as unknown as new () => object)()).replace(
          'TINYINT(1)',
          'BOOLEAN',
        ),
        null: c.allowNull ?? false,
        byDefault: c.defaultValue === undefined ? null : String(c.defaultValue),
        key: c.primaryKey ?? false,
        refers: c.references ? (c.references as { model: string }).model : null,
        check: c.check?.replaceAll('$column', `"${snake(name)}"`) ?? null,
      }))
      .sort((a, b) => a.name.localeCompare(b.name));

  it('make the tables that the models declare, column by column, and no others', async () => {
    await migrate(db);
    const made = await db.all<{ name: string; sql: string }>(
      `SELECT name, sql FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT LIKE 'contact_search%' AND name <> 'migration' ORDER BY name`,
    );
    expect(made.map((t) => t.name)).toEqual(TABLES.map((t) => t.name).sort());
    for (const t of TABLES) {
      const sql = made.find((m) => m.name === t.name)?.sql ?? '';
      const refers = await db.all<{ from: string; table: string }>(
        `SELECT "from", "table" FROM pragma_foreign_key_list('${t.name}')`,
      );
      const columns = await db.all<{
        name: string;
        type: string;
        notnull: number;
        dflt_value: string | null;
        pk: number;
      }>(`SELECT name, type, "notnull", dflt_value, pk FROM pragma_table_info('${t.name}')`);
      const found = columns
        .map((c) => ({
          name: c.name,
          type: c.type.replace('TINYINT(1)', 'BOOLEAN').replace(/^DOUBLE$/, 'DOUBLE PRECISION'),
          null: c.notnull === 0 && c.pk === 0,
          byDefault:
            c.dflt_value === null
              ? null
              : c.type === 'TINYINT(1)'
                ? String(c.dflt_value === '1')
                : c.dflt_value.replace(/^'(.*)'$/, '$1'),
          key: c.pk > 0,
          refers: refers.find((f) => f.from === c.name)?.table ?? null,
          check: new RegExp(`\`${c.name}\` [A-Z]+ CHECK \\((.*?\\)?)\\)[ ,)]`).exec(sql)?.[1] ?? null,
        }))
        .sort((a, b) => a.name.localeCompare(b.name));
      expect(found).withContext(t.name).toEqual(declared(t.columns));
    }
  });
});
