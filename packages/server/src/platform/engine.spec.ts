import { z } from 'zod';
import { Office } from '../testing/office.js';

describe('the engine', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  /** Waits until it is so, or the time is over; how long it took. */
  const until = async (so: () => boolean, mostMs: number): Promise<number> => {
    const at = Date.now();
    while (!so() && Date.now() - at < mostMs) await new Promise((r) => setTimeout(r, 2));
    return Date.now() - at;
  };

  it('says what comes next, here or outside, and when', async () => {
    const { db, jobs, engine, clock } = o.app.platform;
    await db.write((w) => w.run(`UPDATE job SET state = 'done'`));
    expect(await engine.next()).toBeNull();
    jobs.handle('spec', z.object({}), () => Promise.resolve({ done: true }), 'a loaf is baked');
    const at = Math.round(clock.now()) + 60_000;
    await db.write((w) => jobs.add(w, { kind: 'spec', businessId: o.business, payload: {}, key: 'later', at }));
    expect(await engine.next()).toEqual({ at, what: 'a loaf is baked' });
    o.outside.simulation.setClock = (now) =>
      Promise.resolve({ now, nextDue: at - 1, nextWhat: 'a losing carrier answers' });
    expect(await engine.next()).toEqual({ at: at - 1, what: 'a losing carrier answers' });
  });

  it('rests where nothing is due, and is woken by a write', async () => {
    const { db, jobs, engine, clock } = o.app.platform;
    let looked = 0;
    let worked = 0;
    jobs.handle('spec', z.object({}), () => {
      worked++;
      return Promise.resolve({ done: true });
    });
    engine.add({
      work: () => {
        looked++;
        return Promise.resolve(0);
      },
      nextDue: () => Promise.resolve(null),
      restMs: 5,
    });
    await engine.start();
    // What is due as it starts is done first, however long that takes here.
    let before: number;
    const late = Date.now() + 120_000;
    do {
      before = looked;
      await new Promise((r) => setTimeout(r, 400));
    } while (looked !== before && Date.now() < late);
    await new Promise((r) => setTimeout(r, 600));
    expect(looked - before)
      .withContext('looks while nothing was written')
      .toBeLessThan(3);
    await db.write((w) => jobs.add(w, { kind: 'spec', businessId: o.business, payload: {}, key: 'now' }));
    await until(() => worked === 1, 120_000);
    expect(worked).toBe(1);
    expect(looked).withContext('each wheel looks after a write').toBeGreaterThan(before);
    // What is due in a moment is done in that moment, though nothing is written then.
    const at = clock.now() + 500;
    await db.write((w) => jobs.add(w, { kind: 'spec', businessId: o.business, payload: {}, key: 'soon', at }));
    await until(() => worked === 2, 120_000);
    expect(clock.now()).toBeGreaterThanOrEqual(at);
    // Without being woken it would look again after five seconds.
    expect(clock.now()).toBeLessThan(at + 4_000);
  });

  it('gives what comes free bit by bit one turn at each step of a jump, however much there is', async () => {
    const { engine, clock } = o.app.platform;
    const [at, turns]: [number, number[]] = [clock.now(), []];
    engine.add({
      work: () => Promise.resolve(turns.push(clock.now())),
      nextDue: () => Promise.resolve(clock.now()),
      restMs: 5,
      paced: true,
    });
    engine.jump(at + 10_000);
    await engine.settled();
    expect(clock.now()).toBeGreaterThanOrEqual(at + 10_000);
    expect(turns.length).toBeGreaterThanOrEqual(10);
    expect(turns.length).withContext('not as many as can be had').toBeLessThan(30);
    const gaps = turns.slice(1).map((t, i) => t - (turns[i] ?? 0));
    expect(Math.max(...gaps))
      .withContext('no second is passed over')
      .toBeLessThan(1_500);
  });

  it('hears the outside as soon as it tells something, and ends at once when asked to', async () => {
    const { engine } = o.app.platform;
    await engine.start();
    await new Promise((r) => setTimeout(r, 50));
    await o.contact('+12125550110', ['informational', 'promotional']);
    o.outside.told.push({
      seq: o.outside.told.length + 1,
      at: o.now,
      kind: 'text.inbound',
      key: 'in-1',
      from: '+12125550110',
      to: o.ours,
      text: 'STOP',
    });
    const left = async () => (await o.state('+12125550110')).promotional === 'revoked';
    const at = Date.now();
    while (!(await left()) && Date.now() - at < 60_000) await new Promise((r) => setTimeout(r, 10));
    expect(await left()).toBeTrue();
    // Unheard it would be read when the engine looks again by itself.
    expect(Date.now() - at).toBeLessThan(4_500);
    const ending = Date.now();
    await engine.stop();
    expect(Date.now() - ending).toBeLessThan(4_500);
  });
});
