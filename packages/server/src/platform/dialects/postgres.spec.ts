import { readdir } from 'node:fs/promises';
import path from 'node:path';
import { Db, jsonRows } from '../db.js';
import { migrate } from '../migrate.js';
import { snake, TABLES } from '../table.js';
import { emptyDatabase, onServer } from '../../testing/database.js';
import { placed, takeDatabase } from './postgres.js';

describe('a statement for PostgreSQL', () => {
  it('has its parameters by place, each once, and what stands in quotes untouched', () => {
    expect(placed(`SELECT $b, '$b it''s $5', "$c", $a, $b WHERE x = $10`)).toEqual({
      text: `SELECT $1, '$b it''s $5', "$c", $2, $1 WHERE x = $3`,
      names: ['b', 'a', '10'],
    });
  });

  it('orders its planner about nothing', () => {
    expect(placed('SELECT 1 FROM a CROSS JOIN b INDEXED BY b_x ON b.x = a.x').text).toBe(
      'SELECT 1 FROM a JOIN b  ON b.x = a.x',
    );
  });
});

if (!onServer) console.log('No PostgreSQL server is named in LONG_GATE_SPECS_ON: its specs are left out.');
(onServer ? describe : xdescribe)('a PostgreSQL database', () => {
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  beforeAll(async () => {
    const root = path.join(import.meta.dirname, '..', '..');
    for (const file of await readdir(root, { recursive: true }))
      if (path.basename(file) === 'model.js') await import(path.join(root, file));
  });
  beforeEach(async () => {
    database = await emptyDatabase('');
    db = await Db.open(database.place, false);
  });
  afterEach(async () => {
    await db.close();
    await database.drop();
  });

  const TYPES: Record<string, string> = {
    TEXT: 'text',
    INTEGER: 'integer',
    BIGINT: 'bigint',
    BOOLEAN: 'boolean',
    'TINYINT(1)': 'boolean',
    'DOUBLE PRECISION': 'double precision',
    BLOB: 'bytea',
  };

  it('gets the tables that the models declare from the same migrations, column by column, and no others', async () => {
    await migrate(db);
    const made = await db.all<{ t: string; c: string; type: string; nullable: string; standard: string | null }>(
      `SELECT table_name AS t, column_name AS c, data_type AS type, is_nullable AS nullable, column_default AS standard
       FROM information_schema.columns WHERE table_schema = 'public' AND table_name NOT IN ('migration', 'contact_search')`,
    );
    expect([...new Set(made.map((m) => m.t))].sort()).toEqual(TABLES.map((t) => t.name).sort());
    const refers = await db.all<{ t: string; c: string; to: string }>(
      `SELECT conrelid::regclass::text AS t, a.attname AS c, confrelid::regclass::text AS to
       FROM pg_constraint k JOIN pg_attribute a ON a.attrelid = k.conrelid AND a.attnum = k.conkey[1] WHERE k.contype = 'f'`,
    );
    const bare = (name: string): string => name.replaceAll('"', '');
    for (const t of TABLES)
      for (const [name, column] of Object.entries(t.columns)) {
        const found = made.find((m) => m.t === t.name && m.c === snake(name));
        const type = String(
          typeof column.type === 'string' ? column.type : new (column.type as unknown as new () => object)(),
        );
        const { defaultValue: standard, references } = column as {
          defaultValue?: unknown;
          references?: { model: string };
        };
        const where = `${t.name}.${name}`;
        expect(found?.type)
          .withContext(where)
          .toBe(column.autoIncrement ? 'bigint' : TYPES[type]);
        expect(found?.nullable)
          .withContext(where)
          .toBe(column.allowNull ? 'YES' : 'NO');
        if (!column.autoIncrement)
          expect(found?.standard?.replace(/^'(.*)'::.*$/, '$1') ?? null)
            .withContext(where)
            .toBe(standard === undefined ? null : String(standard));
        expect(refers.find((r) => bare(r.t) === t.name && r.c === snake(name)) === undefined)
          .withContext(where)
          .toBe(references === undefined);
      }
  });

  it('is left as it is by a second start', async () => {
    const before = await db.all('SELECT * FROM pg_class ORDER BY oid');
    await migrate(db);
    expect((await db.all('SELECT * FROM pg_class ORDER BY oid')).length).toBe(before.length);
  });

  it('answers numbers as numbers, also those of 64 bits and sums of them, and text as it was', async () => {
    const [row] = await db.all<Record<string, unknown>>(
      `SELECT CAST($1 AS BIGINT) AS moment, sum(x) AS sum, count(*) AS n FROM (SELECT CAST(value AS BIGINT) AS x FROM jsonb_each($2)) AS v`,
      [1_899_561_600_111, jsonRows([1, 2, 3_000_000_000])],
    );
    expect(row).toEqual({ moment: 1_899_561_600_111, sum: 3_000_000_003, n: 3 });
    const words = 'it’s “so” \\ % _ \n $1';
    expect(await db.all('SELECT value->>1 AS w FROM jsonb_each($1)', [jsonRows([['x', words]])])).toEqual([
      { w: words },
    ]);
    expect(await db.all('SELECT value AS w FROM jsonb_each($1)', [jsonRows([words, null])])).toEqual([
      { w: words },
      { w: null },
    ]);
    await expectAsync(db.all('SELECT $a AS n', { b: 1 })).toBeRejectedWithError('No value was given for $a.');
  });

  it('undoes a write that fails, and goes on', async () => {
    await expectAsync(
      db.write(async (w) => {
        await w.run(`INSERT INTO setting (name, value) VALUES ('half', 'x')`);
        await w.run('SELECT nothing FROM nowhere');
      }),
    ).toBeRejected();
    await db.write((w) => w.run(`INSERT INTO setting (name, value) VALUES ('whole', 'x')`));
    expect(await db.all('SELECT name FROM setting')).toEqual([{ name: 'whole' }]);
  });

  it('lets nothing through on another connection where the one of a write is lost in its middle', async () => {
    await expectAsync(
      db.write(async (w) => {
        await w.run(`INSERT INTO setting (name, value) VALUES ('before', 'x')`);
        const [me] = await w.all<{ pid: number }>('SELECT pg_backend_pid() AS pid');
        await db.all('SELECT pg_terminate_backend($1)', [me?.pid]);
        // Whoever takes an error lightly must not write on outside of the transaction.
        await w.run(`INSERT INTO setting (name, value) VALUES ('lost', 'x')`).catch(() => undefined);
        await new Promise((r) => setTimeout(r, 200));
        await w.run(`INSERT INTO setting (name, value) VALUES ('after', 'x')`);
      }),
    ).toBeRejected();
    expect(await db.all('SELECT name FROM setting')).toEqual([]);
    await db.write((w) => w.run(`INSERT INTO setting (name, value) VALUES ('next', 'x')`));
    expect(await db.all('SELECT name FROM setting')).toEqual([{ name: 'next' }]);
  });

  it('belongs to one process at a time', async () => {
    const giveBack = await takeDatabase(database.place, () => fail('it was given away'));
    await expectAsync(takeDatabase(database.place, () => undefined)).toBeRejectedWithError(/Another Long Gate works/);
    await giveBack();
    let lost = false;
    await takeDatabase(database.place, () => (lost = true));
    await db.all(
      `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'long-gate hold' AND datname = current_database()`,
    );
    for (let i = 0; i < 3_000 && !lost; i++) await new Promise((r) => setTimeout(r, 20));
    expect(lost).toBeTrue();
  });
});
