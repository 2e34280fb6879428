import { Seeded } from '../../demo/random.js';
import { Office } from '../../testing/office.js';

const phone = (i: number): string => `+1212555${String(100 + i).padStart(4, '0')}`;

describe('coverage', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());
  const of = async (name: string) => (await o.app.coverage.read(o.business)).find((x) => x.name === name);
  const people = async (purpose: 'informational' | 'promotional', reason?: string, listId?: string) => {
    const seen: string[] = [];
    let cursor: string | undefined;
    do {
      const page = await o.app.coverage.people(o.business, { purpose, reason, listId }, cursor, 3);
      seen.push(...page.items.map((x) => x.e164));
      cursor = page.next ?? undefined;
      expect(page.total).toBeGreaterThanOrEqual(seen.length);
    } while (cursor);
    return seen;
  };

  it('counts who may be texted for what, and what keeps the rest, of all and of each list', async () => {
    await o.contact(phone(1), ['informational', 'promotional'], { firstName: 'Ada', list: 'Market day' });
    await o.contact(phone(2), ['informational'], { firstName: 'Bea', list: 'Market day' });
    await o.contact(phone(3), ['promotional'], { firstName: 'Cleo' });
    await o.text(phone(3), 'STOP');
    await o.app.platform.db.write((w) => o.app.contacts.ensure(w, o.admin, o.business, phone(4)));
    expect(await of('')).toEqual({
      listId: null,
      name: '',
      kind: 'all',
      people: 4,
      informational: {
        may: 2,
        kept: [
          { post: 5, result: 'stop', reason: 'opted-out', count: 1 },
          { post: 6, result: 'stop', reason: 'consent-none', count: 1 },
        ] as never,
      },
      promotional: {
        may: 1,
        kept: [
          { post: 5, result: 'stop', reason: 'opted-out', count: 1 },
          { post: 6, result: 'stop', reason: 'consent-none', count: 2 },
        ] as never,
      },
    });
    expect(await of('Market day')).toEqual(
      jasmine.objectContaining({
        kind: 'list',
        people: 2,
        promotional: { may: 1, kept: [{ post: 6, result: 'stop', reason: 'consent-none', count: 1 }] },
      }),
    );
    expect(await people('promotional', 'opted-out')).toEqual([phone(3)]);
    expect(await people('informational')).toEqual([phone(1), phone(2)]);
    expect(await people('promotional', 'consent-none', (await of('Market day'))?.listId ?? '')).toEqual([phone(2)]);
  });

  it('counts a person on each of their lists and tags, and once however many numbers they have', async () => {
    const id = await o.contact(phone(1), ['informational'], { list: 'Market day' });
    await o.contact(phone(2), ['informational'], { list: 'Market day' });
    const { db } = o.app.platform;
    await db.write(async (w) => {
      for (const [name, kind] of [
        ['Stall holders', 'list'],
        ['early', 'tag'],
      ] as const)
        await o.app.lists.join(w, await o.app.lists.ensure(w, o.admin, o.business, name, kind), id);
      // A number more, of which nothing is known.
      await w.run(
        `INSERT INTO contact_number (business_id, contact_id, e164, sort_name, country, zones, states, preferred) SELECT business_id, contact_id, $2, sort_name, country, zones, states, FALSE FROM contact_number WHERE e164 = $1`,
        [phone(1), phone(3)],
      );
    });
    const rows = await o.app.coverage.read(o.business);
    expect(rows.map((x) => [x.name, x.kind, x.people, x.informational.may])).toEqual([
      ['', 'all', 2, 2],
      ['Market day', 'list', 2, 2],
      ['early', 'tag', 1, 1],
      ['Stall holders', 'list', 1, 1],
    ]);
  });

  it('opens each count to just those people, over any mixture of how they stand', async () => {
    const dice = new Seeded('coverage');
    const states = ['none', 'granted', 'awaiting', 'revoked', 'unproven', 'lapsed', 'disputed'];
    await o.app.platform.db.write(async (w) => {
      for (let i = 0; i < 60; i++) {
        await o.app.contacts.ensure(w, o.admin, o.business, phone(i), { firstName: `N${i}` });
        await w.run(
          `UPDATE contact_number SET looked_up_at = $1, textable = $2, trouble = $3, reachable = $4, suppression = $5, consent_promotional = $6, wish_in_review = $7 WHERE e164 = $8`,
          [
            dice.chance(0.7) ? 1 : null,
            dice.pick(['yes', 'yes', 'no', 'unknown']),
            dice.pick(['none', 'none', 'none', 'out-of-service', 'not-textable']),
            dice.chance(0.8),
            dice.pick(['none', 'none', 'solicitations', 'all']),
            dice.pick(states),
            dice.chance(0.1),
            phone(i),
          ],
        );
      }
    });
    const all = await of('');
    const { may, kept } = all?.promotional ?? { may: 0, kept: [] };
    expect(all?.people).toBe(60);
    expect(may + kept.reduce((n, k) => n + k.count, 0)).toBe(60);
    const seen = await people('promotional');
    expect(seen.length).toBe(may);
    for (const k of kept) {
      const behind = await people('promotional', k.reason);
      expect(behind.length).withContext(k.reason).toBe(k.count);
      seen.push(...behind);
    }
    expect(new Set(seen).size).withContext('nobody twice, nobody left out').toBe(60);
  });
});
