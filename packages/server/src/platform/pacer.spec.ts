import fc from 'fast-check';
import { Pacer } from './pacer.js';

describe('a pace', () => {
  /** Lets so many calls through on a clock of its own, with timers that are late and calls that come in spells. */
  async function letThrough(
    calls: number,
    perSecond: number,
    late: readonly number[],
    rests: readonly number[],
  ): Promise<number[]> {
    let now = 1_000_000;
    let k = 0;
    const times: number[] = [];
    const pacer = new Pacer(
      perSecond,
      () => now,
      (ms) => {
        now += ms + (late[k++ % late.length] ?? 0);
        return Promise.resolve();
      },
    );
    for (let i = 0; i < calls; i++) {
      await pacer.turn();
      times.push(now);
      now += rests[i % rests.length] ?? 0;
    }
    return times;
  }
  const busiest = (times: readonly number[]): number => {
    let [most, from] = [0, 0];
    for (const [i, t] of times.entries()) {
      while (t - (times[from] ?? t) >= 1000) from++;
      most = Math.max(most, i - from + 1);
    }
    return most;
  };

  it('is never more than is permitted in any second, however late timers are and whenever calls come', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 30 }),
        fc.array(fc.integer({ min: 0, max: 400 }), { minLength: 1, maxLength: 12 }),
        fc.array(fc.integer({ min: 0, max: 1500 }), { minLength: 1, maxLength: 12 }),
        async (perSecond, late, rests) => {
          expect(busiest(await letThrough(120, perSecond, late, rests))).toBeLessThanOrEqual(perSecond);
        },
      ),
      { numRuns: 120 },
    );
  });

  it('is close to what is permitted while calls wait: at least 95 in a hundred', async () => {
    const times = await letThrough(5000, 20, [0, 1, 4, 12], [0]);
    const seconds = ((times.at(-1) ?? 0) - (times[0] ?? 0)) / 1000;
    expect(times.length / seconds / 20).toBeGreaterThan(0.95);
  });

  it('keeps wider once a call came too soon, and comes back to what is permitted', async () => {
    let now = 0;
    const pacer = new Pacer(
      1,
      () => now,
      (ms) => Promise.resolve(void (now += ms)),
    );
    const gap = async (): Promise<number> => {
      const from = now;
      await pacer.turn();
      return now - from;
    };
    await gap();
    const usual = await gap();
    for (let i = 0; i < 30; i++) pacer.tooSoon();
    const wide = await gap();
    expect(wide).toBeGreaterThan(usual + 50);
    expect(wide).withContext('no wider than a tenth').toBeLessThan(1100);
    for (let i = 0; i < 100; i++) await gap();
    expect(await gap()).toBe(usual);
  });

  it('serves those who wait in the order they came', async () => {
    const order: number[] = [];
    const pacer = new Pacer(
      2,
      () => 0,
      () => Promise.resolve(),
    );
    await Promise.all([1, 2].map((i) => pacer.turn().then(() => order.push(i))));
    expect(order).toEqual([1, 2]);
  });
});
