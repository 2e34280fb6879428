import type { ContactDetail, MergePreview } from '@long-gate/contracts';
import type { Answer, Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

const ADA = '+12125550101';
const ADAH = '+12125550102';

describe('merging contacts that are one person', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  let ada: string;
  let adah: string;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    v = await door.visitor(o.admin.id);
    ada = await o.contact(ADA, ['informational', 'promotional'], { firstName: 'Ada' });
    adah = await o.contact(ADAH, ['informational'], { firstName: 'Adah', list: 'Stall' });
    for (const [id, firstName, email] of [
      [ada, 'Ada', 'ada@mail.example'],
      [adah, 'Adah', 'ADA@mail.example'],
    ])
      await edit(id ?? '', { firstName: firstName ?? '', email: email ?? '' });
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const base = (): string => `/businesses/${o.business}`;
  const detail = async (id: string): Promise<ContactDetail> =>
    (await v.ask('GET', `${base()}/contacts/${id}`)).body as unknown as ContactDetail;
  async function edit(id: string, over: object): Promise<void> {
    const { version } = await detail(id);
    const body = { firstName: '', lastName: '', email: '', stateCode: '', ...over };
    const done = await v.ask('PUT', `${base()}/contacts/${id}`, body, { 'if-match': `"${version}"` });
    expect(done.status).toBe(200);
  }
  const preview = async (): Promise<MergePreview> =>
    (await v.ask('GET', `${base()}/contacts/${ada}/merge?with=${adah}`)).body as unknown as MergePreview;
  const merge = async (): Promise<Answer> => {
    const p = await preview();
    return v.ask('POST', `${base()}/contacts/${ada}/merge`, {
      with: adah,
      keptVersion: p.keptVersion,
      goneVersion: p.goneVersion,
    });
  };
  const undo = async (): Promise<Answer> => {
    const { merged } = await detail(ada);
    return v.ask('POST', `${base()}/contact-merges/${merged?.id ?? ''}/undo`);
  };
  const whole = async (): Promise<unknown> => {
    const { db } = o.app.platform;
    return {
      contacts: await db.all(
        'SELECT id, first_name, last_name, email, state_code, own, sort_name FROM contact ORDER BY id',
      ),
      numbers: await db.all(
        'SELECT contact_id, e164, preferred, sort_name, refused_elsewhere, consent_promotional FROM contact_number ORDER BY e164',
      ),
      lists: await db.all('SELECT list_id, contact_id FROM list_member ORDER BY 1, 2'),
      counts: await db.all('SELECT preferred, promotional, n FROM contact_count WHERE n > 0 ORDER BY 1, 2, 3'),
    };
  };

  it('are found by their e-mail, whatever its case', async () => {
    const found = (await v.ask('GET', `${base()}/contact-duplicates`)).body['items'] as {
      email: string;
      contacts: { name: string }[];
    }[];
    expect(found.map((d) => [d.email, d.contacts.map((c) => c.name)])).toEqual([['ada@mail.example', ['Ada', 'Adah']]]);
    expect((await detail(ada)).alike.map((a) => a.name)).toEqual(['Adah']);
  });

  it('shows beforehand what becomes of them, and does that', async () => {
    const p = await preview();
    expect(p.facts.find((f) => f.what === 'First name')).toEqual({
      what: 'First name',
      kept: 'Ada',
      gone: 'Adah',
      then: 'Ada',
    });
    expect(p.lists).toEqual(['Regulars', 'Stall']);
    expect(p.numbers.map((n) => [n.e164, n.preferred])).toEqual([
      [ADA, true],
      [ADAH, false],
    ]);
    expect((await merge()).status).toBe(200);
    const d = await detail(ada);
    expect([d.numbers.map((n) => n.e164), d.lists]).toEqual([
      [ADA, ADAH],
      ['Regulars', 'Stall'],
    ]);
    expect((await v.ask('GET', `${base()}/contacts/${adah}`)).status).toBe(404);
    expect((await v.ask('GET', `${base()}/contact-duplicates`)).body['items']).toEqual([]);
  });

  it('is refused where one was changed since the preview', async () => {
    const p = await preview();
    await edit(adah, { firstName: 'Adahlia', email: 'ada@mail.example' });
    const late = await v.ask('POST', `${base()}/contacts/${ada}/merge`, {
      with: adah,
      keptVersion: p.keptVersion,
      goneVersion: p.goneVersion,
    });
    expect([late.status, late.body.detail]).toEqual([
      409,
      'One of them was changed meanwhile. Look at the preview again.',
    ]);
  });

  it('is taken back to exactly what was', async () => {
    const before = await whole();
    await merge();
    expect(await whole()).not.toEqual(before);
    expect((await undo()).status).toBe(200);
    expect(await whole()).toEqual(before);
    expect((await undo()).status)
      .withContext('not twice')
      .toBe(404);
  });

  it('lets the stricter consent win, and says so beforehand', async () => {
    await o.text(ADAH, 'STOP');
    expect((await preview()).bars[0]).toContain('No informational texts to +1 212-555-0101 any more');
    await merge();
    const d = await detail(ada);
    expect(d.number.consent.promotional).toBe('granted');
    expect(d.verdicts.promotional.result).toBe('stop');
    // They are two again: what the other refused bars this one no more.
    await undo();
    expect((await detail(ada)).verdicts.informational.result).toBe('pass');
    expect((await detail(adah)).verdicts.informational.result).toBe('stop');
  });

  it('keeps what was refused after it with the one who refused', async () => {
    const third = '+12125550104';
    await v.ask('POST', `${base()}/contacts/${ada}/numbers`, { number: third, label: '' });
    await merge();
    await o.text(ADA, 'STOP');
    const barred = async (id: string): Promise<Record<string, string[]>> =>
      Object.fromEntries((await detail(id)).numbers.map((n) => [n.e164, n.refusedElsewhere]));
    expect((await barred(ada))[ADAH]).toEqual(['informational', 'promotional']);
    await undo();
    expect(await barred(ada)).toEqual({ [ADA]: [], [third]: ['informational', 'promotional'] });
    expect(await barred(adah)).toEqual({ [ADAH]: [] });
  });

  it('is not taken back where a number of the other was taken off since', async () => {
    await merge();
    await v.ask('POST', `${base()}/contacts/${ada}/numbers/drop`, { e164: ADAH });
    const late = await undo();
    expect([late.status, late.body.detail]).toEqual([
      409,
      'A number of the merged contact was taken off it since: put it back first.',
    ]);
  });
});
