import { foldConsent, PURPOSES } from '@long-gate/core';
import { Seeded } from '../../../demo/random.js';
import { withoutGuard } from '../../../testing/database.js';
import { Office } from '../../../testing/office.js';
import type { NewEvent } from '../index.js';
import { checkInThreads, checkLedger, type Checked, type CheckWish } from './ledger-check.js';

const e164 = (n: number): string => `+1212555${String(n).padStart(4, '0')}`;
/** Somebody with more events than are read at a time. */
const BUSY = e164(4500);
const EVENTS = 12_000;

/** A ledger that is longer than what is read at once, of people with few events and one with very many. */
describe('checking a long ledger', () => {
  let o: Office;
  const dice = new Seeded('ledger check');
  beforeAll(async () => {
    o = await Office.open();
    const event = (who: string): NewEvent => ({
      e164: who,
      purposes: [dice.pick(['informational', 'promotional'] as const)],
      kind: dice.pick(['granted', 'revoked', 'granted', 'claimed'] as const),
      how: 'web page',
      happenedAt: o.now - dice.int(1, 1_000_000),
      evidence: dice.chance(0.5) ? { page: 'heron' } : {},
    });
    await o.app.platform.db.write(async (w) => {
      for (let i = 0; i < 5000; i += 7) await o.app.contacts.ensure(w, o.admin, o.business, e164(i));
      for (let i = 0; i < EVENTS; i += 500)
        await o.app.ledger.append(
          w,
          o.business,
          Array.from({ length: 500 }, () => event(dice.chance(0.4) ? BUSY : e164(dice.int(0, 4999)))),
        );
    });
  });
  afterAll(() => o.close());

  const wish = (): CheckWish => ({ businessId: o.business, heads: [], forged: 0, now: o.now, states: true });
  const threads = (w: CheckWish, found: (e164s: string[]) => void = () => undefined): Promise<Checked> => {
    const { db } = o.app.platform;
    return checkInThreads(db, db.place, EVENTS, w, found);
  };
  const both = async (): Promise<[Checked, string[]][]> => {
    const here: string[] = [];
    const there: string[] = [];
    const { db } = o.app.platform;
    return [
      [await checkLedger(db, wish(), (e164s) => here.push(...e164s)), here],
      [await threads(wish(), (e164s) => there.push(...e164s)), there],
    ];
  };

  it('finds it whole and its states right, in threads as here', async () => {
    for (const [checked, differing] of await both()) {
      expect(checked.verdict).toEqual(jasmine.objectContaining({ ok: true, count: EVENTS }));
      expect([checked.compared, differing]).toEqual([{ differing: 0, looser: 0 }, []]);
    }
  });

  it('finds every number that is kept otherwise in either place, as a slow look at each does', async () => {
    const { db } = o.app.platform;
    const first = (await db.one<{ e164: string }>('SELECT min(e164) AS e164 FROM consent_event'))?.e164 ?? '';
    const last = (await db.one<{ e164: string }>('SELECT max(e164) AS e164 FROM consent_event'))?.e164 ?? '';
    const broken = new Set([BUSY, first, last, ...Array.from({ length: 200 }, () => e164(dice.int(0, 4999)))]);
    await db.write(async (w) => {
      let n = 0;
      for (const who of broken)
        await w.run(
          n++ % 2 === 0
            ? `UPDATE consent_state SET promotional = 'disputed' WHERE e164 = $1`
            : `UPDATE contact_number SET consent_informational = 'disputed' WHERE e164 = $1`,
          [who],
        );
    });
    const slow: string[] = [];
    for (let i = 0; i < 5000; i++) {
      const folded = foldConsent(await o.app.ledger.eventsOf(db, o.business, e164(i)), o.now);
      const places = [
        ...(await db.all<Record<string, string>>('SELECT * FROM consent_state WHERE e164 = $1', [e164(i)])),
        ...(await db.all<Record<string, string>>(
          'SELECT consent_conversational AS conversational, consent_informational AS informational, consent_promotional AS promotional FROM contact_number WHERE e164 = $1',
          [e164(i)],
        )),
      ];
      if (places.some((p) => PURPOSES.some((x) => p[x] !== folded[x].state))) slow.push(e164(i));
    }
    expect(slow.length).toBeGreaterThan(80);
    for (const [checked, differing] of await both()) {
      expect(differing.sort()).toEqual(slow);
      expect(checked.compared.differing).toBe(slow.length);
    }
    expect((await o.app.ledger.rebuild(o.business, true)).differing).toBe(slow.length);
    expect((await o.app.ledger.rebuild(o.business, false)).differing).toBe(0);
  });

  it('says what a thread could not do, in its own words', async () => {
    await expectAsync(threads({ ...wish(), heads: 7 as unknown as [] })).toBeRejectedWithError(/is not a function/);
  });

  it('finds the chain whole in halves, beside its signed heads, with what was appended meanwhile', async () => {
    const { db } = o.app.platform;
    const hashOf = async (seq: number): Promise<string> =>
      (await db.one<{ hash: string }>('SELECT hash FROM consent_event WHERE seq = $1', [seq]))?.hash ?? '';
    const heads = await Promise.all([3000, 6000, 9000].map(async (count) => ({ count, head: await hashOf(count) })));
    const chain = (over: Partial<CheckWish>): Promise<Checked> => threads({ ...wish(), states: false, ...over });
    const whole = { ok: true, count: EVENTS, head: await hashOf(EVENTS) };
    expect((await chain({ heads })).verdict).toEqual(jasmine.objectContaining(whole));
    // A length that is not the newest any more: the second half goes on to the end.
    expect((await checkInThreads(db, db.place, 700, { ...wish(), states: false }, () => undefined)).verdict).toEqual(
      jasmine.objectContaining(whole),
    );
    for (const wrong of [3000, 6000, 9000])
      expect(
        (await chain({ heads: heads.map((h) => (h.count === wrong ? { ...h, head: 'f'.repeat(64) } : h)) })).verdict,
      ).toEqual(jasmine.objectContaining({ ok: false, brokenAt: wrong, reason: 'head' }));
    expect((await chain({ heads: [{ count: EVENTS + 5, head: whole.head }] })).verdict).toEqual(
      jasmine.objectContaining({ ok: false, reason: 'tail' }),
    );
    expect((await chain({ forged: 1 })).verdict.ok).toBeFalse();
  });

  it('names the first fault as one walk does, wherever it is, also where the halves meet', async () => {
    const { db } = o.app.platform;
    const half = EVENTS / 2;
    const there = async (): Promise<unknown> => (await threads({ ...wish(), states: false })).verdict;
    const here = async (): Promise<unknown> =>
      (await checkLedger(db, { ...wish(), states: false }, () => undefined)).verdict;
    await db.write((w) => withoutGuard(w, 'consent_event', 'consent_event_no_update'));
    const changed: [column: string, seq: number][] = [
      ['disclosure', 17],
      ['disclosure', half],
      ['hash', half],
      ['prev_hash', half + 1],
      ['hash', half + 1],
      ['disclosure', EVENTS],
      ['evidence', half + 2],
    ];
    for (const [column, seq] of changed) {
      const was = (await db.one<Record<string, string>>(`SELECT ${column} FROM consent_event WHERE seq = $1`, [seq]))?.[
        column
      ];
      const set = (value: unknown): Promise<void> =>
        db.write((w) => w.run(`UPDATE consent_event SET ${column} = $1 WHERE seq = $2`, [value, seq]));
      await set('otherwise');
      expect(await there()).toEqual(await here());
      expect(await there()).toEqual(jasmine.objectContaining({ ok: false }));
      await set(was);
    }
    expect(await there()).toEqual(jasmine.objectContaining({ ok: true }));
  });

  it('names the event that was changed, from threads, and lets nothing loosen by it', async () => {
    const { db } = o.app.platform;
    await db.write((w) => w.run(`UPDATE consent_event SET disclosure = 'other words' WHERE seq = 9001`));
    for (const [checked] of await both())
      expect(checked.verdict).toEqual(jasmine.objectContaining({ ok: false, brokenAt: 9001, reason: 'content' }));
    expect((await o.app.ledger.verify(o.business)).ok).toBeFalse();
  });

  it('misses an event that is gone altogether, the last of the first half', async () => {
    const { db } = o.app.platform;
    await db.write((w) => withoutGuard(w, 'consent_event', 'consent_event_no_delete'));
    await db.write((w) => w.run('DELETE FROM consent_event WHERE seq = $1', [EVENTS / 2]));
    const inHalves = await threads({ ...wish(), states: false });
    for (const checked of [inHalves, ...(await both()).map(([c]) => c)])
      expect(checked.verdict).toEqual(
        jasmine.objectContaining({ ok: false, brokenAt: EVENTS / 2, reason: 'sequence' }),
      );
  });

  it('takes all of an append back where what follows from it cannot be read, and writes nothing of it after', async () => {
    const { db } = o.app.platform;
    const count = async (): Promise<number> =>
      Number((await db.one<{ n: number }>('SELECT count(*) AS n FROM consent_event'))?.n);
    expect((await o.app.ledger.verify(o.business)).ok)
      .withContext('its states are compared with those kept')
      .toBeFalse();
    const before = await count();
    o.app.contacts.keptConsent = () => Promise.reject(new Error('cannot be read'));
    await expectAsync(
      db.write((w) =>
        o.app.ledger.append(
          w,
          o.business,
          Array.from({ length: 3000 }, (_, i) => ({
            e164: e164(i),
            purposes: ['informational'],
            kind: 'granted',
            how: 'web page',
          })),
        ),
      ),
    ).toBeRejectedWithError('cannot be read');
    await new Promise((later) => setTimeout(later, 300));
    expect(await count()).toBe(before);
    // Nothing of it holds the next write up either.
    await db.write((w) => w.run('UPDATE business SET name_line = name_line WHERE id = $1', [o.business]));
  });
});
