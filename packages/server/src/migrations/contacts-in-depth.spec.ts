import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Db } from '../platform/db.js';
import { migrate } from '../platform/migrate.js';
import { onServer } from '../testing/database.js';
import { MIGRATIONS } from './index.js';

// A PostgreSQL server has the present shape from the beginning.
(onServer ? xdescribe : describe)('contacts that were there before they went in depth', () => {
  let dir = '';
  let db: Db;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'contacts-'));
    db = await Db.open(path.join(dir, 'long-gate.sqlite'), false);
    const sql = db.migrationConnection;
    await sql.query('CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY)');
    for (const { name, up } of MIGRATIONS.filter((m) => m.name < '0015')) {
      await db.alone(() => up(sql.getQueryInterface()));
      await sql.query('INSERT INTO migration (name) VALUES ($1)', { bind: [name] });
    }
    await db.write(async (w) => {
      await w.run(
        `INSERT INTO business (id, legal_name, name_line, form, created_at) VALUES ('b', 'x', 'x', 'private company', 1)`,
      );
      for (const [id, name] of [
        ['c1', 'Ada'],
        ['c2', 'Brandt'],
      ])
        await w.run(
          `INSERT INTO contact (id, business_id, first_name, sort_name, created_at) VALUES ($1, 'b', $2, lower($2), 1)`,
          [id, name],
        );
      for (const [contact, e164, textable, trouble, until] of [
        ['c1', '+12125550101', 'yes', 'none', 86_400_500],
        ['c1', '+12125550102', 'no', 'none', null],
        ['c2', '+12125550103', 'yes', 'out-of-service', null],
      ])
        await w.run(
          `INSERT INTO contact_number (business_id, contact_id, e164, sort_name, country, zones, states, line_type, textable, trouble, trouble_at, looked_up_at, conversation_until)
           VALUES ('b', $1, $2, 'x', 'US', '', '', CASE $3 WHEN 'no' THEN 'landline' ELSE 'mobile' END, $3, $4, 7, 6, $5)`,
          [contact, e164, textable, trouble, until],
        );
    });
    await migrate(db);
  });
  afterEach(async () => {
    await db.close();
    await rm(dir, { recursive: true, force: true });
  });

  it('have one preferred number each, the first', async () => {
    expect(await db.all('SELECT e164, preferred FROM contact_number ORDER BY e164')).toEqual([
      { e164: '+12125550101', preferred: 1 },
      { e164: '+12125550102', preferred: 0 },
      { e164: '+12125550103', preferred: 1 },
    ]);
  });

  it('are counted as they stand', async () => {
    expect(
      await db.all('SELECT textable, line_type, trouble, preferred, n FROM contact_count WHERE n > 0 ORDER BY 1, 3'),
    ).toEqual([
      { textable: 'no', line_type: 'landline', trouble: 'none', preferred: 0, n: 1 },
      { textable: 'yes', line_type: 'mobile', trouble: 'none', preferred: 1, n: 1 },
      { textable: 'yes', line_type: 'mobile', trouble: 'out-of-service', preferred: 1, n: 1 },
    ]);
  });

  it('know when they last wrote, and what keeps texts from them', async () => {
    expect(await db.one(`SELECT last_reply_at AS at FROM contact_number WHERE e164 = '+12125550101'`)).toEqual({
      at: 500,
    });
    expect(await db.all('SELECT cause, source, detail, first_at, stands FROM number_trouble ORDER BY cause')).toEqual([
      { cause: 'not-textable', source: 'lookup', detail: 'landline', first_at: 6, stands: 1 },
      { cause: 'out-of-service', source: 'receipt', detail: '', first_at: 7, stands: 1 },
    ]);
  });

  it('are found by any of their numbers, once', async () => {
    const found = async (words: string): Promise<number> =>
      (await db.all(`SELECT rowid FROM contact_search WHERE contact_search MATCH $1`, [`"${words}"`])).length;
    expect([await found('101'), await found('102'), await found('ada')]).toEqual([1, 1, 1]);
  });
});
