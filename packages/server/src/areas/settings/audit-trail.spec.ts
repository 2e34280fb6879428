import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { Office } from '../../testing/office.js';
import { auditCsv, auditFacets, auditPage } from '../../platform/trail.js';
import { SavedViews } from './views.js';

const MINUTE_MS = 60_000;
const ZONE = 'America/New_York';

describe('the audit trail', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const trail = () => ({ objects: o.app.platform.objects, zone: ZONE });
  const page = (filter: object = {}, limit = 50) =>
    auditPage(o.app.platform.db, o.business, { limit, ...filter }, trail());
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

  it('calls each thing by its own name, also one that is gone, and in the file', async () => {
    const { db } = o.app.platform;
    await o.contact('+12125550131', ['promotional']);
    const list = await o.app.lists.add(o.admin, o.business, 'Sunday bakers', 'list');
    const draft = await o.app.drafts.add(o.admin, o.business, await o.draft({ title: 'Rye is back' }), 'd1');
    const views = new SavedViews(o.app.platform);
    const view = await views.save(o.admin, o.business, 'contacts', 'No answer yet', 'x=1');
    await views.drop(o.admin, o.business, view.id);
    await save(o.admin, { city: 'Quillmere' });
    const { items } = await page({}, 200);
    const named = (kind: string, id: string): string[] => [
      ...new Set(items.filter((e) => e.objectKind === kind && e.objectId === id).map((e) => e.objectName)),
    ];
    expect(named('list', list.id)).toEqual(['Sunday bakers']);
    expect(named('dispatch', draft.id)).toEqual(['Rye is back']);
    expect(named('view', view.id)).withContext('dropped').toContain('No answer yet');
    expect(named('business', o.business)).toEqual(['Heron Bakery LLC']);
    let file = '';
    for await (const x of auditCsv(db, o.business, { objectKind: 'dispatch' }, trail())) file += x;
    expect(file).toContain(`,dispatch,Rye is back,${draft.id},`);
    expect((await auditPage(db, 'biz_other', { limit: 9, objectKind: 'list' }, trail())).items).toEqual([]);
  });

  it('has a name for every kind of thing that the sources record', () => {
    const src = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../../src');
    const kinds = new Set(
      readdirSync(path.join(src, 'areas'), { recursive: true, encoding: 'utf8' })
        .filter((f) => f.endsWith('.ts') && !f.endsWith('.spec.ts'))
        .flatMap((f) => [
          ...readFileSync(path.join(src, 'areas', f), 'utf8').matchAll(
            /\brecord\([\s\S]{0,220}?objectKind: '([a-z ]+)'/g,
          ),
        ])
        .map(([, kind = '']) => kind),
    );
    expect(kinds.size).toBeGreaterThan(15);
    // What was set aside is known by its key alone.
    expect([...kinds].filter((k) => k !== 'set aside' && !o.app.platform.objects.kinds().includes(k))).toEqual([]);
  });

  it('shows with a contact what was done to its number, its conversation and its intake, and nothing of others', async () => {
    const { db } = o.app.platform;
    const about = { fileName: 'bakers.csv', total: 2, listName: 'Bakers', consentClaim: '' };
    const intake = await o.app.intakes.begin(o.admin, o.business, about);
    const blank = { lastName: '', email: '', stateCode: '', keep: true };
    await o.app.intakes.take(o.business, intake.id, [
      { row: 1, phone: '(212) 555-0131', firstName: 'Maren', ...blank },
      { row: 2, phone: '(212) 555-0132', firstName: '', ...blank },
    ]);
    await o.app.intakes.store(o.admin, o.business, intake.id);
    await o.settle();
    const idOf = async (e164: string) =>
      (await o.app.contacts.names(db, o.business, [e164])).get(e164)?.contactId ?? '';
    const [first, second] = [await idOf('+12125550131'), await idOf('+12125550132')];
    await o.text('+12125550131', 'are you open?');
    await o.app.inbox.setWaiting(o.admin, o.business, '+12125550131', false);
    const history = async (id: string, whole?: 'yes') =>
      (
        await auditPage(
          db,
          o.business,
          { limit: 99, objectKind: 'contact', objectId: id, ...(whole ? { whole } : {}) },
          trail(),
        )
      ).items;
    expect((await history(first, 'yes')).map((e) => e.objectName).slice(0, 2)).toEqual([
      'Maren, +1 212-555-0131',
      'bakers.csv',
    ]);
    expect((await history(first, 'yes')).map((e) => e.action)).toContain('intake stored');
    expect(new Set((await history(second, 'yes')).map((e) => e.objectKind))).toEqual(new Set(['intake']));
    expect(await history(first))
      .withContext('the contact by itself')
      .toEqual([]);
    // The job that stored them has the same history.
    const job = (await o.app.platform.jobs.listed(o.business)).find((j) => j.kind === 'intake.store');
    const ofJob = await auditPage(
      db,
      o.business,
      { limit: 9, objectKind: 'job', objectId: job?.id ?? '', whole: 'yes' },
      trail(),
    );
    expect(new Set(ofJob.items.map((e) => e.objectName))).toEqual(new Set(['bakers.csv']));
  });

  it('is given out as CSV, entry by entry, with the hash of each', async () => {
    await save(o.admin, { city: 'Alder, sund' });
    await save(o.admin, { city: 'Quillmere' });
    // One entry a piece: the pieces join to one file with one head.
    const pieces: string[] = [];
    for await (const x of auditCsv(o.app.platform.db, o.business, { action: 'business edited' }, trail(), 1))
      pieces.push(x);
    const lines = pieces.join('').trim().split('\n');
    expect(lines.length).withContext('the head and both saves').toBe(3);
    expect(lines[0]).toContain('when,who,what,kind');
    expect(lines[2]).toContain('""city"":""Alder, sund""');
    expect(lines[1]).toMatch(/,[0-9a-f]{64}$/);
  });
});
