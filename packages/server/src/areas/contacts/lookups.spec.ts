import { formatAmount } from '@long-gate/core';
import { GatewayDown } from '@long-gate/gateways';
import { Office } from '../../testing/office.js';

const LOOKUP = 5_500;

describe('lookups', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const balance = async () => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
  const known = async (e164: string) => o.app.contacts.byAddress(o.app.platform.db, o.business, e164);
  const strangers = async (n: number): Promise<string[]> => {
    const e164s = Array.from({ length: n }, (_, i) => `+1212555${String(100 + i).padStart(4, '0')}`);
    await o.app.platform.db.write(async (w) => {
      for (const e164 of e164s) await o.app.contacts.ensure(w, o.admin, o.business, e164, { firstName: 'Ada' });
    });
    return e164s;
  };
  const asked = (e164: string): string[] => o.outside.lookups.filter((l) => l.e164 === e164).map((l) => l.key);

  it('carry their key, and are paid once when the answer was there but not yet written down', async () => {
    const [e164 = ''] = await strangers(1);
    const before = await balance();
    // The power goes between the answer and the writing down.
    const store = spyOn(o.app.contacts, 'storeLookup').and.rejectWith(new Error('power cut'));
    await expectAsync(o.app.lookups.one(o.business, e164, 'optin:evt-1')).toBeRejectedWithError('power cut');
    expect(await balance())
      .withContext('nothing half-done')
      .toBe(before);
    store.and.callThrough();
    await o.app.lookups.one(o.business, e164, 'optin:evt-1');
    await o.app.lookups.one(o.business, e164, 'optin:evt-1');
    expect(new Set(asked(e164)).size)
      .withContext('one key')
      .toBe(1);
    expect(before - (await balance())).toBe(LOOKUP);
    expect((await known(e164))?.lookedUpAt).not.toBeNull();
  });

  it('take how a carrier limits texts from the answer, whatever it is called', async () => {
    for (const [i, kind] of (['A', 'B', 'C'] as const).entries()) {
      const [e164 = ''] = (await strangers(3)).slice(i);
      o.outside.carrierKind = kind;
      await o.app.lookups.one(o.business, e164, `kind ${kind}`);
      const row = await o.app.platform.db.one<{ carrier: string; carrier_kind: string }>(
        'SELECT carrier, carrier_kind FROM contact_number WHERE e164 = $1',
        [e164],
      );
      expect(row).toEqual({ carrier: 'Tessary Wireless', carrier_kind: kind });
    }
  });

  it('of a list go on after a crash with the same keys, and cost each number once', async () => {
    const e164s = await strangers(5);
    const before = await balance();
    const real = o.outside.lines.lookup;
    let n = 0;
    o.outside.lines.lookup = (key, e164) => {
      if (++n === 3) throw new Error('power cut');
      return real(key, e164);
    };
    await o.app.lookups.start(o.admin, o.business, {}, 'wish-of-mine');
    const told = await o.app.platform.db.one<{ after: string }>(
      `SELECT "after" FROM audit WHERE action = 'lookups started'`,
    );
    expect(JSON.parse(told?.after ?? '{}')).toEqual({ numbers: 5, cost: formatAmount(5 * LOOKUP) });
    await o.later(60_000);
    for (const e164 of e164s) {
      expect(new Set(asked(e164)).size)
        .withContext(e164)
        .toBe(1);
      expect((await known(e164))?.lookedUpAt).not.toBeNull();
    }
    expect(Math.max(...e164s.map((e164) => asked(e164).length)))
      .withContext('asked twice under one key')
      .toBe(2);
    expect(before - (await balance())).toBe(5 * LOOKUP);
  });

  it('ask nothing that cannot be paid: the job pauses and says why', async () => {
    await strangers(4);
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = $1', [LOOKUP * 2]));
    const { jobId } = await o.app.lookups.start(o.admin, o.business, {}, 'wish-of-mine');
    await o.settle();
    const job = await o.app.platform.db.one<{ state: string; error: string }>('SELECT * FROM job WHERE id = $1', [
      jobId,
    ]);
    expect([job?.state, o.outside.lookups.length, await balance()]).toEqual(['paused', 0, LOOKUP * 2]);
    expect(job?.error).toMatch(/Top up first/);
    await expectAsync(
      o.app.platform.db
        .write((w) => w.run('UPDATE business SET balance = 0'))
        .then(() => o.app.lookups.one(o.business, '+12125550100', 'call:1')),
    ).toBeRejectedWithError(/Top up first/);
    expect(o.outside.lookups.length).toBe(0);
  });

  it('of two jobs over the same numbers are paid once', async () => {
    const e164s = await strangers(40);
    const before = await balance();
    await o.app.lookups.start(o.admin, o.business, {}, 'wish-one');
    await o.app.lookups.start(o.admin, o.business, { e164s }, 'wish-two');
    const { jobs } = o.app.platform;
    await Promise.all([jobs.workOne(), jobs.workOne()]);
    await o.later(60_000);
    expect(e164s.map((x) => new Set(asked(x)).size)).toEqual(e164s.map(() => 1));
    expect(before - (await balance())).toBe(40 * LOOKUP);
  });

  it('ask no more once the job is paused, and pay what was asked', async () => {
    await strangers(100);
    const before = await balance();
    const { jobId } = await o.app.lookups.start(o.admin, o.business, {}, 'wish-one');
    const real = o.outside.lines.lookup;
    o.outside.lines.lookup = async (key, e164) => {
      if (o.outside.lookups.length === 10)
        await o.app.platform.db.write((w) => o.app.platform.jobs.control(w, o.business, jobId, 'pause'));
      return real(key, e164);
    };
    await o.settle();
    const paused = o.outside.lookups.length;
    expect(paused).toBeGreaterThan(10);
    expect(paused).toBeLessThan(100);
    expect(before - (await balance())).toBe(paused * LOOKUP);
    await o.app.platform.db.write((w) => o.app.platform.jobs.control(w, o.business, jobId, 'resume'));
    await o.later(60_000);
    expect(o.outside.lookups.length).toBe(100);
    expect(before - (await balance())).toBe(100 * LOOKUP);
  });

  it('go on after a lot could not be kept while the next ones were leaving', async () => {
    const e164s = await strangers(60);
    const before = await balance();
    const real = o.app.contacts.storeLookup.bind(o.app.contacts);
    let failed = 0;
    spyOn(o.app.contacts, 'storeLookup').and.callFake((...of) =>
      ++failed === 1 ? Promise.reject(new Error('power cut')) : real(...of),
    );
    await o.app.lookups.start(o.admin, o.business, {}, 'wish-one');
    await o.later(120_000);
    expect(e164s.map((x) => new Set(asked(x)).size)).toEqual(e164s.map(() => 1));
    for (const e164 of e164s) expect((await known(e164))?.lookedUpAt).not.toBeNull();
    expect(before - (await balance())).toBe(60 * LOOKUP);
  });

  it('that are answered late or not at all are asked again under their key, and counted once', async () => {
    const e164s = await strangers(50);
    const before = await balance();
    const real = o.outside.lines.lookup;
    let n = 0;
    o.outside.lines.lookup = async (key, e164) => {
      const answer = await real(key, e164);
      const mine = ++n;
      await new Promise((r) => setTimeout(r, (mine % 7) * 40));
      if (mine % 5 === 0 && mine < 60) throw new GatewayDown('the answer was lost');
      return answer;
    };
    const { jobId } = await o.app.lookups.start(o.admin, o.business, {}, 'wish-one');
    await o.later(120_000);
    const job = await o.app.platform.db.one<{ state: string; result: string }>('SELECT * FROM job WHERE id = $1', [
      jobId,
    ]);
    expect([job?.state, job?.result]).toEqual(['done', '50 numbers looked up for 0.28']);
    expect(e164s.map((x) => new Set(asked(x)).size)).toEqual(e164s.map(() => 1));
    expect(before - (await balance())).toBe(50 * LOOKUP);
  });

  describe('of some', () => {
    const asks = async (wish: Parameters<typeof o.app.lookups.start>[2], key: string): Promise<string[]> => {
      const before = o.outside.lookups.length;
      const { numbers } = await o.app.lookups.estimate(o.business, wish);
      await o.app.lookups.start(o.admin, o.business, wish, key);
      await o.later(60_000);
      const now = o.outside.lookups.slice(before).map((l) => l.e164);
      expect(now.length).withContext('as many as were reckoned').toBe(numbers);
      return now.sort();
    };

    it('ask about those on a list, and no others', async () => {
      const [a = '', b = ''] = await strangers(4);
      await o.app.platform.db.write(async (w) => {
        const list = await o.app.lists.ensure(w, o.admin, o.business, 'Some', 'list');
        for (const e164 of [a, b]) {
          const { contactId } = await o.app.contacts.ensure(w, o.admin, o.business, e164);
          await o.app.lists.join(w, list, contactId);
        }
      });
      expect(await asks({ listId: await o.listId('Some') }, 'wish-1')).toEqual([a, b]);
    });

    it('ask about those a filter leaves, by words, by digits and by facets', async () => {
      const [first = '', second = ''] = await strangers(3);
      await o.app.platform.db.write((w) =>
        o.app.contacts.ensure(w, o.admin, o.business, '+12125550177', { firstName: 'Rosalind' }),
      );
      expect(await asks({ filter: { q: 'rosal' } }, 'wish-1')).toEqual(['+12125550177']);
      expect(await asks({ filter: { q: first.slice(-4) } }, 'wish-2')).toEqual([first]);
      expect((await asks({ filter: { textable: 'unknown' } }, 'wish-3'))[0]).toBe(second);
    });

    it('ask about numbers that are named, again only where that is said', async () => {
      const [a = '', b = ''] = await strangers(3);
      expect(await asks({ e164s: [a, b] }, 'wish-1')).toEqual([a, b]);
      await expectAsync(o.app.lookups.start(o.admin, o.business, { e164s: [a] }, 'wish-2')).toBeRejectedWithError(
        /every answer is fresh/,
      );
      expect(await asks({ e164s: [a], again: true }, 'wish-3')).toEqual([a]);
    });
  });
});
