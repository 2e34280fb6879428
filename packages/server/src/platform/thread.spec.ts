import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { readFileSync } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { text } from 'node:stream/consumers';
import { emptyDatabase } from '../testing/database.js';
import { Db } from './db.js';
import { endThreads, textFromThread } from './thread.js';

const COUNTED = new URL('../testing/counted-text.js', import.meta.url);
const wait = (ms: number) => new Promise((r) => setTimeout(r, ms));

describe('a text from a thread', () => {
  let dir = '';
  let db: Db;
  let database: Awaited<ReturnType<typeof emptyDatabase>>;
  let noted = '';
  const made = (): number => readFileSync(noted, 'utf8').length;
  beforeEach(async () => {
    dir = await mkdtemp(path.join(tmpdir(), 'thread-'));
    database = await emptyDatabase(dir);
    db = await Db.open(database.place, false);
    noted = path.join(dir, 'noted');
    await writeFile(noted, '');
  });
  afterEach(async () => {
    await endThreads();
    await db.close();
    await database.drop();
    await rm(dir, { recursive: true, force: true });
  });

  it('comes whole and in order', async () => {
    const lines = (await text(textFromThread(COUNTED, db.place, { parts: 120, noted }))).trim().split('\n');
    expect(lines.map((l) => Number(l.split(' ')[0]))).toEqual(Array.from({ length: 120 }, (_, i) => i));
  });

  it('is written no faster than it is read, and no further where its reader goes away', async () => {
    const stream = textFromThread(COUNTED, db.place, { parts: 1000, noted });
    await new Promise((first) => stream.once('readable', first));
    await wait(300);
    const before = made();
    expect(before).withContext('nobody reads').toBeLessThan(10);
    stream.destroy();
    await wait(300);
    expect(made()).toBeLessThan(before + 3);
  });

  it('ends before the process does, after the query it is at', async () => {
    const stream = textFromThread(COUNTED, db.place, { parts: 1_000_000, noted });
    await new Promise((first) => stream.on('data', first));
    const cause = new Promise<Error>((broken) => stream.once('error', broken));
    await endThreads();
    expect((await cause).message)
      .withContext('what is not whole says so')
      .toContain('before it was done');
    const then = made();
    await wait(100);
    expect(made()).toBe(then);
    expect(then).toBeGreaterThan(0);
  });

  it('leaves a thread whose end is waited for, also where nothing else keeps the process', async () => {
    const program = `
      import { text } from 'node:stream/consumers';
      const { endThreads, textFromThread } = await import('${new URL('./thread.js', import.meta.url).href}');
      await text(textFromThread(new URL('${COUNTED.href}'), ${JSON.stringify(db.place)}, ${JSON.stringify({ parts: 1, noted })}));
      await endThreads();
      console.log('ended');
    `;
    const file = path.join(dir, 'program.mjs');
    await writeFile(file, program);
    const ran = promisify(execFile)(process.execPath, [file]);
    const { stdout, stderr } = await ran.catch((e: unknown) => e as { stdout: string; stderr: string });
    expect(stdout).withContext(stderr).toContain('ended');
  });

  it('is written by a thread that wrote another before, also one that failed or that nobody wanted any more', async () => {
    const writer = async (): Promise<string | undefined> =>
      (await text(textFromThread(COUNTED, db.place, { parts: 3, noted }))).split(' ')[1];
    const first = await writer();
    expect(first).toMatch(/^\d+$/);
    expect(await writer()).toBe(first);
    await expectAsync(text(textFromThread(COUNTED, db.place, { parts: 9, failAt: 5, noted }))).toBeRejected();
    expect(await writer())
      .withContext('after one that failed')
      .toBe(first);
    const left = textFromThread(COUNTED, db.place, { parts: 1000, noted });
    await new Promise((some) => left.once('readable', some));
    left.destroy();
    await wait(50);
    expect(await writer())
      .withContext('after one that was left')
      .toBe(first);
    await endThreads();
    expect(await writer())
      .withContext('after all were ended')
      .not.toBe(first);
  });

  it('is not left because the reader of the one before goes away only now', async () => {
    const first = textFromThread(COUNTED, db.place, { parts: 3, noted });
    let second = Promise.resolve('');
    // What is at its end is destroyed a moment after it said so.
    first.once('end', () => {
      second = text(textFromThread(COUNTED, db.place, { parts: 40, noted }));
    });
    const [, by] = (await text(first)).split(' ');
    const lines = (await second).trim().split('\n');
    expect(lines.length).toBe(40);
    expect(lines[0]?.split(' ')[1]).withContext('by the same thread').toBe(by);
  });

  it('has a thread of its own where another is being written', async () => {
    const [a, b] = await Promise.all(
      [0, 1].map(async () => (await text(textFromThread(COUNTED, db.place, { parts: 30, noted }))).split('\n')),
    );
    expect(a?.length).toBe(31);
    expect(a?.[0]?.split(' ')[1]).not.toBe(b?.[0]?.split(' ')[1]);
    expect(new Set(b?.slice(0, 30).map((l) => l.split(' ')[1])).size).toBe(1);
  });

  it('breaks off with the reason where it cannot be written', async () => {
    await expectAsync(text(textFromThread(COUNTED, db.place, { parts: 9, failAt: 5, noted }))).toBeRejectedWithError(
      'the ink has run out',
    );
    await expectAsync(text(textFromThread(COUNTED, dir, { parts: 9, noted }))).toBeRejectedWithError(/SQLITE_CANTOPEN/);
    const nothing = new URL('../platform/mask.js', import.meta.url);
    await expectAsync(text(textFromThread(nothing, db.place, {}))).toBeRejectedWithError(/serves no thread/);
  });
});
