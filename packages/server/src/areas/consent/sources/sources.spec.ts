import { CONSENT_EVENT_KINDS, CONSENT_ROUTES } from '@long-gate/core';
import { Seeded } from '../../../demo/random.js';
import { countSources } from '../../../migrations/consent-sources.js';
import { Office } from '../../../testing/office.js';
import type { NewEvent } from '../ledger/ledger.js';
import { SOURCE_COUNTS } from './source-store.js';
import type { WhichOf } from './sources.js';

const DAY = 86_400_000;
const phone = (i: number): string => `+1212555${String(100 + i).padStart(4, '0')}`;

describe('ways in compared', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());
  const append = (...events: (Partial<NewEvent> & { e164: string; daysAgo: number })[]) =>
    o.app.platform.db.write((w) =>
      o.app.ledger.append(
        w,
        o.business,
        events.map(({ daysAgo, ...e }) => ({
          purposes: ['promotional'],
          kind: 'granted',
          how: 'web page',
          happenedAt: o.now - daysAgo * DAY,
          ...e,
        })),
      ),
    );
  const read = (weeks = 26) => o.app.sources.read(o.business, 'promotional', weeks);
  const people = async (which: Partial<WhichOf> & Pick<WhichOf, 'of' | 'way'>): Promise<string[]> => {
    const seen: string[] = [];
    let cursor: string | undefined;
    do {
      const page = await o.app.sources.people(o.business, { purpose: 'promotional', weeks: 26, ...which }, cursor, 2);
      seen.push(...page.items.map((x) => x.e164));
      cursor = page.next ?? undefined;
    } while (cursor);
    return seen;
  };

  it('says of each page how many were asked, said YES, stayed a month and left, each with its people', async () => {
    const rye = { evidence: { page: 'rye' }, awaitsConfirmation: true };
    await append(
      { e164: phone(1), daysAgo: 60, ...rye },
      { e164: phone(2), daysAgo: 60, ...rye },
      { e164: phone(3), daysAgo: 60, ...rye },
      { e164: phone(4), daysAgo: 3, ...rye },
      { e164: phone(5), daysAgo: 60, how: 'paper form' },
    );
    const yes = { kind: 'confirmed' as const, how: 'reply' as const };
    await append(
      { e164: phone(1), daysAgo: 59.9, ...yes },
      { e164: phone(2), daysAgo: 59.9, ...yes },
      { e164: phone(4), daysAgo: 2.9, ...yes },
      { e164: phone(2), daysAgo: 50, kind: 'revoked', how: 'reply' },
    );
    const { ways, refusals } = await read();
    expect(ways.map(({ byWeek, ...x }) => ({ ...x, byWeek: byWeek.reduce((a, b) => a + b) }))).toEqual([
      {
        way: 'web page',
        via: 'rye',
        name: '',
        asked: 4,
        agreed: 3,
        soon: 1,
        later: 0,
        ended: 0,
        // Of one who agreed three days ago nobody can say yet whether they stay a month.
        ripe: 2,
        stayed: 1,
        byWeek: 3,
      },
      jasmine.objectContaining({ way: 'paper form', via: '', asked: 1, agreed: 1, ripe: 1, stayed: 1 }),
    ]);
    expect(refusals.map(({ byWeek, ...x }) => ({ ...x, byWeek: byWeek.reduce((a, b) => a + b) }))).toEqual([
      { how: 'reply', n: 1, stayed: { 'never in': 0, 'a month': 1, 'a year': 0, longer: 0 }, byWeek: 1 },
    ]);
    const of = async (x: WhichOf['of']) => (await people({ of: x, way: 'web page', via: 'rye' })).sort();
    expect(await of('asked')).toEqual([1, 2, 3, 4].map(phone));
    expect(await of('unconfirmed')).toEqual([phone(3)]);
    expect(await of('soon')).toEqual([phone(2)]);
    expect(await of('stayed')).toEqual([phone(1)]);
    expect(await people({ of: 'asked', way: 'web page', via: 'otter' })).toEqual([]);
  });

  it('says of nobody that they stayed whose consent ended otherwise, or whose month may not be over', async () => {
    // Thursday, 14 March: asked on a Sunday, the YES came on Tuesday, and their month is not over.
    await o.later(2 * DAY);
    await append(
      { e164: phone(1), daysAgo: 60 },
      { e164: phone(2), daysAgo: 60 },
      { e164: phone(3), daysAgo: 32, awaitsConfirmation: true },
      { e164: phone(3), daysAgo: 29.9, kind: 'confirmed', how: 'reply' },
      { e164: phone(2), daysAgo: 55, kind: 'voided', how: 'reassigned numbers' },
    );
    const [way] = (await read()).ways;
    expect([way?.asked, way?.agreed, way?.ended, way?.ripe, way?.stayed]).toEqual([3, 3, 1, 1, 1]);
    expect(await people({ of: 'stayed', way: 'web page' })).toEqual([phone(1)]);
  });

  it('shows a shorter while by itself', async () => {
    await append({ e164: phone(1), daysAgo: 60 }, { e164: phone(2), daysAgo: 1 });
    expect((await read(4)).ways.map((x) => x.asked)).toEqual([1]);
    expect(await people({ of: 'asked', way: 'web page', weeks: 4 })).toEqual([phone(2)]);
  });

  it('is shown to nobody for another business', async () => {
    await append({ e164: phone(1), daysAgo: 1 });
    const other = await o.app.platform.db.write((w) =>
      o.app.businesses.add(w, o.admin, { legalName: 'Otter LLC', nameLine: 'Otter', form: 'private company' }),
    );
    expect((await o.app.sources.read(other, 'promotional', 26)).ways).toEqual([]);
  });

  it('counts what the ledger says, in whatever order and lots it came, and each count has exactly its people', async () => {
    const dice = new Seeded('sources');
    for (let lot = 0; lot < 40; lot++)
      await append(
        ...Array.from({ length: dice.int(1, 5) }, () => ({
          e164: phone(dice.int(0, 7)),
          daysAgo: dice.int(0, 150),
          kind: dice.pick(CONSENT_EVENT_KINDS),
          how: dice.pick(CONSENT_ROUTES.slice(0, 4)),
          awaitsConfirmation: dice.int(0, 1) === 1,
          purposes: dice.pick<NewEvent['purposes']>([['promotional'], ['informational', 'promotional']]),
          evidence: dice.pick<Record<string, string>>([{}, { page: 'rye' }, { programme: 'kiln' }]),
        })),
      );
    const { db } = o.app.platform;
    expect(await SOURCE_COUNTS.differing(db)).toBe(0);
    const { ways } = await read(30);
    expect(ways.length).toBeGreaterThan(4);
    for (const way of ways)
      for (const of of ['asked', 'agreed', 'soon', 'later', 'ended', 'stayed'] as const)
        expect(`${way.way} ${of} ${(await people({ of, way: way.way, via: way.via, weeks: 30 })).length}`).toBe(
          `${way.way} ${of} ${way[of]}`,
        );
    // A count that went astray is found, and counted anew.
    await db.write((w) => w.run('UPDATE consent_source SET soon = soon + 1'));
    expect(await SOURCE_COUNTS.differing(db)).toBeGreaterThan(0);
    await db.write((w) => SOURCE_COUNTS.recount(db, w));
    expect(await SOURCE_COUNTS.differing(db)).toBe(0);
    // A ledger that was there before the counts were is counted alike.
    await db.write(async (w) => {
      await w.run('DELETE FROM consent_source');
      await w.run('DELETE FROM consent_refusal');
    });
    await db.alone(() => countSources(db.migrationConnection.getQueryInterface()));
    expect(await SOURCE_COUNTS.differing(db)).toBe(0);
  });
});
