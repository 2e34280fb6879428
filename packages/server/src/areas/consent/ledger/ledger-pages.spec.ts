import { CONSENT_EVENT_KINDS, PURPOSES, type LedgerEvent } from '@long-gate/core';
import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import { DateTime } from 'luxon';
import { LIMITS } from './event-search-store.js';
import { LedgerPages } from './ledger-pages.js';
import { Office } from '../../../testing/office.js';

const ZONE = 'America/New_York';
const PEOPLE = [
  { e164: '+12125550110', firstName: 'Ada', list: 'Regulars' },
  { e164: '+12125550111', firstName: 'Adam', list: 'Others' },
  { e164: '+16465550112', firstName: 'Brandt', list: 'Regulars' },
] as const;
/** Once on file here, and a contact no more. */
const GONE = '+12125550119';
const HOWS = ['web page', 'keyword', 'paper form', 'reply'] as const;
const WORDS = ['heron, version 1', 'heron, version 2', 'At the till, version 1', ''] as const;

describe('the ledger, searched', () => {
  let o: Office;
  let all: LedgerEvent[];
  const lists: Record<string, string> = {};
  beforeAll(async () => {
    o = await Office.open();
    for (const p of PEOPLE) await o.contact(p.e164, [], { firstName: p.firstName, list: p.list });
    await o.contact(GONE, []);
    // A further number of somebody is theirs too.
    const ada = await o.app.contacts.byAddress(o.app.platform.db, o.business, PEOPLE[0].e164);
    await o.app.platform.db.write((w) =>
      w.run(
        `INSERT INTO contact_number (business_id, contact_id, e164, country, zones, states, sort_name, preferred) VALUES ($1,$2,'+13475550120','US','','','ada',FALSE)`,
        [o.business, ada?.contactId ?? ''],
      ),
    );
    const numbers = [...PEOPLE.map((p) => p.e164), '+13475550120', GONE];
    const base = DateTime.fromISO('2027-03-13T12:00', { zone: ZONE }).toMillis();
    for (let i = 0; i < 120; i++)
      await o.app.platform.db.write((w) =>
        o.app.ledger.append(w, o.business, [
          {
            e164: numbers[(i * 7) % numbers.length] ?? GONE,
            purposes: i % 5 === 0 ? ['informational', 'promotional'] : [PURPOSES[i % 3] ?? 'promotional'],
            kind: CONSENT_EVENT_KINDS[(i * 5) % 4] ?? 'granted',
            how: HOWS[(i * 3) % 4] ?? 'reply',
            disclosureVersion: WORDS[(i * 11) % 4] ?? '',
            // Not in the order of the chain, every half hour over midnight and the hour the clock leaves out.
            happenedAt: base + ((i * 37) % 60) * 1_800_000,
          },
        ]),
      );
    await remove(GONE);
    all = [...(await o.app.ledger.eventsOfAll(o.app.platform.db, o.business, numbers)).values()].flat();
    for (const name of ['Regulars', 'Others']) lists[name] = await o.listId(name);
  });
  afterAll(() => o.close());

  const idOf = async (e164: string): Promise<string> =>
    (await o.app.contacts.byAddress(o.app.platform.db, o.business, e164))?.contactId ?? '';
  const remove = async (e164: string): Promise<void> => {
    const wish = { ids: [await idOf(e164)], filter: null, seen: 1 };
    await o.app.removals.delete(o.admin, o.business, wish, `remove ${e164}`);
    await o.settle();
  };
  const whose: Record<string, readonly string[]> = {
    ada: [PEOPLE[0].e164, '+13475550120', PEOPLE[1].e164],
    brandt: [PEOPLE[2].e164],
    // Also by the figures of a number whose contact is gone.
    '212555': [PEOPLE[0].e164, PEOPLE[1].e164, '+13475550120', GONE],
    '(212) 555-0119': [GONE],
    '0119': [GONE],
    '0120': [PEOPLE[0].e164, '+13475550120'],
    nobody: [],
  };
  const dayOf = (at: number): string => DateTime.fromMillis(at, { zone: ZONE }).toISODate() ?? '';
  const maybe = <T>(of: fc.Arbitrary<T>) => fc.option(of, { nil: undefined, freq: 2 });
  const asked = fc.record({
    q: maybe(fc.constantFrom(...Object.keys(whose))),
    list: maybe(fc.constantFrom('Regulars', 'Others')),
    kind: maybe(fc.constantFrom('granted', 'granted,revoked', 'confirmed')),
    how: maybe(fc.constantFrom('keyword', 'keyword,web page')),
    purpose: maybe(fc.constantFrom(...PURPOSES)),
    words: maybe(fc.constantFrom('heron, version 1', 'At the till, version 1', 'none such')),
    source: maybe(fc.constantFrom('heron', 'At the till', 'none')),
    from: maybe(fc.constantFrom('2027-03-13', '2027-03-14')),
    to: maybe(fc.constantFrom('2027-03-13', '2027-03-14')),
    sort: maybe(fc.constantFrom('happened' as const, '-happened' as const)),
  });

  const eachWay = fc.constantFrom(
    LIMITS,
    // As where there are too many to be sorted anew, or too many sorts of events to be merged.
    { ...LIMITS, sorted: 0 },
    { ...LIMITS, merged: 1 },
  );
  it('shows exactly what was asked for, in order, page by page, counts it, and writes it into a file', async () => {
    await fc.assert(
      fc.asyncProperty(asked, eachWay, async (f, limits) => {
        const pages = new LedgerPages(o.app.platform, o.app.businesses, o.app.contacts, limits);
        const { q, list, kind, how, purpose, words, source, from, to, sort } = f;
        const inTime = from !== undefined || to !== undefined;
        const want = all
          .filter((e) => q === undefined || (whose[q] ?? []).includes(e.e164))
          .filter(
            (e) =>
              list === undefined ||
              PEOPLE.some(
                (p) => p.list === list && (p.e164 === e.e164 || (p.firstName === 'Ada' && e.e164 === '+13475550120')),
              ),
          )
          .filter((e) => kind === undefined || kind.split(',').includes(e.kind))
          .filter((e) => how === undefined || how.split(',').includes(e.how))
          .filter((e) => purpose === undefined || e.purposes.includes(purpose))
          .filter((e) => words === undefined || e.disclosureVersion === words)
          .filter((e) => source === undefined || e.disclosureVersion.startsWith(`${source}, version `))
          .filter((e) => from === undefined || dayOf(e.happenedAt) >= from)
          .filter((e) => to === undefined || dayOf(e.happenedAt) <= to)
          .sort((a, b) => (inTime ? a.happenedAt - b.happenedAt : 0) || a.seq - b.seq)
          .map((e) => e.seq);
        if (sort !== 'happened') want.reverse();
        const query = {
          ...Object.fromEntries(Object.entries(f).filter(([, v]) => v !== undefined)),
          ...(list ? { list: lists[list] ?? '' } : {}),
        };
        const seen: number[] = [];
        for (let cursor: string | undefined; ;) {
          const page = await pages.page(o.business, { ...query, ...(cursor ? { cursor } : {}), limit: 7 });
          seen.push(...page.items.map((e) => e.seq));
          if (page.next === null) break;
          cursor = page.next;
        }
        const why = JSON.stringify([f, limits]);
        expect(seen).withContext(why).toEqual(want);
        expect(await pages.count(o.business, query))
          .withContext(why)
          .toEqual({ total: want.length, more: false });
        let file = '';
        for await (const piece of pages.csv(o.business, query)) file += piece;
        const [, ...rows]: string[][] = parse(file, { bom: true });
        expect(rows.map((x) => Number(x[0])))
          .withContext(why)
          .toEqual(sort === 'happened' ? [...want].reverse() : want);
      }),
      { numRuns: 150 },
    );
  });

  it('counts at least so many where it would look at more while somebody waits, never fewer than it says', async () => {
    const limits = { ...LIMITS, looked: 20, counted: 5 };
    const pages = new LedgerPages(o.app.platform, o.app.businesses, o.app.contacts, limits);
    const [first] = PEOPLE;
    const [whole, day] = [{ e164: first.e164 }, { from: '2027-03-13', to: '2027-03-14' }];
    const all = await o.app.ledgerPages.count(o.business, whole);
    expect([all.total > 5, all.more]).toEqual([true, false]);
    expect(await pages.count(o.business, whole))
      .withContext('events of a number, which are there')
      .toEqual({ total: Math.min(20, all.total), more: all.total > 20 });
    expect(await pages.count(o.business, day)).toEqual({ total: 20, more: true });
    expect(await pages.count(o.business, { ...day, q: 'ada' })).toEqual({ total: 5, more: true });
    // Sorts of events are counted already, however many they are.
    expect(await pages.count(o.business, { kind: 'granted' })).toEqual(
      await o.app.ledgerPages.count(o.business, { kind: 'granted' }),
    );
  });

  it('writes a file that a spreadsheet reads, with whose number it is', async () => {
    const door = await o.door();
    const v = await door.visitor(o.admin.id);
    const file = await v.ask('GET', `/businesses/${o.business}/ledger.csv?kind=granted&q=brandt`);
    expect(file.type).toContain('text/csv');
    const rows = parse<Record<string, string>>(String(file.body['text']), { bom: true, columns: true });
    expect(rows.length).toBeGreaterThan(0);
    for (const x of rows) {
      expect([x['phone'], x['contact'], x['event']]).toEqual(["'+16465550112", 'Brandt', 'granted']);
      const e = all.find((y) => y.seq === Number(x['number in the chain']));
      expect([x['happened'], x['hash']]).toEqual([new Date(e?.happenedAt ?? 0).toISOString(), e?.hash]);
    }
    await door.close();
  });

  it('finds who is gone by any figures of their number, once if they come again, and whoever was erased only by all of it', async () => {
    const [left, erased] = ['+12125550171', '+12125550172'];
    const found = async (q: string): Promise<string[]> => {
      const page = await o.app.ledgerPages.page(o.business, { q, limit: 100 });
      return page.items.map((e) => e.e164);
    };
    for (const e164 of [left, erased]) await o.contact(e164, ['informational']);
    expect((await found('55017')).sort()).toEqual([left, erased]);
    await remove(left);
    await o.app.removals.erase(o.admin, o.business, await idOf(erased), 'a letter of theirs');
    expect(await found('55017')).toEqual([left]);
    expect((await o.app.ledgerPages.page(o.business, { e164: erased, limit: 10 })).items.length).toBe(1);
    spyOn(o.app.contacts, 'numbersOfWhoever').and.resolveTo(null);
    expect(await found('55017'))
      .withContext('where those who are meant are too many to be named')
      .toEqual([left]);
    (o.app.contacts.numbersOfWhoever as jasmine.Spy).and.callThrough();
    await o.app.platform.db.write((w) => o.app.contacts.ensure(w, o.admin, o.business, left));
    expect(await found('55017')).toEqual([left]);
    // Once a contact again, it is one on a list as well as any.
    const rows = await o.app.platform.db.all('SELECT e164 FROM consent_state WHERE of_nobody ORDER BY 1');
    expect(rows).toEqual([{ e164: GONE }]);
  });

  it('finds who never was a contact by any figures of their number too', async () => {
    // As a no that was brought in with a list, of a row that was not wanted.
    const stranger = '+12125550181';
    const say = (kind: 'revoked' | 'disputed') =>
      o.app.platform.db.write((w) =>
        o.app.ledger.append(w, o.business, [
          { e164: stranger, purposes: [...PURPOSES], kind, how: 'imported record' },
          { e164: PEOPLE[0].e164, purposes: [...PURPOSES], kind, how: 'imported record' },
        ]),
      );
    const found = async (): Promise<string[]> =>
      (await o.app.ledgerPages.page(o.business, { q: '55018', limit: 10 })).items.map((e) => e.e164);
    await say('revoked');
    expect(await found()).toEqual([stranger]);
    await say('disputed');
    expect(await found()).toEqual([stranger, stranger]);
    await o.contact(stranger, []);
    expect(await found())
      .withContext('each once, and as the contact they are now')
      .toEqual([stranger, stranger]);
    await say('disputed');
    expect(await o.app.platform.db.all('SELECT e164 FROM consent_state WHERE of_nobody ORDER BY 1')).toEqual([
      { e164: GONE },
    ]);
  });

  it('finds the same where those who are meant are too many to be named', async () => {
    const found = async (many: boolean): Promise<number[]> => {
      const spy = many ? spyOn(o.app.contacts, 'numbersOfWhoever').and.resolveTo(null) : null;
      const page = await o.app.ledgerPages.page(o.business, { q: 'ada', kind: 'granted', limit: 100 });
      spy?.and.callThrough();
      return page.items.map((e) => e.seq);
    };
    const named = await found(false);
    expect(named.length).toBeGreaterThan(3);
    expect(await found(true)).toEqual(named);
  });

  it('names the words that were shown, each once, and whose they are', async () => {
    expect(await o.app.ledgerPages.words(o.business)).toEqual({
      items: ['At the till, version 1', 'heron, version 1', 'heron, version 2'],
      sources: [
        { source: 'At the till', name: 'At the till' },
        { source: 'heron', name: 'heron' },
      ],
    });
  });

  it('says of two letters that they are too few, and of a cursor of another list that it is none', async () => {
    const door = await o.door();
    const v = await door.visitor(o.admin.id);
    const short = await v.ask('GET', `/businesses/${o.business}/ledger?q=ad`);
    expect([short.status, JSON.stringify(short.body)]).toEqual([422, jasmine.stringContaining('Three letters')]);
    expect((await v.ask('GET', `/businesses/${o.business}/ledger?cursor=12`)).status).toBe(422);
    await door.close();
  });
});
