import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { emptyDatabase, ofSqlite } from '../testing/database.js';
import { Journal } from './dialects/sqlite-journal.js';
import { Db, manyRows } from './db.js';
import { settingTable } from './model.js';

describe('the database', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'db-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place, false);
    await db.write((w) => w.run('CREATE TABLE thing (n INTEGER NOT NULL, words TEXT, at BIGINT)'));
  });
  afterEach(async () => {
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });

  it('closes once what is under way has been answered, and answers nothing more', async () => {
    for (let round = 0; round < 20; round++) {
      const other = await Db.open(database.place, false);
      const answers: number[] = [];
      // Somebody whom nobody waits for any more asks one question after the other.
      const asking = (async () => {
        for (let i = 0; i < 500; i++) {
          answers.push((await other.one<{ n: number }>(`SELECT ${i} AS n`))?.n ?? -1);
          await other.of(settingTable).findAll({ where: { name: `nobody ${i}` } });
        }
      })();
      const ended = expectAsync(asking).toBeRejected();
      await new Promise((resolve) => setTimeout(resolve, round));
      await expectAsync(other.close()).toBeResolved();
      await ended;
      expect(answers).toEqual(answers.map((_, i) => i));
    }
  });

  it('reads many rows as it reads one: in their order, with every value as it is', async () => {
    const words = ['plain', 'with "quotes", \\ and\nlines', 'ø 🛟', '', null];
    await db.write(async (w) => {
      for (const [i, text] of words.entries())
        await w.run('INSERT INTO thing (n, words, at) VALUES ($1, $2, $3)', [
          10 - i,
          text,
          Number.MAX_SAFE_INTEGER - i,
        ]);
    });
    const rest = 'FROM thing WHERE n > $1 ORDER BY n LIMIT 4';
    const rows = await manyRows<{ n: number; words: string | null; at: number }>(db, ['n', 'words', 'at'], rest, [6]);
    expect(rows).toEqual(await db.all(`SELECT n, words, at ${rest}`, [6]));
    expect(rows.map((x) => x.n)).toEqual([7, 8, 9, 10]);
    expect(rows.map((x) => x.words)).toEqual(['', 'ø 🛟', words[1] ?? null, 'plain']);
    expect(await manyRows(db, ['n'], 'FROM thing WHERE n > $1 LIMIT 4', [99])).toEqual([]);
  });

  ofSqlite('shows a value that got in past us as it is, rather than failing on it', async () => {
    await db.write((w) => w.run(`INSERT INTO thing (n, words, at) VALUES (1, x'00ff', 1)`));
    const [row] = await manyRows<{ words: unknown }>(db, ['words'], 'FROM thing LIMIT 10', []);
    expect(row?.words).toEqual(Buffer.from([0, 255]));
  });

  ofSqlite(
    'keeps nobody waiting behind a long question while another connection rests, and answers what is on disk now',
    async () => {
      const lasting = await Db.open(database.place, true);
      try {
        await lasting.write((w) => w.run('INSERT INTO thing (n, words, at) VALUES (0, NULL, 0)'));
        const numbers = (upTo: number): string =>
          `WITH RECURSIVE c (x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM c WHERE x < ${upTo})`;
        // One that is answered at its end, and one that is read row by row.
        for (const long of [
          `${numbers(4_000_000)} SELECT count(*) AS n FROM c, (SELECT 1 FROM thing)`,
          `${numbers(600_000)} SELECT x, t.n FROM c, thing t`,
        ]) {
          let over = false;
          const asked = lasting.all(long).then(() => (over = true));
          for (let i = 1; i <= 6; i++) {
            await lasting.write((w) => w.run('UPDATE thing SET n = $1', [i]));
            expect(await lasting.one('SELECT n FROM thing')).toEqual({ n: i });
            expect((await lasting.of(settingTable).findAll({ where: { name: 'nobody' } })).length).toBe(0);
          }
          expect(over).withContext('it was still being answered').toBeFalse();
          await asked;
        }
      } finally {
        await lasting.close();
      }
    },
  );

  ofSqlite('brings a long journal into the file beside the writer, and begins it anew', async () => {
    const journal = new Journal(database.place);
    const size = async (): Promise<number> => (await stat(`${database.place}-wal`)).size;
    await db.write(async (w) => {
      for (let i = 0; i < 30; i++)
        await w.run('INSERT INTO thing (n, words, at) VALUES ($1, $2, 1)', [i, 'x'.repeat(2 ** 20)]);
    });
    expect(journal.length()).toBeGreaterThan(30 * 2 ** 20);
    expect(journal.length())
      .withContext('as long as its file, which holds nothing else yet')
      .toBeCloseTo(await size(), -3);
    // What brings it in works beside; every write after it finds the journal at its beginning again.
    for (let i = 0; i < 100 && journal.length() > 5 * 2 ** 20; i++) {
      await new Promise((later) => setTimeout(later, 20));
      await db.write((w) => w.run('INSERT INTO thing (n, words, at) VALUES (99, NULL, 1)'));
    }
    expect(journal.length()).toBeLessThan(5 * 2 ** 20);
    expect(await size())
      .withContext('it keeps its room on disk, since nobody shall wait until that is cut off')
      .toBeGreaterThan(30 * 2 ** 20);
    await db.scrub();
    expect(await size())
      .withContext('what was in it is gone')
      .toBe(0);
    expect(await db.one('SELECT count(*) AS n, sum(length(words)) AS size FROM thing WHERE n < 99')).toEqual({
      n: 30,
      size: 30 * 2 ** 20,
    });
  });
});
