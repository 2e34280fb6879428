import type { Db, Writer } from './db.js';
import { Lot } from './lot.js';

describe('a lot of long work', () => {
  /** A machine on which each thing takes so long, and a write something by itself. */
  const settle = (perThing: number, perWrite: number): number => {
    const lot = new Lot(2000);
    for (let i = 0; i < 30; i++) lot.took(perWrite + lot.size * perThing);
    return perWrite + lot.size * perThing;
  };

  it('takes about as long whether things are slow or quick', () => {
    for (const perThing of [0.05, 0.1, 0.3, 0.6]) {
      const ms = settle(perThing, 2);
      expect(ms).withContext(`${perThing} ms each`).toBeLessThan(46);
      expect(ms).withContext(`${perThing} ms each`).toBeGreaterThan(30);
    }
  });

  it('never takes more than it may, nor so few that the writes themselves are the work', () => {
    const quick = new Lot(2000);
    for (let i = 0; i < 30; i++) quick.took(0);
    expect(quick.size).toBe(2000);
    const slow = new Lot(2000);
    for (let i = 0; i < 30; i++) slow.took(10_000);
    expect(slow.size).toBe(50);
  });

  /** The time, which passes by what is said to take some: how quick the machine is has no part in it. */
  let now = 0;
  const takes = (ms: number): Promise<void> => {
    now += ms;
    return Promise.resolve();
  };
  beforeEach(() => spyOn(performance, 'now').and.callFake(() => now));

  /** A database whose commit takes so long. */
  const committing = (ms: number, awaited = false): Pick<Db, 'write' | 'isAwaited'> => ({
    isAwaited: () => awaited,
    write: async (work) => {
      const after: (() => void)[] = [];
      const done = await work({ afterCommit: (action: () => void) => after.push(action) } as unknown as Writer);
      await takes(ms);
      for (const action of after) action();
      return done;
    },
  });

  it('learns nothing of a full lot from one that was not', async () => {
    const lot = new Lot(2000);
    const first = lot.size;
    await lot.write(committing(0), () => Promise.resolve(), 3);
    expect(lot.size).toBe(first);
  });

  it('grows and shrinks by what the work took', async () => {
    const lot = new Lot(2000);
    const first = lot.size;
    await lot.write(committing(0), () => takes(120));
    expect(lot.size).toBeLessThan(first);
    const then = lot.size;
    await lot.write(committing(0), () => Promise.resolve());
    expect(lot.size).toBeGreaterThan(then);
  });

  it('shrinks where bringing it to disk takes long, since others wait for that too', async () => {
    const lot = new Lot(2000);
    const first = lot.size;
    await lot.write(committing(120), () => Promise.resolve());
    expect(lot.size).toBeLessThan(first);
  });

  it('holds the queue longer where nobody has waited for a while, and short again as soon as somebody does', async () => {
    const lot = new Lot(2000);
    // Each thing a fifth of a millisecond.
    const work = (_: Writer, size: number): Promise<unknown> => takes(size / 5);
    for (let i = 0; i < 20; i++) await lot.write(committing(0), work);
    const short = lot.size;
    for (let i = 0; i < 20; i++) await lot.write(committing(0), work);
    const long = lot.size;
    expect(long).toBeGreaterThan(short * 1.5);
    for (let i = 0; i < 4; i++) await lot.write(committing(0, true), work);
    expect(lot.size).toBeLessThan(long / 1.5);
  });

  it('gives back what the work answers, and learns nothing from work that failed', async () => {
    const lot = new Lot(2000);
    const first = lot.size;
    expect(await lot.write(committing(0), (_, size) => Promise.resolve(size))).toBe(first);
    const then = lot.size;
    await expectAsync(lot.write(committing(0), () => Promise.reject(new Error('no')))).toBeRejectedWithError('no');
    expect(lot.size).toBe(then);
  });
});
