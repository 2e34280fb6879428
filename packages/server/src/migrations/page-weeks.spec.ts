import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Db } from '../platform/db.js';
import { migrate } from '../platform/migrate.js';
import { emptyDatabase } from '../testing/database.js';
import { countWeeks } from './page-weeks.js';

const MONDAY = Date.parse('2027-03-08T00:00:00Z');
const DAY = 86_400_000;

describe('opt-in pages by week, of a ledger that was there before', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'weeks-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place, false);
    await migrate(db);
    await db.write(async (w) => {
      await w.run(
        `INSERT INTO business (id, legal_name, name_line, form, created_at) VALUES ('b', 'x', 'x', 'private company', 1)`,
      );
      for (const slug of ['heron', 'otter'])
        await w.run(
          `INSERT INTO optin_page (id, business_id, slug, title, intro, purposes, number_id, privacy_url, terms_url, created_at) VALUES ($1, 'b', $2, 'x', 'x', '[]', 'n', 'x', 'x', 1)`,
          [`page_${slug}`, slug],
        );
    });
  });
  afterEach(async () => {
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });

  it('are counted where agreed, and confirmed in the week of what the YES was for', async () => {
    const events: [e164: string, kind: string, how: string, purposes: string, page: string, day: number][] = [
      ['+1', 'granted', 'web page', 'promotional', 'heron', -1],
      ['+1', 'granted', 'web page', 'informational', 'heron', -1],
      ['+2', 'granted', 'web page', 'promotional', 'heron', 0],
      // Sunday's wish, confirmed on Monday: both kinds at once.
      ['+1', 'confirmed', 'reply', 'informational,promotional', '', 0],
      ['+3', 'granted', 'web page', 'promotional', 'otter', 6],
      ['+3', 'revoked', 'web page', 'promotional', 'otter', 6],
      ['+4', 'granted', 'phone call', 'promotional', '', 6],
      ['+4', 'confirmed', 'reply', 'promotional', '', 7],
      ['+6', 'granted', 'web page', 'informational', 'otter', 7],
      ['+5', 'granted', 'web page', 'promotional', 'gone', 7],
    ];
    await db.write(async (w) => {
      for (const [i, [e164, kind, how, purposes, page, day]] of events.entries())
        await w.run(
          `INSERT INTO consent_event (business_id, seq, id, e164, purposes, kind, awaits_confirmation, happened_at, recorded_at, how, disclosure, disclosure_version, evidence, recorded_by, prev_hash, hash)
           VALUES ('b', $1, $2, $3, $4, $5, $9, 1, $6, $7, '', '', $8, 'x', '', '')`,
          // Of +6 no YES was needed.
          [
            i + 1,
            `e${i}`,
            e164,
            purposes,
            kind,
            MONDAY + day * DAY + 60_000,
            how,
            page ? JSON.stringify({ page }) : '{}',
            kind === 'granted' && e164 !== '+6',
          ],
        );
    });
    await countWeeks(db.migrationConnection.getQueryInterface());
    const rows = await db.all<{ page_id: string; week: number; agreed: number; confirmed: number }>(
      'SELECT page_id, week, agreed, confirmed FROM page_week ORDER BY week, page_id',
    );
    const first = Math.floor((MONDAY / DAY + 3) / 7);
    expect(rows.map((r) => [r.page_id, r.week - first, r.agreed, r.confirmed])).toEqual([
      ['page_heron', -1, 2, 2],
      ['page_heron', 0, 1, 0],
      ['page_otter', 0, 1, 0],
      ['page_otter', 1, 1, 1],
    ]);
  });
});
