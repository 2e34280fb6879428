import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { messageTable } from '../areas/dispatch/model.js';
import { emptyDatabase } from '../testing/database.js';
import { insertMany } from './bulk.js';
import { Db } from './db.js';
import { migrate } from './migrate.js';
import { documentTable, setAsideTable } from './model.js';

describe('writing many rows at once', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  beforeAll(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'bulk-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place, false);
    await migrate(db);
  });
  afterAll(async () => {
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });

  it('keeps what a model would keep of each: words, moments, JSON, what is not there, and defaults', async () => {
    const text = (id: string) => ({
      id,
      businessId: 'b',
      direction: 'out' as const,
      kind: 'dispatch',
      numberId: 'n',
      e164: '+12125550123',
      contactNumberId: null,
      text: 'quotes " and \\ and\n🛟',
      state: 'sent' as const,
      createdAt: 1_804_880_465_517,
      sentAt: null,
      cost: 9_007_199_254_740_991,
    });
    const aside = (key: string) => ({
      key,
      lane: 'feed' as const,
      kind: 'x',
      body: { a: [1, 'two', null] },
      cause: '',
      at: 1,
    });
    await db.write(async (w) => {
      await w.of(messageTable).create(text('one'));
      await insertMany(w, messageTable, [text('two'), text('three')]);
      await w.of(setAsideTable).create(aside('one'));
      await insertMany(w, setAsideTable, [aside('two')]);
      await insertMany(w, setAsideTable, []);
    });
    const rows = await db.all<{ id: string }>('SELECT * FROM message ORDER BY id');
    expect(rows.map((x) => ({ ...x, id: '' }))).toEqual(Array(3).fill({ ...rows[0], id: '' }));
    const [one, two] = await db.of(setAsideTable).findAll({ order: ['key'] });
    expect([two?.body, two?.state]).toEqual([one?.body, one?.state]);
    expect(two?.body).toEqual({ a: [1, 'two', null] });
  });

  it('writes a lot larger than a statement takes, all of it', async () => {
    const aside = (i: number) => ({ key: `k${i}`, lane: 'job' as const, kind: 'x', body: i, cause: '', at: i });
    await db.write((w) =>
      insertMany(
        w,
        setAsideTable,
        Array.from({ length: 4500 }, (_, i) => aside(i)),
      ),
    );
    expect(await db.of(setAsideTable).count({ where: { lane: 'job' } })).toBe(4500);
    expect((await db.of(setAsideTable).findByPk('k4499'))?.body).toBe(4499);
  });

  it('says once what many rows say alike, and keeps it of each as if it were said with each', async () => {
    const words = 'quotes " and \\ and\n🛟, 007, $2';
    const row = (i: number) => ({
      id: `alike-${i}`,
      businessId: 'b',
      direction: 'out' as const,
      kind: 'dispatch',
      numberId: 'n',
      e164: '+12125550123',
      contactNumberId: null,
      text: words,
      state: 'sent' as const,
      createdAt: 1_804_880_465_517,
      sentAt: i === 60 ? 5 : null,
      cost: 9_007_199_254_740_991,
    });
    const aside = (i: number) => ({ key: `alike-${i}`, lane: 'feed' as const, kind: '7', body, cause: '', at: 1 });
    const body = { a: [1, 'two', null] };
    await db.write(async (w) => {
      await w.of(messageTable).create(row(0));
      await insertMany(
        w,
        messageTable,
        Array.from({ length: 60 }, (_, i) => row(i + 1)),
      );
      await w.of(setAsideTable).create(aside(0));
      await insertMany(
        w,
        setAsideTable,
        Array.from({ length: 60 }, (_, i) => aside(i + 1)),
      );
    });
    const rows = await db.all<{ id: string; sent_at: number | null }>(
      `SELECT * FROM message WHERE id LIKE 'alike-%' ORDER BY length(id), id`,
    );
    expect(rows.map((x) => x.sent_at)).toEqual([...Array<null>(60).fill(null), 5]);
    expect(rows.map((x) => ({ ...x, id: '', sent_at: null }))).toEqual(
      Array(61).fill({ ...rows[0], id: '', sent_at: null }),
    );
    // How it is kept, not only what comes back: a number kept as words would sort and compare as words.
    const plain = await db.all(`SELECT DISTINCT lane, kind, body, cause, at FROM set_aside WHERE key LIKE 'alike-%'`);
    expect(plain.length).toBe(1);
  });

  it('refuses rows that do not name the same, and bytes', async () => {
    const aside = { key: 'a', lane: 'job' as const, kind: 'x', body: 1, cause: '', at: 1 };
    const { cause: _, ...short } = aside;
    await expectAsync(db.write((w) => insertMany(w, setAsideTable, [aside, short as never]))).toBeRejectedWithError(
      /differ in what they name/,
    );
    await expectAsync(
      db.write((w) => insertMany(w, documentTable, [{ body: Buffer.from('x') } as never])),
    ).toBeRejectedWithError(/cannot be written in bulk/);
  });
});
