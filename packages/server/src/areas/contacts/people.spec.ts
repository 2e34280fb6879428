import type { ContactDetail } from '@long-gate/contracts';
import { parse } from 'csv-parse/sync';
import type { Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

const ADA = '+12125550101';
const WORK = '+12125550102';
const BRANDT = '+12125550103';

describe('a contact with several numbers', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  let ada: string;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    v = await door.visitor(o.admin.id);
    ada = await o.contact(ADA, ['informational', 'promotional'], { firstName: 'Ada' });
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const at = (path: string): string => `/businesses/${o.business}/contacts/${ada}${path}`;
  const detail = async (): Promise<ContactDetail> => (await v.ask('GET', at(''))).body as unknown as ContactDetail;
  const add = (number: string, label = 'work') => v.ask('POST', at('/numbers'), { number, label });
  const list = async (query: string): Promise<string[]> =>
    ((await v.ask('GET', `/businesses/${o.business}/contacts?${query}`)).body['items'] as { id: string }[]).map(
      (c) => c.id,
    );
  const passes = async (): Promise<number> =>
    (await o.app.preview.preview(o.business, await o.draft({ text: 'The rye loaf is back.' }))).counts.pass;

  it('is one line of the list, by the preferred one, and is found by any of them', async () => {
    expect((await add('(212) 555-0102')).status).toBe(200);
    expect(await list('')).toEqual([ada]);
    expect(await list('q=5550102')).toEqual([ada]);
    expect(await list('q=5550101')).toEqual([ada]);
    const d = await detail();
    expect(d.numbers.map((n) => [n.e164, n.label, n.preferred, n.lineType])).toEqual([
      [ADA, '', true, 'mobile'],
      [WORK, 'work', false, 'unknown'],
    ]);
    expect(d.further).toBe(1);
    await v.ask('POST', at('/numbers/prefer'), { e164: WORK });
    expect((await detail()).number.e164).toBe(WORK);
    expect(await list('q=5550101'))
      .withContext('also by the one that is not preferred any more')
      .toEqual([ada]);
    expect(await list('textable=unknown'))
      .withContext('stands as the preferred number does')
      .toEqual([ada]);
  });

  it('gets one text, to the preferred number, judged by itself', async () => {
    await add(WORK);
    expect(await passes()).toBe(1);
    await v.ask('POST', at('/numbers/prefer'), { e164: WORK });
    expect(await passes())
      .withContext('nobody agreed by that number, and it was never looked up')
      .toBe(0);
  });

  it('refuses what is no number, and one that is somebody’s', async () => {
    const brandt = await o.contact(BRANDT, [], { firstName: 'Brandt' });
    expect(brandt).not.toBe(ada);
    expect((await add('555')).body.detail).toContain('“555”');
    const taken = await add(BRANDT);
    expect([taken.status, taken.body.detail]).toEqual([
      409,
      '+1 212-555-0103 belongs to Brandt. Merge the two if they are one person.',
    ]);
    expect((await add(ADA)).body.detail).toContain('of this contact already');
  });

  it('loses a number, but never the last or the preferred one', async () => {
    await add(WORK);
    expect((await v.ask('POST', at('/numbers/drop'), { e164: ADA })).status).toBe(409);
    expect((await v.ask('POST', at('/numbers/drop'), { e164: WORK })).status).toBe(200);
    expect((await detail()).numbers.map((n) => n.e164)).toEqual([ADA]);
    expect(await list('q=5550102')).toEqual([]);
  });

  it('who leaves by one number has left by all, until they agree from the other itself', async () => {
    await add(WORK);
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(w, o.business, [
        {
          e164: WORK,
          purposes: ['informational'],
          kind: 'granted',
          how: 'web page',
          disclosure: 'x',
          happenedAt: o.now - 500,
        },
      ]),
    );
    await o.app.lookups.one(o.business, WORK, 'work');
    const before = (await detail()).numbers.find((n) => n.e164 === WORK);
    expect(before?.verdicts.informational.result).withContext('nothing else bars it').toBe('pass');
    await o.text(ADA, 'STOP');
    let work = (await detail()).numbers.find((n) => n.e164 === WORK);
    expect(work?.consent.informational).withContext('what was said by it stays as it was said').toBe('granted');
    expect(work?.refusedElsewhere).toEqual(['informational', 'promotional']);
    expect(work?.verdicts.informational.result).toBe('stop');
    await v.ask('POST', at('/numbers/prefer'), { e164: WORK });
    expect(await passes()).toBe(0);
    await o.text(WORK, 'START');
    work = (await detail()).numbers.find((n) => n.e164 === WORK);
    expect(work?.refusedElsewhere).not.toContain('informational');
    expect(work?.verdicts.informational.result).toBe('pass');
  });

  it('a number that is added later is barred by what was refused before', async () => {
    await o.text(ADA, 'STOP');
    await add(WORK);
    expect((await detail()).numbers.find((n) => n.e164 === WORK)?.refusedElsewhere).toEqual([
      'informational',
      'promotional',
    ]);
  });

  it('keeps address, language and own fields, each as its kind', async () => {
    const made = async (body: object) => (await v.ask('POST', `/businesses/${o.business}/contact-fields`, body)).body;
    const berth = await made({ name: 'Berth', kind: 'number' });
    const pass = await made({ name: 'Season pass', kind: 'choice', choices: ['walk-on', 'car'] });
    expect((await made({ name: 'berth', kind: 'text' })).detail).toContain('already a field');
    expect((await made({ name: 'Way', kind: 'choice', choices: ['a'] })).detail).toContain('two different choices');
    const edit = (own: Record<string, string>, version: number) =>
      v.ask(
        'PUT',
        at(''),
        {
          firstName: 'Ada',
          lastName: 'Fenwick',
          email: '',
          stateCode: 'NJ',
          language: 'es',
          street: '1 Quay',
          city: 'Quill',
          postalCode: '07001',
          own,
        },
        { 'if-match': `"${version}"` },
      );
    const { version } = await detail();
    expect((await edit({ [String(berth['id'])]: 'twelve' }, version)).body.detail).toBe('Berth: no number');
    const done = await edit({ [String(berth['id'])]: '1,200', [String(pass['id'])]: 'CAR' }, version);
    expect(done.body['own']).toEqual({ [String(berth['id'])]: '1200', [String(pass['id'])]: 'car' });
    expect(await list('q=1200'))
      .withContext('found by what stands in an own field')
      .toEqual([ada]);
    expect(await list('q=car')).toEqual([ada]);
    expect((await detail()).city).toBe('Quill');
    // The field goes, and what stood in it.
    await v.ask('DELETE', `/businesses/${o.business}/contact-fields/${String(pass['id'])}`);
    await o.settle();
    expect((await detail()).own).toEqual({ [String(berth['id'])]: '1200' });
    expect(await list('q=car')).toEqual([]);
  });

  it('goes out as CSV with all of it, and what goes out comes in again', async () => {
    const berth = (await v.ask('POST', `/businesses/${o.business}/contact-fields`, { name: 'Berth', kind: 'number' }))
      .body;
    await add(WORK);
    const { version } = await detail();
    const edit = {
      firstName: 'Ada',
      lastName: 'Fenwick',
      email: 'ada@mail.example',
      stateCode: 'NJ',
      language: 'es',
      street: '1 Quay',
      city: 'Quill',
      postalCode: '07001',
      own: { [String(berth['id'])]: '12' },
    };
    await v.ask('PUT', at(''), edit, { 'if-match': `"${version}"` });
    const { body } = await v.ask('GET', `/businesses/${o.business}/contacts.csv`);
    const [row] = parse<Record<string, string>>(String(body['text']), { columns: true, bom: true });
    expect(row).toEqual(
      jasmine.objectContaining({
        phone: `'${ADA}`,
        'other numbers': `'${WORK}`,
        street: '1 Quay',
        city: 'Quill',
        'zip code': '07001',
        language: 'es',
        lists: 'Regulars',
        Berth: '12',
      }),
    );
  });

  it('who writes from an unknown number is a contact to be named later', async () => {
    await o.text(BRANDT, 'When does the stall open?');
    const nameless = await list('named=no');
    expect(nameless.length).toBe(1);
    expect(await list('replied=week')).toEqual(nameless);
    expect(await list('replied=never')).toEqual([ada]);
    expect(await list('replied=never,week')).toEqual([ada, ...nameless]);
    const facets = (await v.ask('GET', `/businesses/${o.business}/contact-facets`)).body;
    expect(facets['replied']).toEqual({ never: 1, week: 1 });
    expect(facets['line']).toEqual({ mobile: 2 });
    expect(facets['country']).toEqual({ US: 2 });
    await o.later(10 * 86_400_000);
    expect(await list('replied=month')).toEqual(nameless);
    expect(await list('replied=week')).toEqual([]);
  });
});
