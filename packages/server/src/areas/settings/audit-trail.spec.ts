import { Office } from '../../testing/office.js';
import { auditCsv, auditFacets, auditPage } from '../../platform/trail.js';

const MINUTE_MS = 60_000;
const ZONE = 'America/New_York';

describe('the audit trail', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const page = (filter: object = {}, limit = 50) =>
    auditPage(o.app.platform.db, o.business, { limit, ...filter }, ZONE);
  const facts = {
    legalName: 'Heron Bakery LLC',
    nameLine: 'Heron',
    contactName: '',
    contactEmail: '' as const,
    website: '',
    street: '',
    city: '',
    state: '',
    postalCode: '',
    transactionalAnyHour: false,
    taxStatus: '' as const,
  };
  const save = async (actor: Office['admin'], over: object): Promise<void> =>
    o.app.businesses.edit(actor, o.business, null, { ...facts, ...over });

  it('shows a row of saves by one person as one change, from what stood before the first to what stands after the last', async () => {
    await save(o.admin, { city: 'Aldersund' });
    await o.later(MINUTE_MS);
    await save(o.admin, { city: 'Quillmere' });
    await o.later(MINUTE_MS);
    await save({ ...o.admin, id: 'usr_2', name: 'Ivo Brandt' }, { city: 'Northbank' });
    await o.later(40 * MINUTE_MS);
    await save({ ...o.admin, id: 'usr_2', name: 'Ivo Brandt' }, { city: 'Southbank' });
    const { items } = await page({ action: 'BUSINESS edited' });
    expect(items.map((e) => [e.actor, e.saves, (e.after as { city: string }).city])).toEqual([
      ['Ivo Brandt', 1, 'Southbank'],
      ['Ivo Brandt', 1, 'Northbank'],
      [o.admin.name, 2, 'Quillmere'],
    ]);
    expect((items[2]?.before as { city: string }).city).toBe('');
    expect((items[2]?.at ?? 0) - (items[2]?.since ?? 0)).toBeGreaterThanOrEqual(MINUTE_MS);
  });

  it('is narrowed by who, what, of which kind and on which days, and leafed through to its end', async () => {
    await save(o.admin, { city: 'Aldersund' });
    const day = new Date(o.now).toISOString().slice(0, 10);
    await o.later(3 * 24 * 60 * MINUTE_MS);
    await save({ ...o.admin, id: 'usr_2', name: 'Ivo Brandt' }, { city: 'Quillmere' });
    const of = async (filter: object) => (await page(filter)).items.map((e) => `${e.actor}: ${e.action}`);
    expect(await of({ actor: 'Ivo Brandt' })).toEqual(['Ivo Brandt: business edited']);
    expect(await of({ action: 'edited', to: day })).toEqual([`${o.admin.name}: business edited`]);
    expect(await of({ action: '%' }))
      .withContext('words, no pattern')
      .toEqual([]);
    expect(new Set((await page({ objectKind: 'business' })).items.map((e) => e.objectKind))).toEqual(
      new Set(['business']),
    );
    const all = (await page()).total;
    const seen: string[] = [];
    for (let cursor: string | undefined; ;) {
      const { items, next } = await page({ ...(cursor ? { cursor } : {}) }, 2);
      seen.push(...items.map((e) => e.id));
      if (next === null) break;
      cursor = next;
    }
    expect(new Set(seen).size).toBe(seen.length);
    expect(seen.length).toBe((await page({}, 200)).items.length);
    expect(all).toBeGreaterThanOrEqual(seen.length);
    const facets = await auditFacets(o.app.platform.db, o.business);
    expect(facets.actors).toContain('Ivo Brandt');
    expect(facets.kinds).toContain('business');
  });

  it('is given out as CSV, entry by entry, with the hash of each', async () => {
    await save(o.admin, { city: 'Alder, sund' });
    await save(o.admin, { city: 'Quillmere' });
    // One entry a piece: the pieces join to one file with one head.
    const pieces: string[] = [];
    for await (const x of auditCsv(o.app.platform.db, o.business, { action: 'business edited' }, ZONE, 1))
      pieces.push(x);
    const lines = pieces.join('').trim().split('\n');
    expect(lines.length).withContext('the head and both saves').toBe(3);
    expect(lines[0]).toContain('when,who,what,kind');
    expect(lines[2]).toContain('""city"":""Alder, sund""');
    expect(lines[1]).toMatch(/,[0-9a-f]{64}$/);
  });
});
