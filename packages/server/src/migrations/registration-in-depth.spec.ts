import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { BrandBody, TollFreeBody } from '@long-gate/contracts';
import { Db } from '../platform/db.js';
import { migrate } from '../platform/migrate.js';
import { onServer } from '../testing/database.js';
import { MIGRATIONS } from './index.js';

const DAY = 86_400_000;
const DECIDED = Date.parse('2027-01-05T12:00:00Z');
const BRAND = {
  form: 'private company',
  legalName: 'Heron Lane Bakery LLC',
  street: '9 Mill Street',
  city: 'Quillmere',
  state: 'NJ',
  postalCode: '07030',
  website: 'https://heron.example',
  email: 'office@heron.example',
  mobile: '',
  exchange: '',
  ticker: '',
};

// A PostgreSQL server has the present shape from the beginning.
(onServer ? xdescribe : describe)('a registration that was there before it went in depth', () => {
  let dir = '';
  let db: Db;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'depth-'));
    db = await Db.open(path.join(dir, 'long-gate.sqlite'), false);
    // The shape as it was: every step before this one.
    const sql = db.migrationConnection;
    await sql.query('CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY)');
    for (const { name, up } of MIGRATIONS.filter((m) => m.name < '0014')) {
      await db.alone(() => up(sql.getQueryInterface()));
      await sql.query('INSERT INTO migration (name) VALUES ($1)', { bind: [name] });
    }
    await db.write(async (w) => {
      await w.run(
        `INSERT INTO business (id, legal_name, name_line, form, created_at) VALUES ('b', 'x', 'x', 'private company', 1)`,
      );
      await w.run(
        `INSERT INTO brand (id, business_id, body, state, attempt, submitted_at, decided_at, last_submitted) VALUES ('brd', 'b', $1, 'registered', 1, 5, 6, $1)`,
        [JSON.stringify(BRAND)],
      );
      for (const [id, state] of [
        ['news', 'registered'],
        ['old', 'declined'],
      ])
        await w.run(
          `INSERT INTO campaign (id, business_id, name, body, state, decided_at, created_at) VALUES ($1, 'b', $1, '{}', $2, $3, 1)`,
          [id, state, DECIDED],
        );
      for (const [id, kind, tie, campaign] of [
        ['local', 'local', 'attached', 'news'],
        ['free', 'toll-free', 'attached', 'news'],
        ['asked', 'toll-free', 'attaching', 'news'],
        ['loose', 'toll-free', 'none', null],
      ])
        await w.run(
          `INSERT INTO number (id, business_id, e164, kind, state, tie_state, campaign_id, ordered_at, active_at) VALUES ($1, 'b', $1, $2, 'active', $3, $4, 1, 7)`,
          [id, kind, tie, campaign],
        );
    });
    await migrate(db);
  });
  afterEach(async () => {
    await db.close();
    await rm(dir, { recursive: true, force: true });
  });

  it('stands for a year from its decision, and what was submitted of a brand is kept', async () => {
    const rows = await db.all<{ id: string; until: number | null }>(
      'SELECT id, renews_at AS until FROM campaign ORDER BY id',
    );
    expect(rows.map((r) => [r.id, r.until])).toEqual([
      ['news', DECIDED + 365 * DAY],
      ['old', null],
    ]);
    const [kept] = await db.all<{ body: string; state: string }>('SELECT body, state FROM filing_try');
    expect(kept?.state).toBe('registered');
    // Fields that were not asked for then have what they begin with.
    expect(BrandBody.parse(JSON.parse(kept?.body ?? '{}'))).toEqual(
      jasmine.objectContaining({ ...BRAND, tradingName: '', representatives: [], country: 'US' }) as never,
    );
  });

  it('leaves verified what a tie to a campaign had verified, and no toll-free number in a campaign', async () => {
    const verified = await db.all<{ id: string; state: string; body: string }>(
      'SELECT number_id AS id, state, body FROM toll_free_verification',
    );
    expect(verified.map((v) => [v.id, v.state])).toEqual([['free', 'registered']]);
    const kept = await db.all<{ id: string; fact: string; value: string }>(
      `SELECT object_id AS id, fact, value FROM stood WHERE fact IN ('halt', 'renews_at') AND object_id = 'news' OR object_kind = 'toll_free_verification' AND fact = 'state' ORDER BY fact`,
    );
    expect(kept.map((k) => [k.id, k.fact, k.value])).toEqual([
      ['news', 'halt', ''],
      ['news', 'renews_at', String(DECIDED + 365 * DAY)],
      ['free', 'state', 'registered'],
    ]);
    expect(TollFreeBody.safeParse(JSON.parse(verified[0]?.body ?? '{}')).success).toBeTrue();
    const tied = await db.all<{ id: string; campaign: string | null }>(
      'SELECT id, campaign_id AS campaign FROM number ORDER BY id',
    );
    expect(tied.map((n) => [n.id, n.campaign])).toEqual([
      ['asked', null],
      ['free', null],
      ['local', 'news'],
      ['loose', null],
    ]);
  });
});
