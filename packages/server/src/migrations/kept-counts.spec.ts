import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Seeded } from '../demo/random.js';
import { Db, type Writer } from '../platform/db.js';
import { migrate } from '../platform/migrate.js';
import { emptyDatabase } from '../testing/database.js';

const DAY = 86_400_000;

/** What the database counts by itself is what a count of the rows would say, whatever was done to them. */
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

  /** Rows of both queries, as sets. */
  const same = async (what: string, kept: string, counted: string): Promise<void> => {
    const rows = async (sql: string) => (await db.all(sql)).map((r) => JSON.stringify(Object.values(r))).sort();
    expect(await rows(kept))
      .withContext(what)
      .toEqual(await rows(counted));
  };
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
    await same(
      'contacts',
      'SELECT business_id, looked_up, textable, informational, promotional, faults_in_review, country, n FROM contact_count WHERE n <> 0',
      'SELECT business_id, looked_up_at IS NOT NULL, textable, consent_informational, consent_promotional, faults_in_review, country, count(*) FROM contact_number GROUP BY 1,2,3,4,5,6,7',
    );
    await same(
      'members',
      'SELECT id, members FROM contact_list',
      'SELECT l.id, (SELECT count(*) FROM list_member m WHERE m.list_id = l.id) FROM contact_list l',
    );
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
      for (let step = 0; step < 900; step++) {
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
        if (roll(12) === 0) await w.run('DELETE FROM message WHERE id = $1 AND final_at IS NULL', [id]);
        else if (['leaving', 'sent'].includes(state))
          await w.run(
            `UPDATE message SET state = $2, sent_at = coalesce(sent_at, $3) WHERE id = $1 AND direction = 'out' AND final_at IS NULL`,
            [id, state, roll(9) * DAY + roll(1000)],
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
            `UPDATE message SET state = $2, sent_at = NULL, segments = $3, network = $4, post = $5, reason = $6 WHERE id = $1 AND direction = 'out' AND final_at IS NULL`,
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
    await same(
      'of a dispatch',
      'SELECT dispatch_id, state, post, reason, n FROM text_count WHERE n <> 0',
      `SELECT dispatch_id, state, coalesce(post, 0) AS post, coalesce(reason, '') AS reason, count(*) AS n FROM message WHERE dispatch_id IS NOT NULL GROUP BY 1,2,3,4`,
    );
    await same(
      'waiting',
      'SELECT business_id, network, segments FROM text_waiting WHERE segments <> 0',
      `SELECT business_id, network, sum(segments) FROM message WHERE state = 'waiting' AND direction = 'out' GROUP BY 1,2`,
    );
    await same(
      'by day',
      'SELECT business_id, day, number_id, carrier, outcome, failure, reason, n FROM text_day WHERE n <> 0',
      `SELECT business_id, (CASE direction WHEN 'in' THEN created_at ELSE sent_at END) / ${DAY}, number_id, carrier,
         CASE WHEN direction = 'in' THEN 'received' WHEN state IN ('delivered','failed') THEN state ELSE 'pending' END, coalesce(failure, '') AS failure, coalesce(failure_reason, '') AS reason, count(*) AS n
       FROM message WHERE direction = 'in' OR sent_at IS NOT NULL GROUP BY 1,2,3,4,5,6,7`,
    );
    await same(
      'how long they took',
      'SELECT business_id, number_id, day, sum(n) FROM text_latency GROUP BY 1,2,3',
      `SELECT business_id, number_id, sent_at / ${DAY}, count(*) FROM message WHERE state = 'delivered' GROUP BY 1,2,3`,
    );
    expect((await db.one<{ n: number }>('SELECT count(*) AS n FROM message WHERE final_at IS NOT NULL'))?.n)
      .withContext('enough came to an end')
      .toBeGreaterThan(10);
  });

  it('follow the ledger, which only grows', async () => {
    await db.write(async (w) => {
      const seq = { a: 0, b: 0 };
      for (let i = 1; i <= 90; i++) {
        const business = one(['a', 'b'] as const);
        await w.run(
          `INSERT INTO consent_event (business_id, seq, id, e164, purposes, kind, awaits_confirmation, happened_at, recorded_at, how, disclosure, disclosure_version, evidence, recorded_by, prev_hash, hash)
           VALUES ($1, $2, $3, '+1', 'informational', $4, FALSE, 1, 1, $5, '', '', '{}', 'x', '', '')`,
          [business, ++seq[business], `e${i}`, one(['granted', 'revoked', 'claimed']), one(['web page', 'keyword'])],
        );
      }
    });
    await same(
      'events',
      'SELECT business_id, kind, how, n FROM consent_count',
      'SELECT business_id, kind, how, count(*) FROM consent_event GROUP BY 1,2,3',
    );
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
