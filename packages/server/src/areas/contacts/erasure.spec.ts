import { randomUUID } from 'node:crypto';
import type { ContactDetail, IntakeRow, MergePreview } from '@long-gate/contracts';
import { tableNames } from '../../testing/database.js';
import type { Answer, Door, Visitor } from '../../testing/door.js';
import { OFFERS, wordAtTheTill } from '../../testing/keyword.js';
import { Office } from '../../testing/office.js';
import { heronPage } from '../../testing/opt-in-page.js';

const QUILLON = '+12125550171';
const DAY = 86_400_000;
/** What would tell who somebody was, or what they wrote, wherever it stands. */
const MARKS = {
  number: /212\D{0,3}555\D?0171/,
  name: /Quillon|Vantongeren/i,
  email: /quillon@post\.example/,
  words: /sourdough|Tuesday’s loaf/i,
};

describe('what is left of somebody who was erased', () => {
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

  const ask = (method: string, at: string, body?: object): Promise<Answer> =>
    v.ask(method, `/businesses/${o.business}${at}`, body, { 'idempotency-key': randomUUID() });
  const ok = async <T = { id: string }>(method: string, at: string, body?: object): Promise<T> => {
    const answer = await ask(method, at, body);
    if (answer.status !== 200) throw new Error(`${method} ${at}: ${answer.status} ${JSON.stringify(answer.body)}`);
    return answer.body as T;
  };
  const erase = (id: string): Promise<Answer> =>
    ask('POST', `/contacts/${id}/erase`, { request: 'By letter of 3 March' });
  const idOf = async (e164: string): Promise<string> =>
    (await o.app.contacts.names(o.app.platform.db, o.business, [e164])).get(e164)?.contactId ?? '';

  /** Each column in which one of the marks stands, with the marks. */
  async function marked(): Promise<Record<string, string[]>> {
    const { db } = o.app.platform;
    const out: Record<string, Set<string>> = {};
    for (const table of await tableNames(db))
      for (const row of await db.all<Record<string, unknown>>(`SELECT * FROM "${table}"`))
        for (const [column, value] of Object.entries(row)) {
          const text = Buffer.isBuffer(value) ? value.toString('latin1') : String(value);
          for (const [mark, pattern] of Object.entries(MARKS))
            if (pattern.test(text)) (out[`${table}.${column}`] ??= new Set()).add(mark);
        }
    return Object.fromEntries(Object.entries(out).map(([k, marks]) => [k, [...marks].sort()]));
  }

  // -- a life with the business, by every way that leaves something ------------------------------------------------

  async function broughtIn(over: Partial<IntakeRow>, known: Record<string, 'overwrite'> = {}): Promise<void> {
    const i = await o.app.intakes.begin(o.admin, o.business, {
      fileName: 'list.csv',
      total: 1,
      listName: 'Regulars',
      consentClaim: '',
      attestation: 'Counter list, says Cora.',
      known,
    });
    const row = { row: 1, phone: QUILLON, firstName: '', lastName: '', email: '', stateCode: '', keep: true, ...over };
    await o.app.intakes.take(o.business, i.id, [row]);
    await o.app.intakes.store(o.admin, o.business, i.id);
    await o.settle();
  }

  async function merged(): Promise<void> {
    const other = await o.contact('+12125550172', [], { firstName: 'Quillon', list: 'Others' });
    const kept = await idOf(QUILLON);
    const p = await ok<MergePreview>('GET', `/contacts/${kept}/merge?with=${other}`);
    const { keptVersion, goneVersion } = p;
    await ok('POST', `/contacts/${kept}/merge`, { with: other, keptVersion, goneVersion });
  }

  async function invited(): Promise<void> {
    const { id: pageId } = await o.app.pages.add(o.admin, o.business, heronPage(o.number, { purposes: [...OFFERS] }));
    const letter = { subject: 'Texts for [firstName|you]?', text: 'Hello [firstName|there]: [link]', againDays: 90 };
    const { id } = await ok('POST', '/opt-in-invitations', { pageId, title: 'Spring', ...letter });
    await ok('POST', `/opt-in-invitations/${id}/sendings`, { whom: {}, seen: 1 });
    await o.settle();
  }

  async function joinedByWord(): Promise<void> {
    const { answers, ...word } = wordAtTheTill(o.number);
    const giving = { ...answers, new: `${answers.new} Code: [code|at the till]` };
    const { id } = await ok('POST', '/keywords', { ...word, answers: giving });
    await ok('POST', `/keywords/${id}/codes`, { codes: ['A1'] });
    await o.text(QUILLON, 'RYE');
    await o.text(QUILLON, 'YES');
  }

  async function onLists(): Promise<void> {
    const base64 = Buffer.from('phone\n212-555-0171').toString('base64');
    const gone = {
      origin: 'earlier provider',
      source: 'our last provider',
      datedOn: '2030-03-12',
      name: 'gone.csv',
    } as const;
    await o.app.optOutLists.bring(o.admin, o.business, { ...gone, base64 }, 'gone');
    const own = { name: 'Counter', kind: 'own', source: 'the counter', datedOn: '2030-03-10' } as const;
    const list = await o.app.suppression.add(o.admin, o.business, own, 'own');
    const edition = list.reading?.edition ?? 0;
    await o.app.suppression.take(o.business, list.id, { edition, part: 0, lines: ['212-555-0171'] });
    await o.app.suppression.finish(o.admin, o.business, list.id, { edition, parts: 1 });
    await o.settle();
  }

  it('is the ledger with its proof, the trail and the lists that keep texts away; nothing else tells who it was', async () => {
    await broughtIn({ firstName: 'Quillon', lastName: 'Vanton', email: 'quillon@post.example' });
    await broughtIn({ firstName: 'Quillon', lastName: 'Vantongeren' }, { name: 'overwrite' });
    await invited();
    await o.contact(QUILLON, []);
    await merged();
    await joinedByWord();
    const bought = { kind: 'purchase', happenedOn: '2030-03-01', reference: 'a sourdough' };
    await ok('POST', '/relationships', { phone: QUILLON, ...bought });
    await o.app.inbox
      .answer(o.admin, o.business, QUILLON, { text: 'Yes Quillon, until noon.' } as never, 'k')
      .catch(() => undefined);
    await o.text(QUILLON, 'Is there sourdough today?');
    await o.text(QUILLON, 'not so many texts about Tuesday’s loaf please stop asking');
    const asker = {
      asker: 'regulator',
      who: 'A regulator',
      reference: '',
      question: 'Proof, please.',
      dueOn: '2030-04-01',
    };
    await ok('POST', '/evidence-requests', { ...asker, numbers: QUILLON });
    await onLists();
    const before = await marked();
    expect(Object.keys(before).length).withContext(Object.keys(before).join(', ')).toBeGreaterThan(24);

    expect((await erase(await idOf(QUILLON))).status).toBe(200);
    await o.later(4 * DAY);
    expect(await marked()).toEqual({
      // What they agreed to and refused, in their words where these are its proof, and how that adds up.
      'consent_event.e164': ['number'],
      'consent_event.evidence': ['words'],
      'consent_state.e164': ['number'],
      'opt_out.e164': ['number'],
      // What staff did, with what they entered: the names of whom they merged, the purchase they recorded.
      'audit.after': ['name', 'number', 'words'],
      'suppression_number.e164': ['number'],
    });
    expect((await o.app.ledger.verify(o.business)).ok).toBeTrue();
  });

  it('says so, in what it answers', async () => {
    await o.contact(QUILLON, ['promotional']);
    const { kept } = (await erase(await idOf(QUILLON))).body as unknown as { kept: string[] };
    for (const what of ['The ledger', 'The audit trail', 'Do-not-call lists and lists of opt-outs'])
      expect(kept.some((k) => k.startsWith(what)))
        .withContext(what)
        .toBeTrue();
  });

  it('is all of them while something about their number is set aside that nobody has looked at', async () => {
    await o.contact(QUILLON, ['promotional']);
    const about = { seq: 900, at: o.now, key: 'in-900', from: QUILLON, to: o.ours, text: 'sourdough' };
    o.outside.told.push({ ...about, kind: 'text.scrambled' } as never);
    await o.settle();
    const id = await idOf(QUILLON);
    const refused = await erase(id);
    expect([refused.status, refused.body.detail]).toEqual([409, jasmine.stringContaining('Settings, Connections')]);
    const [row] = await o.app.aside.list();
    await o.app.aside.leave(o.admin, o.business, row?.key ?? '');
    expect((await erase(id)).status).toBe(200);
    await o.settle();
    expect((await marked())['set_aside.body']).toBeUndefined();
  });

  it('is all of them while what they wrote may be a wish to stop that nobody has read', async () => {
    await o.contact(QUILLON, ['promotional']);
    await o.text(QUILLON, 'How do I stop getting so many about Tuesday’s loaf?');
    const id = await idOf(QUILLON);
    const refused = await erase(id);
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      'What +1 212-555-0171 wrote on 12 Mar 2030 may be a wish to stop, and nobody has read it yet. Say what it meant under Consent, Replies to read; then erase them, and their words go with them.',
    ]);
    expect((await ok<ContactDetail>('GET', `/contacts/${id}`)).id).toBe(id);
    const { items } = await ok<{ items: { id: string }[] }>('GET', '/reply-reviews');
    await ok('POST', `/reply-reviews/${items[0]?.id ?? ''}`, { readAs: 'stop' });
    expect((await erase(id)).status).toBe(200);
    expect((await o.state(QUILLON)).promotional).toBe('revoked');
  });
});
