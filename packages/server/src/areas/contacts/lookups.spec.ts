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
      for (const e164 of e164s) await o.app.contacts.ensure(w, o.admin, o.business, e164, 'Ada');
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
          const { contactId } = await o.app.contacts.ensure(w, o.admin, o.business, e164, '');
          await o.app.lists.join(w, list, contactId);
        }
      });
      expect(await asks({ listId: await o.listId('Some') }, 'wish-1')).toEqual([a, b]);
    });

    it('ask about those a filter leaves, by words, by digits and by facets', async () => {
      const [first = '', second = ''] = await strangers(3);
      await o.app.platform.db.write((w) => o.app.contacts.ensure(w, o.admin, o.business, '+12125550177', 'Rosalind'));
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
