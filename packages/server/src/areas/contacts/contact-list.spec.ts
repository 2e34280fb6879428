import { parse } from 'csv-parse/sync';
import type { Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

const NAMES = ['Ada', 'Brandt', 'Cora', 'Dunmore', 'Eide', 'Farrow', 'Grimsby'];
const phone = (i: number): string => `+1212555${String(110 + i).padStart(4, '0')}`;

describe('the list of contacts', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    v = await door.visitor(o.admin.id);
    for (const [i, firstName] of NAMES.entries())
      await o.contact(phone(i), i % 2 === 0 ? ['informational'] : ['informational', 'promotional'], {
        firstName,
        list: i < 3 ? 'Regulars' : 'Others',
      });
    await o.text(phone(1), 'STOP');
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const ask = async (query: string) =>
    (await v.ask('GET', `/businesses/${o.business}/contacts?${query}`)).body as unknown as {
      items: { id: string; firstName: string }[];
      next: string | null;
      total: number;
    };
  const names = async (query: string) => (await ask(query)).items.map((c) => c.firstName);

  it('comes in order, page by page, each contact once', async () => {
    const seen: string[] = [];
    let next: string | null = '';
    let pages = 0;
    while (next !== null) {
      const page: Awaited<ReturnType<typeof ask>> = await ask(`limit=3${next ? `&cursor=${next}` : ''}`);
      expect(page.total).toBe(7);
      seen.push(...page.items.map((c) => c.firstName));
      next = page.next;
      pages++;
    }
    expect([pages, seen]).toEqual([3, [...NAMES].sort()]);
  });

  it('is narrowed by list, consent, textability and words, and says how many there are', async () => {
    expect(await names(`list=${await o.listId('Regulars')}`)).toEqual(['Ada', 'Brandt', 'Cora']);
    expect(await names('promotional=granted')).toEqual(['Dunmore', 'Farrow']);
    expect(await names('promotional=revoked')).toEqual(['Brandt']);
    expect(await names('promotional=granted,revoked')).toEqual(['Brandt', 'Dunmore', 'Farrow']);
    expect(await names('textable=no')).toEqual([]);
    expect(await names('q=DUN')).toEqual(['Dunmore']);
    expect(await names(`q=${encodeURIComponent('(212) 555-0113')}`)).toEqual(['Dunmore']);
    expect(await names('q=%25'))
      .withContext('no pattern of a database')
      .toEqual([]);
    expect((await ask('promotional=granted&limit=1')).total).toBe(2);
  });

  it('names the numbers of those who are meant by words, each once, unless they are too many', async () => {
    const list = await o.listId('Regulars');
    const of = async (f: { q?: string; list?: string }, most: number) =>
      (await o.app.contacts.numbersOfWhoever(o.app.platform.db, o.business, f, most))?.sort();
    const all = NAMES.map((_, i) => phone(i));
    expect(await of({ q: '212' }, 7)).toEqual(all);
    expect(await of({ q: '212' }, 6))
      .withContext('seven are more than six')
      .toBeUndefined();
    expect(await of({ q: '2125550' }, 6)).toBeUndefined();
    expect((await of({ q: '212', list }, 3))?.length)
      .withContext('those on the list alone')
      .toBe(3);
    expect(await of({ q: 'dunmo' }, 1)).toEqual([phone(3)]);
    expect(await of({ q: 'nobody' }, 1)).toEqual([]);
  });

  it('is empty where a filter leaves nobody, whatever list it is asked of and in whatever order', async () => {
    const list = await o.listId('Regulars');
    for (const sort of ['', '&sort=number', '&sort=-contact', '&sort=line'])
      for (const none of ['textable=no', 'country=NO', 'line=9007199254740993', 'trouble=out-of-service'])
        expect(await names(`list=${list}&${none}${sort}`))
          .withContext(none + sort)
          .toEqual([]);
  });

  it('counts its facets over what is narrowed', async () => {
    const facets = (await v.ask('GET', `/businesses/${o.business}/contact-facets`)).body as unknown as Record<
      string,
      Record<string, number>
    >;
    expect(facets['textable']).toEqual({ yes: 7 });
    expect(facets['promotional']).toEqual(jasmine.objectContaining({ granted: 2, revoked: 1 }));
  });

  it('counts who is on each list and has each tag of those that are left, its own filter aside', async () => {
    const [regulars, others] = [await o.listId('Regulars'), await o.listId('Others')];
    const early = (
      await v.ask('POST', `/businesses/${o.business}/lists`, { name: 'early', kind: 'tag' }, { 'idempotency-key': 'e' })
    ).body['id'] as string;
    const ids = (await ask('')).items.slice(0, 4).map((c) => c.id);
    await v.ask('POST', `/businesses/${o.business}/lists/${early}/members`, { add: ids });
    const counted = async (query: string) => {
      const { list, tag } = (await v.ask('GET', `/businesses/${o.business}/contact-facets?${query}`))
        .body as unknown as Record<'list' | 'tag', Record<string, number>>;
      return [list[regulars] ?? 0, list[others] ?? 0, tag[early] ?? 0];
    };
    expect(await counted('')).toEqual([3, 4, 4]);
    expect(await counted('promotional=granted,revoked')).toEqual([1, 2, 2]);
    expect(await counted('q=dun')).toEqual([0, 1, 1]);
    expect(await counted(`list=${regulars}`))
      .withContext('what else there is of lists; the tags of those on it')
      .toEqual([3, 4, 3]);
    expect(await counted(`list=${others}&tag=${early}`)).toEqual([3, 1, 1]);
    expect(await counted('replied=week')).toEqual([1, 0, 1]);
  });

  it('belongs to its business alone', async () => {
    const other = await o.app.platform.db.write((w) =>
      o.app.businesses.add(w, o.admin, { legalName: 'Alder Quay Club', nameLine: 'Alder Quay', form: 'non-profit' }),
    );
    await o.app.platform.db.write((w) => o.member(w, o.admin.id, 'administrator', other));
    const theirs = await v.ask('GET', `/businesses/${other}/contacts`);
    expect(theirs.body['total']).toBe(0);
    const [mine] = (await ask('limit=1')).items;
    expect((await v.ask('GET', `/businesses/${other}/contacts/${mine?.id ?? ''}`)).status).toBe(404);
    // The same number may be a contact of both, each with its own consent.
    await o.app.platform.db.write((w) => o.app.contacts.ensure(w, o.admin, other, phone(0), { firstName: 'Ada' }));
    expect((await o.app.ledger.statesOf(o.app.platform.db, other, phone(0))).informational.state).toBe('none');
  });

  it('is exported whole, as it is narrowed, and holds no formula', async () => {
    await o.contact('+12125550150', ['informational'], { firstName: '=HYPERLINK("x")', list: 'Others' });
    const answer = await v.ask('GET', `/businesses/${o.business}/contacts.csv?list=${await o.listId('Others')}`);
    expect(answer.type).toContain('text/csv');
    const rows = parse<Record<string, string>>(String(answer.body['text']), { columns: true, bom: true });
    expect(rows.length).toBe(5);
    expect(rows.find((r) => r['phone'] === `'+12125550150`)?.['first name']).toBe(`'=HYPERLINK("x")`);
    expect(rows.find((r) => r['first name'] === 'Dunmore')?.['promotional']).toBe('granted');
  });

  it('keeps an edit from overwriting another, and puts both in the trail', async () => {
    const [first] = (await ask('q=ada')).items;
    const one = await v.ask('GET', `/businesses/${o.business}/contacts/${first?.id ?? ''}`);
    const version = String(one.body['version']);
    const body = { firstName: 'Ada', lastName: 'Quill', email: 'ada@heron.example', stateCode: 'NJ' };
    const edit = (lastName: string) =>
      v.ask(
        'PUT',
        `/businesses/${o.business}/contacts/${first?.id ?? ''}`,
        { ...body, lastName },
        { 'if-match': `"${version}"` },
      );
    expect([(await edit('Quill')).status, (await edit('Other')).status]).toEqual([200, 412]);
    expect((await names('q=quill')).length).toBe(1);
  });
});
