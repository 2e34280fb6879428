import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { emptyDatabase } from '../testing/database.js';
import { Db } from './db.js';
import { settingTable } from './model.js';
import { SinceWrite } from './since-write.js';

describe('what is read once until something is written', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  let kept: SinceWrite<string>;
  let reads = 0;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'since-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place, false);
    kept = new SinceWrite(db);
    reads = 0;
    await set('first');
  });
  afterEach(async () => {
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });

  const set = (value: string): Promise<unknown> => db.write((w) => w.of(settingTable).upsert({ name: 'spec', value }));
  const read = (): Promise<string> =>
    kept.get('spec', async () => {
      reads++;
      return (await db.of(settingTable).findOne({ where: { name: 'spec' } }))?.value ?? '';
    });

  it('is asked for once by many, and anew as soon as a write is on disk', async () => {
    expect(await Promise.all([read(), read(), read()])).toEqual(['first', 'first', 'first']);
    expect(reads).toBe(1);
    await set('second');
    expect([await read(), await read()]).toEqual(['second', 'second']);
    expect(reads).toBe(2);
  });

  it('is not outlived by what was read while the write was under way', async () => {
    for (let i = 0; i < 30; i++) {
      const writing = set(`value ${i}`);
      void read();
      await writing;
      expect(await read()).toBe(`value ${i}`);
    }
  });

  it('is kept for each by itself, and asked again where it failed', async () => {
    expect(await kept.get('other', () => Promise.resolve('else'))).toBe('else');
    expect(await read()).toBe('first');
    await expectAsync(kept.get('broken', () => Promise.reject(new Error('down')))).toBeRejectedWithError('down');
    expect(await kept.get('broken', () => Promise.resolve('mended'))).toBe('mended');
  });

  it('stays where a write was rolled back', async () => {
    await read();
    await expectAsync(
      db.write(async (w) => {
        await w.of(settingTable).upsert({ name: 'spec', value: 'never' });
        throw new Error('no');
      }),
    ).toBeRejected();
    expect(await read()).toBe('first');
    expect(reads).toBe(1);
  });
});
