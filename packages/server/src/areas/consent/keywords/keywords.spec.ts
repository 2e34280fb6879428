import type { EventBasis } from '@long-gate/contracts';
import { answersFor } from '@long-gate/core';
import type { Door, Visitor } from '../../../testing/door.js';
import { OFFERS, TOLD, wordAtTheTill } from '../../../testing/keyword.js';
import { Office } from '../../../testing/office.js';
import { heronPage } from '../../../testing/opt-in-page.js';

const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3]).toString('base64');
const ADA = '+12125550110';
const BRANDT = '+12125550111';

describe('a keyword', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    v = await door.visitor(o.admin.id);
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  it('are on signs still where their number is gone: Today says so, and they can be paused', async () => {
    const { id, version } = await o.app.keywords.add(o.admin, o.business, wordAtTheTill(o.number));
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    const told = async (): Promise<unknown[]> =>
      (await o.app.today.get(o.business)).matters
        .filter((m) => m.title.startsWith('Nobody can text'))
        .map((m) => [m.title, m.link]);
    expect(await told()).toEqual([
      [`Nobody can text “${wordAtTheTill(o.number).title}”`, `consent/keywords?open=${id}`],
    ]);
    await o.app.keywords.edit(o.admin, o.business, id, version, { ...wordAtTheTill(o.number), active: false });
    expect(await told()).toEqual([]);
  });

  const answers = answersFor('Heron Lane', OFFERS);
  const body = (over: object = {}) => ({
    ...wordAtTheTill(o.number, {
      words: ['RYE', 'bread'],
      answers: {
        ...answers,
        new: `${answers.new} Code: [code|at the till]`,
        already: 'Heron Lane: you are in, your code is [code|at the till].',
      },
    }),
    ...over,
  });
  const begin = async (over: object = {}): Promise<string> => {
    const made = await v.ask('POST', `/businesses/${o.business}/keywords`, body(over));
    expect([200, made.body.detail]).toEqual([made.status, undefined]);
    return String(made.body['id']);
  };
  const codes = (id: string, all: string[]) =>
    v.ask('POST', `/businesses/${o.business}/keywords/${id}/codes`, { codes: all });
  const one = async (id: string) => {
    const all = (await v.ask('GET', `/businesses/${o.business}/keywords`)).body['items'] as Record<string, unknown>[];
    return all.find((k) => k['id'] === id) ?? {};
  };
  const lastTo = (e164: string): string => o.outside.sent.filter((t) => t.to === e164).at(-1)?.text ?? '';
  const promotional = async (e164: string) => (await o.state(e164)).promotional;

  it('brings in nobody before their own YES, and gives the code with it', async () => {
    const id = await begin();
    await codes(id, ['A1', 'A2']);
    await o.text(ADA, ' rye! ');
    expect(await promotional(ADA)).toBe('awaiting');
    expect(lastTo(ADA)).toContain('reply YES to get offers (about four a month)');
    await o.text(ADA, 'Bread');
    expect(o.outside.sent.filter((t) => t.to === ADA).length)
      .withContext('no reminder')
      .toBe(1);
    await o.text(ADA, 'YES');
    expect(await promotional(ADA)).toBe('granted');
    expect(lastTo(ADA)).toMatch(/^Heron Lane: you are in for offers .* Code: A1$/);
    const [event] = (await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA)).filter(
      (e) => e.kind === 'granted',
    );
    expect([event?.how, event?.disclosure, event?.disclosureVersion]).toEqual([
      'keyword',
      TOLD,
      'At the till, version 1',
    ]);
    expect(event?.evidence).toEqual(
      jasmine.objectContaining({ keyword: 'RYE', place: 'a sign beside the till', words: ' rye! ' }),
    );
    expect((await o.app.ledger.verify(o.business)).ok).toBeTrue();
  });

  it('tells who is in already so, with the code that is theirs, and who comes back by their own YES', async () => {
    const id = await begin();
    await codes(id, ['A1', 'A2']);
    for (const words of ['RYE', 'YES', 'RYE']) await o.text(ADA, words);
    expect(lastTo(ADA)).toBe('Heron Lane: you are in, your code is A1.');
    await o.text(ADA, 'STOP');
    await o.text(ADA, 'RYE');
    expect(await promotional(ADA))
      .withContext('a word asks; it does not open')
      .not.toBe('granted');
    await o.app.platform.clock.moveTo(o.now + 25 * 3_600_000);
    await o.settle();
    await o.text(ADA, 'RYE');
    await o.text(ADA, 'YES');
    expect(await promotional(ADA)).toBe('granted');
    expect(lastTo(ADA)).toContain('welcome back, traveller');
    await o.text(BRANDT, 'RYE');
    await o.text(BRANDT, 'YES');
    expect(lastTo(BRANDT)).toContain('Code: A2');
    expect(await one(id)).toEqual(
      jasmine.objectContaining({ confirmed: 3, codes: { given: 2, left: 0 }, came: { new: 2, already: 1, back: 2 } }),
    );
    await o.text('+12125550112', 'RYE');
    await o.text('+12125550112', 'YES');
    expect(lastTo('+12125550112')).withContext('none is left').toContain('Code: at the till');
    const matters = await o.app.platform.matters.all(o.business);
    expect(matters.some((m) => m.title === 'No code is left of “At the till”')).toBeTrue();
  });

  it('is asked about beside what a page asked first: one YES is for both, and each counts where it was agreed to', async () => {
    const id = await begin();
    await codes(id, ['A1']);
    await o.app.pages.add(o.admin, o.business, heronPage(o.number));
    const { words } = await o.app.publicPages.publicPage('heron');
    const form = { phone: ADA, firstName: 'Ada', purposes: ['informational' as const], words };
    await o.app.publicPages.optIn('heron', form, { ip: '192.0.2.9', agent: 'somebody' });
    await o.settle();
    await o.text(ADA, 'rye');
    expect(lastTo(ADA)).toContain('reply YES to get notices (up to four a week) and offers (about four a month)');
    await o.text(ADA, 'bread');
    expect(o.sentTo(ADA).length).withContext('no reminder').toBe(2);
    await o.text(ADA, 'YES');
    expect(await o.state(ADA)).toEqual(jasmine.objectContaining({ informational: 'granted', promotional: 'granted' }));
    const [byWord, byPage] = o.sentTo(ADA).slice(2);
    expect(byWord).toMatch(/in for offers .* Code: A1$/);
    expect(byPage).toContain('you are in for notices (up to four a week)');
    expect(await one(id)).toEqual(jasmine.objectContaining({ confirmed: 1 }));
    expect((await o.app.pages.list(o.business))[0]?.weeks.at(-1)).toEqual(
      jasmine.objectContaining({ agreed: 1, confirmed: 1 }),
    );
    expect(await o.miscounted()).toEqual({});
  });

  it('is in at once where no YES is asked for, and a repeated event says nothing twice', async () => {
    await begin({ doubleOptIn: false });
    await o.text(ADA, 'RYE');
    expect(await promotional(ADA)).toBe('granted');
    expect(lastTo(ADA)).toContain('you are in for offers');
    const said = o.outside.sent.length;
    o.outside.told.push({
      ...(o.outside.told.at(-1) as (typeof o.outside.told)[number]),
      seq: o.outside.told.length + 1,
    });
    await o.settle();
    expect(o.outside.sent.length).toBe(said);
  });

  it('is a word of one programme on a number, and none that is reserved', async () => {
    const id = await begin();
    const post = (over: object) => v.ask('POST', `/businesses/${o.business}/keywords`, body(over));
    const taken = await post({ title: 'Another', words: ['Bread'] });
    expect([taken.status, taken.body.detail]).toEqual([409, '“BREAD” is a word of “At the till” on this number.']);
    expect((await post({ title: 'Another', words: ['stop'] })).body.detail).toContain('reserved');
    expect((await post({ title: 'Another', words: ['two words'] })).body.detail).toContain('letters A to Z');
    expect((await post({ title: 'Another', words: ['LOAF'], told: 'Text LOAF' })).status).toBe(422);
    expect((await post({ title: 'Later', words: ['LOAF'], told: 'Text LOAF', active: false })).status)
      .withContext('paused it can wait for its words')
      .toBe(200);
    const k = await one(id);
    const put = (over: object, version: unknown) =>
      v.ask('PUT', `/businesses/${o.business}/keywords/${id}`, body(over), { 'if-match': `"${String(version)}"` });
    expect((await put({ words: ['RYE'], told: `${TOLD} Ask us.` }, k['version'])).body).toEqual(
      jasmine.objectContaining({ toldVersion: 2, words: ['RYE'] }),
    );
    expect((await put({}, k['version'])).status).toBe(412);
    expect((await post({ title: 'Free again', words: ['BREAD'], told: TOLD.replace('RYE', 'BREAD') })).status).toBe(
      200,
    );
  });

  it('leaves a word of a paused programme to the staff, and a stop is a stop', async () => {
    const id = await begin({ active: false });
    await o.text(ADA, 'RYE');
    expect([await promotional(ADA), lastTo(ADA)]).toEqual(['none', '']);
    const k = await one(id);
    await v.ask('PUT', `/businesses/${o.business}/keywords/${id}`, body(), { 'if-match': `"${String(k['version'])}"` });
    await o.text(ADA, 'RYE');
    await o.text(ADA, 'STOP RYE');
    expect(await promotional(ADA)).toBe('revoked');
  });

  it('keeps the picture of the sign by its digest, which the event names', async () => {
    const id = await begin();
    expect((await v.ask('GET', `/businesses/${o.business}/keywords/${id}/picture`)).status).toBe(404);
    const kept = await v.ask('POST', `/businesses/${o.business}/keywords/${id}/picture`, {
      name: 'sign.png',
      base64: PNG,
    });
    const picture = kept.body['picture'] as { name: string; sha256: string };
    expect([picture.name, kept.body['toldVersion']]).toEqual(['sign.png', 2]);
    await o.text(ADA, 'RYE');
    const [event] = await o.app.ledger.eventsOf(o.app.platform.db, o.business, ADA);
    expect(event?.evidence['sha256']).toBe(picture.sha256);
    const at = `/businesses/${o.business}/ledger/${event?.id ?? ''}`;
    const basis = (await v.ask('GET', `${at}/basis`)).body as unknown as EventBasis;
    expect(basis.texts.map((x) => [x.direction, x.text])).toEqual([['in', 'RYE']]);
    expect([basis.programme, basis.document?.name, basis.recordedBy]).toEqual([
      { id, title: kept.body['title'] as string },
      'sign.png',
      'contact',
    ]);
    expect((await v.ask('GET', `${at}/document`)).headers.get('content-type')).toBe('image/png');
    await o.text(ADA, 'YES');
    const [yes] = (await o.app.ledgerPages.page(o.business, { e164: ADA, limit: 1 })).items;
    const of = `/businesses/${o.business}/ledger/${yes?.id ?? ''}`;
    const answered = (await v.ask('GET', `${of}/basis`)).body as unknown as EventBasis;
    expect(answered.texts.map((x) => x.direction))
      .withContext('what asked, and what answered it')
      .toEqual(['out', 'in']);
    expect(answered.texts[0]?.text).toContain('YES');
    expect((await v.ask('GET', `${of}/document`)).status).toBe(404);
    const bad = await v.ask('POST', `/businesses/${o.business}/keywords/${id}/picture`, {
      name: 'a.txt',
      base64: 'aGk=',
    });
    expect([bad.status, bad.body.detail]).toEqual([422, jasmine.stringContaining('no PDF, PNG or JPEG')]);
  });

  it('forgets who was given a code when that person is erased, and gives it to nobody else', async () => {
    const id = await begin({ doubleOptIn: false });
    await codes(id, ['A1', 'A2', 'A2']);
    await o.text(ADA, 'RYE');
    const c = await o.app.contacts.byAddress(o.app.platform.db, o.business, ADA);
    const erased = await v.ask('POST', `/businesses/${o.business}/contacts/${c?.contactId ?? ''}/erase`, {
      request: 'She wrote to us and asked for it.',
    });
    expect(erased.status).toBe(200);
    await o.settle();
    const held = await o.app.platform.db.all<{ code: string; given_to: string }>(
      'SELECT code, given_to FROM keyword_code WHERE given_to IS NOT NULL',
    );
    expect(held).toEqual([{ code: 'A1', given_to: jasmine.stringMatching(/^erased:/) as unknown as string }]);
    await o.text(BRANDT, 'RYE');
    expect(lastTo(BRANDT)).toContain('Code: A2');
    expect((await v.ask('DELETE', `/businesses/${o.business}/keywords/${id}/codes`)).body['dropped']).toBe(0);
  });
});
