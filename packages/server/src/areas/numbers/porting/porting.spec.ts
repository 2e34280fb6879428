import { PORT_ACKNOWLEDGEMENTS, type CustomerRecord, type PortFacts } from '@long-gate/core';
import { GatewayRefused } from '@long-gate/gateways';
import fc from 'fast-check';
import { Office } from '../../../testing/office.js';
import { portDay } from './port-row.js';

const NUMBER = '+16095550110';
const DAY_MS = 86_400_000;
const RECORD: CustomerRecord = {
  accountNumber: '0040712',
  holderName: 'HERON LANE BAKERY LLC',
  tradingAs: '',
  street: '9 MILL ST',
  unit: '',
  city: 'QUILLMERE',
  state: 'NJ',
  postalCode: '07030',
  billingNumber: NUMBER,
  numbers: [{ e164: NUMBER, active: true }],
  authorisedNames: [],
  freeze: false,
  pendingOrder: '',
};
const PDF = Buffer.from('%PDF-1.4 a bill');

describe('the port desk', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const get = (id: string) => o.app.ports.get(o.business, id, true);
  const balance = async (): Promise<number> => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
  const inventory = () => o.app.numbers.list(o.app.platform.db, o.business);

  async function begin(numbers = NUMBER, key = 'key-one'): Promise<string> {
    const made = await o.app.ports.begin(o.admin, o.business, numbers, key);
    return made.ids[0] ?? '';
  }
  async function write(id: string, change: Partial<PortFacts> = {}): Promise<void> {
    const now = await get(id);
    await o.app.ports.save(o.admin, o.business, id, now.version, {
      facts: {
        ...now.facts,
        accountNumber: '0040712',
        authorisedName: 'Odette Farrow',
        street: '9 Mill Street',
        city: 'Quillmere',
        state: 'NJ',
        postalCode: '07030',
        ...change,
      },
      acknowledged: PORT_ACKNOWLEDGEMENTS.map((a) => a.key),
      billDated: now.billDated,
    });
  }
  async function sign(id: string): Promise<void> {
    const link = await o.app.portPapers.makeLink(o.admin, o.business, id);
    await o.app.signing.sign(link.path.slice(6), {
      name: 'Odette Farrow',
      drawn: '',
      ip: '192.0.2.7',
      userAgent: 'spec',
    });
  }
  async function bill(id: string, bytes = PDF, name = 'bill.pdf'): Promise<void> {
    await o.app.portPapers.upload(o.admin, o.business, id, {
      what: 'bill',
      name,
      bytes,
      dated: portDay(o.now),
      signedBy: '',
    });
  }
  async function ready(): Promise<string> {
    const id = await begin();
    await write(id);
    await sign(id);
    await bill(id);
    return id;
  }

  it('groups pasted numbers by losing carrier, refuses what cannot be asked for, and begins once for one key', async () => {
    const portability = o.outside.bureau.portability;
    o.outside.bureau.portability = async (e164s) =>
      (await portability(e164s)).map((n) =>
        n.e164.endsWith('2') ? { ...n, losingCarrier: 'Tessary Wireless', kind: 'wireless' as const } : n,
      );
    const text = `${NUMBER}, (609) 555-0111\n609 555 0112; 12\n${o.ours}`;
    const made = await o.app.ports.begin(o.admin, o.business, text, 'key-one');
    expect(made.ids.length).toBe(2);
    expect(made.refused.map((r) => r.why)).toEqual([
      'Too few digits for a phone number.',
      'This number is in your inventory already.',
    ]);
    const first = await get(made.ids[0] ?? '');
    expect([first.losingCarrier, first.numbers.length, first.facts.holderName]).toEqual([
      'Harth Telephone',
      2,
      'Heron Lane Bakery LLC',
    ]);
    expect((await o.app.ports.begin(o.admin, o.business, text, 'key-one')).ids).toEqual(made.ids);
    const again = await o.app.ports.begin(o.admin, o.business, NUMBER, 'key-two');
    expect([again.ids.length, again.refused[0]?.why]).toEqual([0, 'There is an open port request for it.']);
    expect((await o.app.ports.list(o.business, true)).length).toBe(2);
  });

  it('does not submit what would be rejected, and takes no money for it', async () => {
    const id = await ready();
    o.outside.record = { ...RECORD, holderName: 'Heron Lane Bakery Inc', unit: 'Suite 2' };
    await o.app.ports.askForRecord(o.admin, o.business, id);
    const before = await balance();
    expect((await get(id)).findings.map((f) => [f.code, f.field])).toEqual([
      ['port-record-differs', 'holderName'],
      ['port-record-differs', 'unit'],
    ]);
    await expectAsync(o.app.portFollowing.submit(o.admin, o.business, id, 'submit-1')).toBeRejectedWith(
      jasmine.objectContaining({ code: 'findings' }),
    );
    expect(await balance()).toBe(before);
    expect(o.outside.filings).toEqual([]);
  });

  it('goes from rejected to landed, cleared to send, with one charge', async () => {
    const id = await ready();
    await o.app.ports.prepare(o.admin, o.business, id, null, {
      e164: NUMBER,
      label: 'Front desk',
      campaignId: o.campaign,
      forwardTo: '609-555-0199',
    });
    const before = await balance();
    await expectAsync(
      o.app.portFollowing.submit(o.admin, o.business, id, 'submit-0', (await get(id)).version - 1),
    ).toBeRejectedWith(jasmine.objectContaining({ status: 412 }));
    await Promise.all([
      o.app.portFollowing.submit(o.admin, o.business, id, 'submit-2'),
      o.app.portFollowing.submit(o.admin, o.business, id, 'submit-3'),
    ]);
    await o.settle();
    expect(o.outside.filings.map((f) => [f.key, f.filing.accountNumber])).toEqual([[`${id}:1`, '0040712']]);
    await expectAsync(write(id)).toBeRejectedWithError(/submitted/);
    await o.hear({
      kind: 'port.rejected',
      key: `${id}:1`,
      reasons: [{ field: 'accountNumber', code: 'record', message: 'No such account.' }],
    });
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-2');
    expect((await get(id)).state)
      .withContext('the first wish, repeated after its answer')
      .toBe('rejected');
    expect((await get(id)).reasons[0]?.field).toBe('accountNumber');
    await write(id, { accountNumber: '0040713' });
    expect((await get(id)).changedSince.map((c) => c.field)).toEqual(['accountNumber']);
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-4');
    await o.hear({ kind: 'port.rejected', key: `${id}:1`, reasons: [] });
    expect((await get(id)).state)
      .withContext('an answer to an older try')
      .toBe('submitted');
    await o.hear({ kind: 'port.accepted', key: `${id}:2`, focAt: o.now + 8 * DAY_MS });
    await o.hear({ kind: 'port.cutting-over', key: `${id}:2` });
    for (let i = 0; i < 2; i++) await o.hear({ kind: 'port.completed', key: `${id}:2` });
    const landed = (await inventory()).filter((n) => n.e164 === NUMBER);
    expect(landed.map((n) => [n.label, n.source, n.state, n.tieState])).toEqual([
      ['Front desk', 'ported', 'active', 'attaching'],
    ]);
    expect(before - (await balance())).toBe(1_300_000);
    expect((await o.app.calls.get(o.app.platform.db, o.business, landed[0]?.id ?? '')).forwardTo).toBe('+16095550199');
    const assign = await o.app.platform.db.one<{ key: string; payload: string }>(
      `SELECT key, payload FROM outbox WHERE kind = 'number.assign' AND payload LIKE '%${NUMBER}%'`,
    );
    expect(JSON.parse(assign?.payload ?? '{}')).toEqual(jasmine.objectContaining({ prepared: true }));
    await o.hear({ kind: 'assignment.confirmed', key: assign?.key ?? '', e164: NUMBER });
    expect((await inventory()).find((n) => n.e164 === NUMBER)?.clearance).toBe('cleared');
    await o.hear({ kind: 'text.inbound', key: 'hello', from: '+12125550123', to: NUMBER, text: 'Are you there?' });
    expect((await get(id)).runbook.map((r) => r.done))
      .withContext('noted by the text itself, nobody has looked')
      .toEqual([true, false, false]);
    await o.hear({ kind: 'call.inbound', key: 'ring', from: '+12125550123', to: NUMBER, pressed: '' });
    expect((await get(id)).runbook.map((r) => r.done)).toEqual([true, false, true]);
  });

  it('pays the first month of each number, also of those that come or go after a rejection', async () => {
    const MONTH = 1_300_000;
    const before = await balance();
    const spent = async (): Promise<number> => before - (await balance());
    const id = await ready();
    const again = async (key: string, add: string, remove: readonly string[]): Promise<number> => {
      await o.hear({ kind: 'port.rejected', key: `${id}:${(await get(id)).attempt}`, reasons: [] });
      await o.app.ports.changeNumbers(o.admin, o.business, id, null, add, remove);
      await sign(id);
      const { costNow } = await get(id);
      const so = await spent();
      await o.app.portFollowing.submit(o.admin, o.business, id, key);
      expect((await spent()) - so)
        .withContext('as it was said before')
        .toBe(costNow);
      return costNow;
    };
    await o.app.portFollowing.submit(o.admin, o.business, id, 'first');
    expect(await spent()).toBe(MONTH);
    expect(await again('second', '609-555-0111, 609-555-0112', [])).toBe(2 * MONTH);
    expect(await again('third', '', ['+16095550112'])).toBe(-MONTH);
    expect(await again('fourth', '609-555-0113', ['+16095550111'])).toBe(0);
    await o.app.portFollowing.cancel(o.admin, o.business, id);
    expect(await spent())
      .withContext('all of it comes back')
      .toBe(0);
    const { items } = await o.app.money.page(o.business, { limit: 4 });
    expect(items.map((e) => [e.what, e.amount])).toEqual([
      ['port-in cancelled: first month refunded', 2 * MONTH],
      ['port-in: first month of numbers taken off, refunded', MONTH],
      ['port-in: first month of numbers added', -2 * MONTH],
      ['port-in: first month of +1 609-555-0110', -MONTH],
    ]);
  });

  it('stays where its going back is refused, says so, and can be asked for again', async () => {
    const id = await ready();
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-back');
    await o.hear({ kind: 'port.accepted', key: `${id}:1`, focAt: o.now + DAY_MS });
    await o.hear({ kind: 'port.cutting-over', key: `${id}:1` });
    await o.hear({ kind: 'port.completed', key: `${id}:1` });
    const { snapBack } = o.outside.bureau;
    o.outside.bureau.snapBack = () => Promise.reject(new GatewayRefused('The old line is closed.', 'closed'));
    await o.app.portFollowing.snapBack(o.admin, o.business, id);
    await o.settle();
    expect((await get(id)).state).toBe('done');
    const trail = await o.app.platform.db.one<{ action: string }>('SELECT action FROM audit ORDER BY n DESC LIMIT 1');
    expect(trail?.action).toBe('the numbers cannot go back: The old line is closed.');
    const again = jasmine.createSpy().and.callFake(snapBack);
    o.outside.bureau.snapBack = again;
    await o.app.portFollowing.snapBack(o.admin, o.business, id);
    await o.settle();
    expect([(await get(id)).state, again.calls.count()]).toEqual(['returning', 1]);
  });

  it('lands, and is paid, where a cancellation came too late for the old carrier', async () => {
    const before = await balance();
    const id = await ready();
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-late');
    // Nobody here has heard yet that it was accepted, nor that the day has come.
    await o.app.portFollowing.cancel(o.admin, o.business, id);
    expect(await balance()).toBe(before);
    await o.hear({ kind: 'port.accepted', key: `${id}:1`, focAt: o.now + 60_000 });
    expect((await get(id)).state)
      .withContext('an acceptance may be older than the cancellation')
      .toBe('cancelled');
    await o.hear({ kind: 'port.cutting-over', key: `${id}:1` });
    expect((await get(id)).state).toBe('cutting over');
    for (let i = 0; i < 2; i++) await o.hear({ kind: 'port.completed', key: `${id}:1` });
    expect([(await get(id)).state, (await inventory()).filter((n) => n.e164 === NUMBER).map((n) => n.state)]).toEqual([
      'done',
      ['active'],
    ]);
    expect(before - (await balance())).toBe(1_300_000);
    const { items } = await o.app.money.page(o.business, { limit: 1 });
    expect(items[0]?.what).toBe('port-in: first month of +1 609-555-0110, which could not be cancelled any more');
  });

  it('says what a number that was not prepared still needs', async () => {
    const id = await ready();
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-5');
    await o.hear({ kind: 'port.accepted', key: `${id}:1`, focAt: o.now + DAY_MS });
    expect((await get(id)).nextStep.title).toBe('Prepare the landing.');
    await o.hear({ kind: 'port.cutting-over', key: `${id}:1` });
    await o.hear({ kind: 'port.completed', key: `${id}:1` });
    const n = (await inventory()).find((x) => x.e164 === NUMBER);
    expect([n?.nextStep.action, n?.note]).toEqual(['tie', 'It has no campaign yet: tie it to one.']);
  });

  it('moves a date and cancels only until two business days before it, and gives the money back', async () => {
    const before = await balance();
    const id = await ready();
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-6');
    // Noon of Tuesday 12 March 2030; the numbers change over on Wednesday the 20th.
    await o.hear({ kind: 'port.accepted', key: `${id}:1`, focAt: Date.UTC(2030, 2, 20, 14) });
    expect((await get(id)).lastDayToChange).toBe('2030-03-18');
    await expectAsync(o.app.portFollowing.moveDate(o.admin, o.business, id, '2030-03-23')).toBeRejectedWithError(
      /next one is 2030-03-25/,
    );
    await o.app.portFollowing.moveDate(o.admin, o.business, id, '2030-03-25');
    await o.hear({ kind: 'port.date-moved', key: `${id}:1`, focAt: Date.UTC(2030, 2, 25, 14) });
    expect((await get(id)).focOn).toBe('2030-03-25');
    await o.later(12 * DAY_MS);
    await expectAsync(o.app.portFollowing.cancel(o.admin, o.business, id)).toBeRejectedWithError(/until 2030-03-21/);
    await o.app.platform.db.write((w) => w.run('UPDATE port SET foc_at = foc_at + 864000000'));
    await o.app.portFollowing.cancel(o.admin, o.business, id);
    await o.app.portFollowing.cancel(o.admin, o.business, id);
    await o.settle();
    expect(await balance()).toBe(before);
    expect(o.outside.cancelled).toEqual([`${id}:1`]);
    expect((await begin(NUMBER, 'key-anew')) !== '')
      .withContext('the number is free again')
      .toBeTrue();
  });

  it('says in days of the calendar when numbers change over', async () => {
    const id = await ready();
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-days');
    // Noon of Tuesday 12 March 2030 in New York; ten in the morning of the 20th.
    await o.hear({ kind: 'port.accepted', key: `${id}:1`, focAt: Date.UTC(2030, 2, 20, 14) });
    const at = async (days: number, hours: number): Promise<string> => {
      await o.app.platform.db.write((w) =>
        w.run('UPDATE port SET foc_at = $1', [o.now + days * DAY_MS + hours * 3_600_000]),
      );
      await o.app.platform.db.write((w) => w.run(`UPDATE port_number SET campaign_id = 'cmp_x'`));
      return (await get(id)).nextStep.why;
    };
    expect(await at(8, -2)).toContain('The numbers change over in 8 days;');
    expect(await at(1, -2)).toContain('The numbers change over tomorrow;');
    expect(await at(1, 6))
      .withContext('later in the day than it is now')
      .toContain('The numbers change over tomorrow;');
    expect(await at(0, 3)).toContain('The numbers change over today;');
  });

  it('lets landed numbers go back within 72 hours and no later', async () => {
    const id = await ready();
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-7');
    await o.hear({ kind: 'port.accepted', key: `${id}:1`, focAt: o.now });
    await o.hear({ kind: 'port.cutting-over', key: `${id}:1` });
    await o.hear({ kind: 'port.completed', key: `${id}:1` });
    await o.app.portFollowing.snapBack(o.admin, o.business, id);
    await o.hear({ kind: 'port.returned', key: `${id}:1` });
    expect((await inventory()).find((n) => n.e164 === NUMBER)?.state).toBe('released');
    expect((await get(id)).state).toBe('returned');
  });

  it('has the letter signed once by a link that ends, and keeps it with digest, day and address', async () => {
    const id = await begin();
    await write(id);
    const old = await o.app.portPapers.makeLink(o.admin, o.business, id);
    const link = await o.app.portPapers.makeLink(o.admin, o.business, id);
    await expectAsync(o.app.signing.letterToSign(old.path.slice(6))).toBeRejectedWithError(/a newer link/);
    const token = link.path.slice(6);
    expect((await o.app.signing.letterToSign(token)).numbers).toEqual([NUMBER]);
    const signature = { name: 'Odette Farrow', drawn: '', ip: '192.0.2.7', userAgent: 'spec' };
    await expectAsync(
      o.app.signing.sign(token, { ...signature, drawn: 'data:image/png;base64,AAAA' }),
    ).toBeRejectedWithError(/draw it again/);
    await o.app.signing.sign(token, signature);
    await o.app.signing.sign(token, { ...signature, name: 'Somebody Else' });
    const p = await get(id);
    expect([p.letter.signedBy, p.letter.signedOn, p.letter.ip]).toEqual(['Odette Farrow', '2030-03-12', '192.0.2.7']);
    const file = await o.app.portPapers.readDocument(o.admin, o.business, id, p.documents[0]?.id ?? '');
    expect(file.bytes.subarray(0, 5).toString()).toBe('%PDF-');
    await o.later(15 * DAY_MS);
    const late = await o.app.portPapers.makeLink(o.admin, o.business, id);
    await o.later(15 * DAY_MS);
    await expectAsync(o.app.signing.letterToSign(late.path.slice(6))).toBeRejectedWithError(/good for 14 days/);
    await expectAsync(o.app.signing.letterToSign('made-up')).toBeRejectedWith(
      jasmine.objectContaining({ status: 404 }),
    );
  });

  it('ends a link where what the letter says is changed, and says so to the holder and to whoever changed it', async () => {
    const id = await begin();
    await write(id);
    const link = await o.app.portPapers.makeLink(o.admin, o.business, id);
    const token = link.path.slice(6);
    const shown = await o.app.signing.letterToSign(token);
    await write(id, { accountNumber: '0040999' });
    expect((await o.app.signing.letterToSign(token)).numbers)
      .withContext('what does not stand in the letter changes nothing')
      .toEqual(shown.numbers);
    await write(id, { street: '10 Mill Street' });
    expect((await get(id)).letter.state).toBe('link ended');
    const signature = { name: 'Odette Farrow', drawn: '', ip: '192.0.2.7', userAgent: 'spec' };
    await expectAsync(o.app.signing.sign(token, signature)).toBeRejectedWith(
      jasmine.objectContaining({ status: 410, code: 'link-changed' }),
    );
    const again = await o.app.portPapers.makeLink(o.admin, o.business, id);
    expect((await o.app.signing.letterToSign(again.path.slice(6))).address).toContain('10 Mill Street');
    await o.app.ports.changeNumbers(o.admin, o.business, id, null, '609-555-0111', []);
    await expectAsync(o.app.signing.letterToSign(again.path.slice(6))).toBeRejectedWithError(/read the letter there/);
    await o.app.portFollowing.cancel(o.admin, o.business, id);
    const third = again.path.slice(6);
    await expectAsync(o.app.signing.letterToSign(third)).toBeRejectedWith(jasmine.objectContaining({ status: 410 }));
  });

  it('keeps a used link to be read, as the letter was when it was signed', async () => {
    const id = await begin();
    await write(id);
    const link = await o.app.portPapers.makeLink(o.admin, o.business, id);
    const signature = { name: 'Odette Farrow', drawn: '', ip: '192.0.2.7', userAgent: 'spec' };
    await o.app.signing.sign(link.path.slice(6), signature);
    await write(id, { street: '10 Mill Street' });
    const read = await o.app.signing.letterToSign(link.path.slice(6));
    expect([read.signed, read.signedBy, read.address]).toEqual([
      true,
      'Odette Farrow',
      '9 Mill Street, Quillmere, NJ 07030',
    ]);
  });

  it('asks before the same is submitted again that was rejected, and says the carrier’s reason at each place', async () => {
    const id = await ready();
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-a');
    const reasons = [{ field: 'accountNumber', code: 'record', message: 'No such account.' }];
    await o.hear({ kind: 'port.rejected', key: `${id}:1`, reasons });
    expect((await get(id)).nextStep.why).toContain('No such account.');
    const today = (await o.app.today.get(o.business)).matters.find((m) => m.title.includes('was rejected'));
    expect(today?.detail).toContain('No such account.');
    await expectAsync(o.app.portFollowing.submit(o.admin, o.business, id, 'submit-b')).toBeRejectedWith(
      jasmine.objectContaining({ status: 409, code: 'unchanged' }),
    );
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-b', null, true);
    expect((await get(id)).state).toBe('submitted');
  });

  it('has a draft stand on Today with the first day on which something of it is not good any more', async () => {
    const due = async () =>
      (await o.app.today.get(o.business)).matters.find((m) => m.title.includes('still a draft'))?.due ?? null;
    const id = await begin();
    await write(id);
    expect(await due()).toBeNull();
    await bill(id);
    expect(await due()).toBe(Date.UTC(2030, 3, 11, 4));
    await write(id, { pinExpires: '2030-03-19' });
    expect(await due()).toBe(Date.UTC(2030, 2, 19, 4));
  });

  it('takes a wrong upload away, and keeps what the holder signed here', async () => {
    const id = await ready();
    const [letter, wrong] = (await get(id)).documents;
    await o.app.portPapers.drop(o.admin, o.business, id, wrong?.id ?? '');
    const left = await get(id);
    expect([left.documents.map((d) => d.what), left.billDated]).toEqual([['letter'], '']);
    expect(left.findings.map((f) => f.code)).toContain('port-bill-missing');
    await expectAsync(o.app.portPapers.drop(o.admin, o.business, id, letter?.id ?? '')).toBeRejectedWithError(
      /signed this letter here/,
    );
    const trail = await o.app.platform.db.one<{ n: number }>(
      `SELECT count(*) AS n FROM audit WHERE action = 'bill taken away'`,
    );
    expect(trail?.n).toBe(1);
  });

  it('counts a call that nobody took as failed, until one is', async () => {
    const id = await ready();
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-c');
    await o.hear({ kind: 'port.accepted', key: `${id}:1`, focAt: o.now });
    await o.hear({ kind: 'port.completed', key: `${id}:1` });
    await o.hear({ kind: 'port.cutting-over', key: `${id}:1` });
    await o.hear({ kind: 'port.completed', key: `${id}:1` });
    const landed = (await inventory()).find((n) => n.e164 === NUMBER);
    await o.app.ties.tie(o.admin, o.business, landed?.id ?? '', o.campaign);
    await o.app.platform.db.write((w) => w.run(`UPDATE number SET tie_state = 'attached'`));
    expect((await inventory()).find((n) => n.e164 === NUMBER)?.nextStep.title).toBe('Say what happens to calls.');
    const ring = (key: string) => o.hear({ kind: 'call.inbound', key, from: '+12125550123', to: NUMBER, pressed: '' });
    await ring('ring-1');
    const call = async () => (await get(id)).runbook.find((r) => r.test === 'call');
    expect([(await call())?.done, (await call())?.failedAt !== null]).toEqual([false, true]);
    expect((await get(id)).nextStep.why).toContain('nobody took it');
    await o.app.calls.set(o.admin, o.business, landed?.id ?? '', {
      way: 'forward',
      forwardTo: '+16095550199',
      greeting: '',
      textBack: '',
      invites: false,
      list: '',
    });
    await ring('ring-2');
    expect([(await call())?.done, (await call())?.failedAt]).toEqual([true, null]);
    const matters = (await o.app.today.get(o.business)).matters.map((m) => m.title);
    expect(matters.filter((t) => t.startsWith('Test '))).toHaveSize(1);
    await o.later(30 * DAY_MS);
    expect((await o.app.today.get(o.business)).matters.map((m) => m.title).filter((t) => t.startsWith('Test ')))
      .withContext('unfinished ones stay')
      .toHaveSize(1);
  });

  it('offers another date, or the end, only while it can be granted', async () => {
    const id = await ready();
    await o.app.portFollowing.submit(o.admin, o.business, id, 'submit-d');
    await o.hear({ kind: 'port.accepted', key: `${id}:1`, focAt: Date.UTC(2030, 2, 20, 14) });
    const may = async () => {
      const p = await get(id);
      return [p.mayMoveDate, p.mayCancel];
    };
    expect(await may()).toEqual([true, true]);
    await o.app.portFollowing.moveDate(o.admin, o.business, id, '2030-03-25');
    expect(await may())
      .withContext('one wish at a time')
      .toEqual([false, true]);
    await o.hear({ kind: 'port.date-refused', key: `${id}:1`, reason: 'No.' });
    await o.later(7 * DAY_MS);
    expect(await may()).toEqual([false, false]);
  });

  it('takes a PDF or a picture up to 10 MB, refuses the rest with the reason, and seals what it keeps', async () => {
    const id = await begin();
    await expectAsync(bill(id, Buffer.from('PK zip'), 'bill.pdf')).toBeRejectedWithError(/no PDF, PNG or JPEG/);
    const big = Buffer.alloc(10 * 1024 * 1024 + 1);
    PDF.copy(big);
    await expectAsync(bill(id, big)).toBeRejectedWithError(/at most 10 MB/);
    await bill(id);
    const row = await o.app.platform.db.one<{ body: Buffer }>('SELECT body FROM document');
    expect(row?.body.includes('a bill')).toBeFalse();
    const kept = (await get(id)).documents[0];
    expect((await o.app.portPapers.readDocument(o.admin, o.business, id, kept?.id ?? '')).bytes.equals(PDF)).toBeTrue();
  });

  it('shows the PIN to nobody, the account number to administrators, and neither to trail, outbox or jobs', async () => {
    const id = await begin();
    await write(id, { pin: '90815' });
    const open = await get(id);
    const shut = await o.app.ports.get(o.business, id, false);
    expect([open.facts.accountNumber, shut.facts.accountNumber]).toEqual(['0040712', '••••••']);
    for (const table of ['port', 'audit', 'outbox', 'job']) {
      const rows = JSON.stringify(await o.app.platform.db.all(`SELECT * FROM ${table}`));
      expect(rows).withContext(table).not.toContain('90815');
      expect(rows).withContext(table).not.toContain('0040712');
    }
    expect(JSON.stringify([open, shut])).not.toContain('90815');
    o.outside.record = { ...RECORD, accountNumber: '77-0040713' };
    await o.app.ports.askForRecord(o.admin, o.business, id);
    expect(JSON.stringify(await get(id))).toContain('0040713');
    expect(JSON.stringify(await o.app.ports.get(o.business, id, false)))
      .withContext('also not in the words of a finding')
      .not.toContain('0040713');
    // An edit that shows the mask leaves what is stored.
    await write(id, { pin: open.facts.pin });
    expect((await get(id)).facts.pin).toBe('••••');
  });

  it('keeps two people who edit one request from overwriting each other', async () => {
    const id = await begin();
    const seen = (await get(id)).version;
    const save = (city: string) =>
      o.app.ports.save(o.admin, o.business, id, seen, {
        facts: { ...OPEN_FACTS, city },
        acknowledged: [],
        billDated: '',
      });
    await save('Northbank');
    await expectAsync(save('Aldersund')).toBeRejectedWith(jasmine.objectContaining({ status: 412 }));
    expect((await get(id)).facts.city).toBe('Northbank');
  });

  it('loses no number, owns none twice and adds up to the millionth, over any sequence of what may happen', async () => {
    const steps = [
      'submit',
      'cancel',
      'reject',
      'accept',
      'cut over',
      'complete',
      'snap back',
      'return',
      'begin',
    ] as const;
    let run = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(fc.constantFrom(...steps), { minLength: 3, maxLength: 14 }), async (sequence) => {
        const e164 = `+1609555${String(100 + (run % 100)).padStart(4, '0')}`;
        run++;
        let id = await begin(e164, `run-${run}-begin`);
        // Numbers that an earlier run left with us cannot be asked for again.
        if (id === '') return;
        const prepare = async (): Promise<void> => {
          await write(id, { billingNumber: e164 });
          await sign(id);
          await bill(id);
        };
        await prepare();
        for (const [i, step] of sequence.entries()) {
          const key = `${id}:${(await get(id)).attempt}`;
          const quietly = (work: Promise<unknown>): Promise<unknown> => work.catch(() => undefined);
          if (step === 'submit') await quietly(o.app.portFollowing.submit(o.admin, o.business, id, `${run}-${i}`));
          else if (step === 'cancel') await quietly(o.app.portFollowing.cancel(o.admin, o.business, id));
          else if (step === 'snap back') await quietly(o.app.portFollowing.snapBack(o.admin, o.business, id));
          else if (step === 'reject') await o.hear({ kind: 'port.rejected', key, reasons: [] });
          else if (step === 'accept') await o.hear({ kind: 'port.accepted', key, focAt: o.now + 9 * DAY_MS });
          else if (step === 'cut over') await o.hear({ kind: 'port.cutting-over', key });
          else if (step === 'complete') await o.hear({ kind: 'port.completed', key });
          else if (step === 'return') await o.hear({ kind: 'port.returned', key });
          else {
            const next = await begin(e164, `run-${run}-${i}`);
            if (next !== '') {
              id = next;
              await prepare();
            }
          }
          const ours = (await inventory()).filter((n) => n.e164 === e164 && n.state === 'active').length;
          const state = (await get(id)).state;
          const open = await o.app.platform.db.all(`SELECT 1 FROM port_number WHERE e164 = $1 AND open`, [e164]);
          expect(ours)
            .withContext(`${sequence.join(', ')}: ${state}`)
            .toBe(['done', 'returning'].includes(state) ? 1 : 0);
          expect(open.length + ours).toBeLessThanOrEqual(1);
        }
        const sum = await o.app.platform.db.one<{ n: number }>('SELECT sum(amount) AS n FROM money_entry');
        expect(sum?.n).toBe(await balance());
      }),
      { numRuns: 15 },
    );
  });
});

const OPEN_FACTS: PortFacts = {
  accountNumber: '',
  pin: '',
  pinExpires: '',
  holderKind: 'business',
  holderName: 'Heron Lane Bakery LLC',
  authorisedName: '',
  street: '',
  unit: '',
  city: '',
  state: '',
  postalCode: '',
  billingNumber: '',
  linesStay: false,
  newBillingNumber: '',
  responsibleOrganisation: '',
  oldServiceEnds: '',
};
