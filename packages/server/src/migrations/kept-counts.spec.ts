import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { LedgerEvent } from '@long-gate/core';
import { CONSENT_COUNTS } from '../areas/consent/kept-counts-store.js';
import { countAppended, toAppend } from '../areas/consent/ledger/ledger-store.js';
import { SOURCE_COUNTS } from '../areas/consent/sources/source-store.js';
import { CONTACT_COUNTS } from '../areas/contacts/kept-counts-store.js';
import { TEXT_COUNTS } from '../areas/dispatch/kept-counts-store.js';
import { INBOX_COUNTS } from '../areas/inbox/thread-store.js';
import { Seeded } from '../demo/random.js';
import { Db, type Writer } from '../platform/db.js';
import { KeptCounts } from '../platform/kept-counts.js';
import { migrate } from '../platform/migrate.js';
import { emptyDatabase } from '../testing/database.js';

const DAY = 86_400_000;

/** What is counted as it is written is what a count of the rows would say, whatever was done to them. */
describe('kept counts', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  const dice = new Seeded('kept counts');
  const roll = (n: number): number => dice.int(0, n - 1);
  const one = <T>(of: readonly T[]): T => dice.pick(of);
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'counts-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place, false);
    await migrate(db);
    await db.write(async (w) => {
      for (const b of ['a', 'b'])
        await w.run(
          `INSERT INTO business (id, legal_name, name_line, form, created_at) VALUES ($1, 'x', 'x', 'private company', 1)`,
          [b],
        );
      for (const l of ['l1', 'l2'])
        await w.run(`INSERT INTO contact_list (id, business_id, name, created_at) VALUES ($1, 'a', $1, 1)`, [l]);
    });
  });
  afterEach(async () => {
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });

  /** How many of the counts of each thing are other than a count of the rows says. */
  const check = async (mend = false): Promise<Record<string, number>> => {
    const counts = new KeptCounts();
    // What became of people is no trigger's: the ledger keeps it with each event, and `sources.spec` holds it to that.
    const byItself = CONSENT_COUNTS.filter((x) => x !== SOURCE_COUNTS);
    counts.add(...CONTACT_COUNTS, ...TEXT_COUNTS, ...INBOX_COUNTS, ...byItself);
    const found: Record<string, number> = {};
    for await (const { what, differing } of counts.check(db, mend)) if (differing > 0) found[what] = differing;
    return found;
  };
  const count = async (sql: string): Promise<number> => (await db.one<{ n: number }>(sql))?.n ?? 0;
  const addContact = async (w: Writer, i: number): Promise<void> => {
    await w.run(`INSERT INTO contact (id, business_id, sort_name, created_at) VALUES ($1, $2, $1, 1)`, [
      `c${i}`,
      one(['a', 'b']),
    ]);
    await w.run(
      `INSERT INTO contact_number (business_id, contact_id, e164, sort_name, country, zones, states) SELECT business_id, id, '+1212555' || $2, sort_name, $3, '', '' FROM contact WHERE id = $1`,
      [`c${i}`, 1000 + i, one(['US', 'CA'])],
    );
  };

  it('follow contacts as they come, change and go', async () => {
    await db.write(async (w) => {
      for (let i = 0; i < 60; i++) await addContact(w, i);
      for (let step = 0; step < 400; step++) {
        const id = `c${roll(60)}`;
        const change = roll(7);
        if (change === 0) {
          await w.run('DELETE FROM list_member WHERE contact_id = $1', [id]);
          await w.run('DELETE FROM contact_number WHERE contact_id = $1', [id]);
        } else if (change === 1)
          await w.run(
            'INSERT INTO list_member (list_id, contact_id, sort_name) VALUES ($1, $2, $2) ON CONFLICT DO NOTHING',
            [one(['l1', 'l2']), id],
          );
        else if (change === 2)
          await w.run('DELETE FROM list_member WHERE list_id = $1 AND contact_id = $2', ['l1', id]);
        else
          await w.run(
            `UPDATE contact_number SET textable = $2, consent_informational = $3, consent_promotional = $4, faults_in_review = $5, looked_up_at = $6, country = $7 WHERE contact_id = $1`,
            [
              id,
              one(['yes', 'no']),
              one(['none', 'granted']),
              one(['none', 'revoked']),
              roll(2),
              one([null, 5]),
              one(['US', 'SE']),
            ],
          );
      }
    });
    expect(await check()).toEqual({});
    expect(await count('SELECT sum(n) AS n FROM contact_count')).toBe(
      await count('SELECT count(*) AS n FROM contact_number'),
    );
    expect(await count('SELECT count(*) AS n FROM contact_count WHERE n > 0')).toBeGreaterThan(10);
    expect(await count('SELECT sum(members) AS n FROM contact_list')).toBeGreaterThan(10);
  });

  it('follow texts through all their states', async () => {
    await db.write(async (w) => {
      await w.run(
        `INSERT INTO dispatch (id, business_id, title, text, audience, state, created_by, created_at) VALUES ('d1', 'a', 't', 't', '{"include":[],"exclude":[]}', 'sending', 'x', 1)`,
      );
      for (let i = 0; i < 80; i++)
        await w.run(
          `INSERT INTO message (id, business_id, dispatch_id, direction, kind, number_id, e164, text, segments, state, created_at, network, sent_at)
           VALUES ($1, 'a', $2, $3, 'x', $4, $1, '', $5, $6, $7, $8, $9)`,
          [
            `m${i}`,
            i % 3 === 0 ? null : 'd1',
            i % 10 === 0 ? 'in' : 'out',
            one(['n1', 'n2']),
            1 + roll(3),
            i % 10 === 0 ? 'received' : one(['judging', 'waiting', 'held']),
            roll(9) * DAY,
            one(['A', 'B']),
            null,
          ],
        );
      for (let step = 0; step < 1100; step++) {
        const id = `m${roll(80)}`;
        const state = one([
          'judging',
          'waiting',
          'held',
          'stopped',
          'leaving',
          'sent',
          'delivered',
          'failed',
          'cancelled',
        ]);
        // The day it counts on is cut anew, of whatever it is.
        if (roll(6) === 0) await w.run('UPDATE message SET day = $2 WHERE id = $1', [id, roll(12)]);
        if (roll(12) === 0) await w.run('DELETE FROM message WHERE id = $1 AND final_at IS NULL', [id]);
        else if (['leaving', 'sent'].includes(state))
          await w.run(
            `UPDATE message SET state = $2, sent_at = coalesce(sent_at, $3), day = coalesce(day, $4) WHERE id = $1 AND direction = 'out' AND final_at IS NULL`,
            [id, state, roll(9) * DAY + roll(1000), one([null, roll(9)])],
          );
        else if (['delivered', 'failed'].includes(state))
          await w.run(
            `UPDATE message SET state = $2, failure = $3, failure_reason = $4, carrier = $5, final_at = sent_at + $6 WHERE id = $1 AND sent_at IS NOT NULL AND final_at IS NULL AND direction = 'out'`,
            [
              id,
              state,
              state === 'failed' ? one(['refused', 'other']) : null,
              state === 'failed' ? one(['r1', 'r2']) : null,
              one(['X', 'Y']),
              roll(300_000),
            ],
          );
        else
          await w.run(
            `UPDATE message SET state = $2, sent_at = NULL, day = NULL, segments = $3, network = $4, post = $5, reason = $6 WHERE id = $1 AND direction = 'out' AND final_at IS NULL`,
            [
              id,
              state,
              1 + roll(3),
              one(['A', 'B']),
              state === 'held' ? 1 + roll(11) : null,
              state === 'held' ? one(['x', 'y']) : null,
            ],
          );
      }
    });
    expect(await check()).toEqual({});
    // Each of them had something to count.
    for (const table of ['text_count', 'text_day', 'text_latency'])
      expect(await count(`SELECT count(*) AS n FROM ${table} WHERE n > 0`))
        .withContext(table)
        .toBeGreaterThan(2);
    expect(await count('SELECT sum(segments) AS n FROM text_waiting')).toBeGreaterThan(0);
    expect(await count('SELECT sum(n) AS n FROM text_day')).toBe(
      await count(`SELECT count(*) AS n FROM message WHERE direction = 'in' OR sent_at IS NOT NULL`),
    );
    expect(await count('SELECT count(*) AS n FROM message WHERE final_at IS NOT NULL'))
      .withContext('enough came to an end')
      .toBeGreaterThan(10);
  });

  it('follow the ledger, which only grows', async () => {
    const seq = { a: 0, b: 0 };
    let made = 0;
    const some = (n: number): LedgerEvent[] =>
      Array.from({ length: n }, () => {
        const businessId = one(['a', 'b'] as const);
        return {
          businessId,
          seq: ++seq[businessId],
          id: `e${++made}`,
          e164: '+1',
          purposes: ['informational'],
          kind: one(['granted', 'revoked', 'claimed']),
          awaitsConfirmation: false,
          happenedAt: 1,
          recordedAt: 1,
          how: one(['web page', 'keyword']),
          disclosure: '',
          disclosureVersion: '',
          evidence: {},
          recordedBy: 'x',
          prevHash: '',
          hash: '',
        };
      });
    for (const n of [1, 2, 60, 27])
      await db.write(async (w) => {
        const lot = some(n);
        await toAppend(lot).write(w);
        await countAppended(w, lot);
      });
    expect(await check()).toEqual({});
    expect(await count('SELECT sum(n) AS n FROM consent_count')).toBe(90);
  });

  it('follow conversations as they wait, are answered and go', async () => {
    await db.write(async (w) => {
      for (let step = 0; step < 300; step++) {
        const [business, e164] = [one(['a', 'b']), `+1${roll(20)}`];
        const change = roll(4);
        if (change === 0)
          await w.run(
            `INSERT INTO thread (business_id, e164, number_id, last_at, last_text, waits_until, handled) VALUES ($1, $2, 'n1', 1, '', $3, $4) ON CONFLICT DO NOTHING`,
            [business, e164, one([null, 5]), one(['', 'help'])],
          );
        else if (change === 1)
          await w.run('UPDATE thread SET waits_until = $3, handled = $4 WHERE business_id = $1 AND e164 = $2', [
            business,
            e164,
            one([null, 7, 9]),
            one(['', 'help', 'keyword']),
          ]);
        else if (change === 2)
          await w.run('UPDATE thread SET last_at = last_at + 1, handled = $2 WHERE business_id = $1', [
            business,
            one(['', 'help']),
          ]);
        else await w.run('DELETE FROM thread WHERE business_id = $1 AND e164 = $2', [business, e164]);
      }
    });
    expect(await check()).toEqual({});
    expect(await count('SELECT sum(n) AS n FROM thread_count')).toBe(await count('SELECT count(*) AS n FROM thread'));
    expect(await count('SELECT count(*) AS n FROM thread')).toBeGreaterThan(5);
  });

  it('are found when they are wrong, each by its name, and counted anew', async () => {
    await db.write(async (w) => {
      for (let i = 0; i < 9; i++) await addContact(w, i);
      await w.run(`INSERT INTO list_member (list_id, contact_id, sort_name) VALUES ('l1', 'c1', 'c1')`);
      for (const [id, state, sent, final] of [
        ['m1', 'delivered', DAY, DAY + 2_500],
        ['m2', 'delivered', DAY, DAY + 2_510],
        ['m3', 'failed', 2 * DAY, 2 * DAY + 9],
        ['m4', 'waiting', null, null],
      ] as const)
        await w.run(
          `INSERT INTO message (id, business_id, dispatch_id, direction, kind, number_id, e164, text, segments, state, created_at, network, sent_at, final_at)
           VALUES ($1, 'a', 'd1', 'out', 'x', 'n1', $1, '', 2, $2, 1, 'A', $3, $4)`,
          [id, state, sent, final],
        );
    });
    expect(await check()).toEqual({});
    await db.write(async (w) => {
      // Too many, too few, one that has no rows, one that is gone.
      await w.run(`UPDATE contact_list SET members = 7 WHERE id = 'l1'`);
      await w.run('UPDATE text_waiting SET segments = segments - 1');
      await w.run('DELETE FROM text_latency');
      await w.run(`UPDATE text_day SET n = n + 1 WHERE outcome = 'failed'`);
      await w.run(
        `INSERT INTO text_day (business_id, day, number_id, carrier, outcome, failure, reason, n) VALUES ('a', 77, 'n1', '', 'delivered', '', '', 3)`,
      );
    });
    const wrong = {
      'members of lists and tags': 1,
      'segments that wait, by kind of network': 1,
      'texts by day, number, carrier and outcome': 2,
      'how long delivery took, by number and day': 1,
      'how long delivery took, by number and week': 1,
    };
    expect(await check()).toEqual(wrong);
    // The weeks follow the days that are counted anew.
    const { 'how long delivery took, by number and week': _, ...mended } = wrong;
    expect(await check(true)).toEqual(mended);
    expect(await check()).toEqual({});
    expect(await count(`SELECT members AS n FROM contact_list WHERE id = 'l1'`)).toBe(1);
    expect(await count('SELECT n FROM text_latency WHERE step = 25')).toBe(2);
    // What is counted anew goes on being counted.
    await db.write((w) => w.run(`UPDATE message SET state = 'leaving', sent_at = $1 WHERE id = 'm4'`, [3 * DAY]));
    expect(await check()).toEqual({});
  });

  it('find a contact by what it is called now, and by nothing it was called before', async () => {
    const found = async (words: string): Promise<number> =>
      db.dialect === 'sqlite'
        ? (await db.all(`SELECT rowid FROM contact_search WHERE contact_search MATCH $1`, [`"${words}"`])).length
        : (await db.all(`SELECT id FROM contact_search WHERE words LIKE '%' || $1 || '%'`, [words])).length;
    await db.write((w) => addContact(w, 1));
    await db.write((w) =>
      w.run(`UPDATE contact SET first_name = 'Rosalind', email = 'otter@mail.example' WHERE id = 'c1'`),
    );
    expect([await found('osa'), await found('ott'), await found('100')]).toEqual([1, 1, 1]);
    await db.write((w) => w.run(`UPDATE contact SET first_name = 'Ada' WHERE id = 'c1'`));
    expect([await found('osa'), await found('ada'), await found('ott')]).toEqual([0, 1, 1]);
    await db.write((w) => w.run(`DELETE FROM contact_number WHERE contact_id = 'c1'`));
    expect([await found('ada'), await found('ott')]).toEqual([0, 0]);
  });
});
