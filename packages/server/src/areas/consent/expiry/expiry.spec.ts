import type { Expiring, ExpiryPolicyView, ExpiryPreview, ExpiryRead } from '@long-gate/contracts';
import { contactTable } from '../../contacts/model.js';
import { messageTable } from '../../dispatch/model.js';
import type { Door, Visitor } from '../../../testing/door.js';
import { Office } from '../../../testing/office.js';
import { BOTH_KINDS, heronPage } from '../../../testing/opt-in-page.js';

const ADA = '+12125550101';
const BEN = '+12125550102';
const DAY = 86_400_000;
type Kind = 'informational' | 'promotional';

describe('consent that nobody stands by', () => {
  let o: Office;
  let door: Door;
  let staff: Visitor;
  let letter: string;
  const at = (of = ''): string => `/businesses/${o.business}/consent-expiry${of}`;
  const policy = (over: Partial<ExpiryPolicyView> = {}): ExpiryPolicyView => ({
    on: true,
    months: 6,
    counts: 'either way',
    purposes: ['informational', 'promotional'],
    askDays: 7,
    invitationId: letter,
    ...over,
  });
  const read = async (): Promise<ExpiryRead> => (await staff.ask('GET', at())).body as unknown as ExpiryRead;
  const save = async (over: Partial<ExpiryPolicyView> = {}, as = staff, version?: number) => {
    const seen = version ?? (await read()).version;
    const answer = await as.ask('PUT', at(), policy(over), { 'if-match': `"${seen}"` });
    await o.settle();
    return answer;
  };
  const listed = async (asked = ''): Promise<Expiring[]> =>
    (await staff.ask('GET', at(`/people${asked}`))).body['items'] as Expiring[];
  /** A contact who agreed so many days ago; six months before the day of the office are 181. */
  const person = async (e164: string, email: string, ago: number, kinds: Kind[] = ['promotional']) => {
    const id = await o.contact(e164, [], { firstName: email.split('@')[0] ?? '' });
    await o.app.platform.db.write(async (w) => {
      await w.of(contactTable).update({ email }, { where: { id } });
      const happenedAt = o.now - ago * DAY;
      await o.app.ledger.append(w, o.business, [
        { e164, purposes: kinds, kind: 'granted', how: 'paper form', happenedAt, recordedAt: happenedAt },
      ]);
    });
    return id;
  };
  const states = (e164: string) => o.app.ledger.statesOf(o.app.platform.db, o.business, e164);
  const state = async (e164: string, kind: Kind = 'promotional') => (await states(e164))[kind].state;
  const lettersTo = (email: string): string[] =>
    o.outside.mails.filter((m) => m.to === email).map((m) => m.raw.replace(/=\r\n/g, '').replace(/=3D/g, '='));
  /** A day later, with what is done each day done. */
  const days = async (n: number): Promise<void> => {
    await o.later(n * DAY);
    await o.settle();
  };
  /** A text of ours arrives. */
  const reached = (e164: string): Promise<void> =>
    o.app.platform.db.write(async (w) => {
      const at = o.now;
      await w.of(messageTable).create({
        ...{ id: `msg_to_${e164}`, businessId: o.business, numberId: o.number, e164, direction: 'out' },
        ...{ kind: 'dispatch', purpose: 'promotional', text: 'Rye today', state: 'delivered' },
        ...{ createdAt: at, sentAt: at, finalAt: at },
      });
    });
  const stay = async (email: string): Promise<void> => {
    const link = /\/my-texts\/[\w-]+/.exec(lettersTo(email).at(-1) ?? '')?.[0] ?? '';
    const html = await (await fetch(`${door.url}${link}`)).text();
    const words = /name="words" value="(\w+)"/.exec(html)?.[1] ?? '';
    const kinds = [...html.matchAll(/value="(\w+)" checked/g)].map((m): [string, string] => ['purposes', m[1] ?? '']);
    const sent = await fetch(`${door.url}${link}`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams([['words', words], ['wish', 'choose'], ...kinds]),
    });
    expect(await sent.text()).toContain('You go on getting');
  };

  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    staff = await door.visitor(o.admin.id);
    const page = heronPage(o.number, { purposes: BOTH_KINDS });
    const { id: pageId } = await o.app.pages.add(o.admin, o.business, page);
    const made = await staff.ask('POST', `/businesses/${o.business}/opt-in-invitations`, {
      title: 'Still wanted?',
      pageId,
      subject: 'Do you still want our texts?',
      text: 'Hello [firstName|there], say here: [link]',
      againDays: 7,
    });
    letter = made.body['id'] as string;
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  it('ends after so many months without contact, a letter and the days for answering it, and says why in the ledger', async () => {
    await person(ADA, 'ada@mail.example', 158, ['informational', 'promotional']);
    await save({ askDays: 20 });
    expect(await listed())
      .withContext('more than twenty days are left')
      .toEqual([]);
    await days(6);
    const [ending] = await listed();
    expect([ending?.name, ending?.lastHow, ending?.askedAt !== null, ending?.why]).toEqual(['ada', 'agreed', true, '']);
    expect(lettersTo('ada@mail.example').length).toBe(1);
    expect(lettersTo('ada@mail.example')[0]).toContain('Do you still want our texts?');
    await days(9);
    expect(lettersTo('ada@mail.example').length)
      .withContext('asked once, though looked at each day, and though the letter may go out again')
      .toBe(1);
    expect(await state(ADA)).toBe('granted');
    await days(12);
    expect([await state(ADA), await state(ADA, 'informational')]).toEqual(['expired', 'expired']);
    expect(await listed()).toEqual([]);
    const events = (await staff.ask('GET', `/businesses/${o.business}/ledger?e164=${encodeURIComponent(ADA)}`)).body[
      'items'
    ] as { kind: string; how: string; purposes: string[]; evidence: Record<string, string> }[];
    const ended = events.filter((e) => e.kind === 'expired');
    expect(ended.length).toBe(1);
    expect([ended[0]?.how, ended[0]?.purposes]).toEqual(['clock', ['informational', 'promotional']]);
    expect(ended[0]?.evidence).toEqual(
      jasmine.objectContaining({ policy: '6 months, either way', lastContactBy: 'agreed' }),
    );
    expect(ended[0]?.evidence['asked']).toMatch(/^20\d\d-/);
  });

  it('goes on for whoever says on their page that they stay, writes, or was reached by a text', async () => {
    await person(ADA, 'ada@mail.example', 178);
    await person(BEN, 'ben@mail.example', 178);
    const cora = '+12125550103';
    await person(cora, 'cora@mail.example', 178);
    await save();
    expect((await listed()).length).toBe(3);
    await stay('ada@mail.example');
    await o.text(BEN, 'When do you open?');
    await reached(cora);
    await days(1);
    expect(await listed())
      .withContext('in contact again')
      .toEqual([]);
    await days(9);
    expect([await state(ADA), await state(BEN), await state(cora)]).toEqual(['granted', 'granted', 'granted']);
  });

  it('counts a text of ours for nothing where only their own word does', async () => {
    await person(ADA, 'ada@mail.example', 178);
    await reached(ADA);
    await save();
    expect(await listed()).toEqual([]);
    await save({ counts: 'their word' });
    expect((await listed()).map((x) => x.lastHow)).toEqual(['agreed']);
    await days(8);
    expect(await state(ADA)).toBe('expired');
  });

  it('ends nobody’s who was not listed for the days of asking, however long nothing was looked at', async () => {
    await person(ADA, 'ada@mail.example', 720);
    await save();
    expect(await state(ADA)).toBe('granted');
    const [ending] = await listed();
    expect((ending?.endsAt ?? 0) - o.now).toBeGreaterThan(6 * DAY);
    expect(lettersTo('ada@mail.example').length).toBe(1);
    await save({ months: 3 });
    expect(lettersTo('ada@mail.example').length).withContext('another policy asks nobody twice').toBe(1);
    await days(31);
    expect(await state(ADA)).toBe('expired');
  });

  it('asks nobody without a mailbox or who wants no letters, says so on Today, and ends theirs all the same', async () => {
    await person(ADA, '', 720);
    await person(BEN, 'ben@mail.example', 720);
    await save({ invitationId: '' });
    expect((await listed()).map((x) => x.why)).toEqual(['no letter is chosen', 'no letter is chosen']);
    await save();
    expect((await listed('?asked=no')).map((x) => [x.e164, x.why])).toEqual([[ADA, 'no e-mail is known']]);
    expect((await listed('?asked=yes')).map((x) => x.e164)).toEqual([BEN]);
    const file = await staff.ask('GET', at('/people.csv?asked=no'));
    expect(file.type).toContain('text/csv');
    expect(String(file.body['text']).trim().split(/\r?\n/)).toEqual([
      'name,phone,last contact,by,ends,asked,why not',
      jasmine.stringMatching(/^,'\+1 212-555-0101,2028-03-22,agreed,2030-03-19,,no e-mail is known$/),
    ]);
    const today = JSON.stringify((await staff.ask('GET', `/businesses/${o.business}/today`)).body);
    expect(today).toContain('The consent of one person ends soon, and no letter asked them');
    await days(8);
    expect([await state(ADA), await state(BEN)]).toEqual(['expired', 'expired']);
  });

  it('is about the kinds of text that were chosen, and about nobody who left', async () => {
    await person(ADA, 'ada@mail.example', 720, ['informational', 'promotional']);
    await person(BEN, 'ben@mail.example', 720);
    await o.text(BEN, 'STOP');
    await save({ purposes: ['promotional'] });
    expect((await listed()).map((x) => x.e164)).toEqual([ADA]);
    await days(8);
    expect([await state(ADA), await state(ADA, 'informational'), await state(BEN)]).toEqual([
      'expired',
      'granted',
      'revoked',
    ]);
  });

  it('stops at once where it is switched off: nobody is listed and nobody’s ends', async () => {
    await person(ADA, 'ada@mail.example', 720);
    await save();
    expect((await listed()).length).toBe(1);
    const { version } = await read();
    await save({ on: false });
    expect(await listed()).toEqual([]);
    // One that was under way when it was switched off, or that a crash had stopped, goes by the policy of now.
    const payload = { version, turnAt: o.now };
    await o.app.platform.db.write((w) =>
      o.app.platform.jobs.add(w, { kind: 'consent.expiry', businessId: o.business, payload }),
    );
    await o.settle();
    expect(await listed()).toEqual([]);
    await days(10);
    expect(await state(ADA)).toBe('granted');
  });

  it('shows what a policy would come to before it is kept, and changes nothing by that', async () => {
    await person(ADA, 'ada@mail.example', 120);
    await person(BEN, 'ben@mail.example', 0);
    const preview = (over: Partial<ExpiryPolicyView> = {}) =>
      staff.ask('POST', at('/preview'), policy(over)).then((a) => a.body as unknown as ExpiryPreview);
    const shown = await preview();
    expect([shown.inForce, shown.ending]).toEqual([2, 0]);
    expect(shown.months.reduce((n, m) => n + m.n, 0)).toBe(2);
    expect(shown.months[0]?.month).toBe('2030-03');
    expect((await preview({ months: 4 })).ending).toBe(1);
    expect((await preview({ on: false })).ending).toBe(0);
    await save();
    expect((await read()).outlook)
      .withContext('the walk counts the same')
      .toEqual({ inForce: shown.inForce, months: shown.months });
    await save({ on: false });
    expect((await preview({ months: 60 })).months.every((m) => m.n === 0)).toBeTrue();
    expect(await listed()).toEqual([]);
    expect(lettersTo('ada@mail.example')).toEqual([]);
  });

  it('is changed by administrators alone, of what they saw, with a letter that is there', async () => {
    const coordinator = await door.visitor((await o.person('coordinator', 'coordinator')).id);
    expect((await save({}, coordinator)).status).toBe(403);
    expect((await save()).status).toBe(200);
    expect((await save({ months: 12 }, staff, 0)).status).toBe(412);
    const bad = await save({ invitationId: 'inv_nothing' });
    expect([bad.status, (bad.body['fields'] as { field: string }[])[0]?.field]).toEqual([422, 'invitationId']);
    expect((await save({ months: 2 })).status).toBe(422);
    expect((await save({ purposes: [] })).status).toBe(422);
    expect((await read()).months).toBe(6);
  });
});
