import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { KEPT_SINCE } from '../areas/contacts/history/model.js';
import { Db } from '../platform/db.js';
import { migrate } from '../platform/migrate.js';
import { onServer } from '../testing/database.js';
import { MIGRATIONS } from './index.js';

// A PostgreSQL server has the present shape from the beginning.
(onServer ? xdescribe : describe)('contact numbers that were there before their history was kept', () => {
  let dir = '';
  let db: Db;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'as-of-'));
    db = await Db.open(path.join(dir, 'long-gate.sqlite'), false);
    const sql = db.migrationConnection;
    await sql.query('CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY)');
    for (const { name, up } of MIGRATIONS.filter((m) => m.name < '0025')) {
      await db.alone(() => up(sql.getQueryInterface()));
      await sql.query('INSERT INTO migration (name) VALUES ($1)', { bind: [name] });
    }
  });
  afterEach(async () => {
    await db.close();
    await rm(dir, { recursive: true, force: true });
  });
  const number = () =>
    db.write(async (w) => {
      await w.run(
        `INSERT INTO business (id, legal_name, name_line, form, created_at) VALUES ('b', 'x', 'x', 'private company', 1)`,
      );
      await w.run(`INSERT INTO contact (id, business_id, sort_name, created_at) VALUES ('c', 'b', 'ada', 1)`);
      await w.run(
        `INSERT INTO contact_number (business_id, contact_id, e164, sort_name, country, zones, states, textable) VALUES ('b', 'c', '+12125550101', 'ada', 'US', '', '', 'yes')`,
      );
    });
  const history = () => db.all<{ textable: string }>('SELECT textable FROM contact_number_was ORDER BY id');
  const since = () => db.one<{ value: string }>('SELECT value FROM setting WHERE name = $1', [KEPT_SINCE]);

  it('have none of the time before, and it is kept since when they have one', async () => {
    await number();
    const before = Date.now();
    await migrate(db);
    expect(Number((await since())?.value)).toBeGreaterThanOrEqual(before - 5);
    expect(await history()).toEqual([]);
    await db.write((w) => w.run(`UPDATE contact_number SET textable = 'no'`));
    // What the gate does not read is no change, and neither is the same again.
    await db.write((w) => w.run(`UPDATE contact_number SET textable = 'no', label = 'work'`));
    expect(await history()).toEqual([{ textable: 'yes' }]);
    await db.write((w) => w.run('DELETE FROM contact_number'));
    expect(await history()).toEqual([]);
  });

  it('and where there are none yet, they have theirs from the first', async () => {
    await migrate(db);
    await number();
    expect(await since()).toBeUndefined();
    await db.write((w) => w.run(`UPDATE contact_number SET carrier = 'Harth'`));
    expect(await history()).toEqual([{ textable: 'yes' }]);
  });
});
