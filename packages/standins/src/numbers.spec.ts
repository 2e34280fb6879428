import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { dayIn, isBusinessDay } from '@long-gate/core';
import {
  allAt,
  GatewayRefused,
  httpGateways,
  type Gateways,
  type NumberWish,
  type OutsideEvent,
  type PortFiling,
} from '@long-gate/gateways';
import { startStandins, type Standins } from './standins.js';

const DAY = 86_400_000;
const ZONE = 'America/New_York';
const LINE = '+16095550110';
const MOBILE = '+12015550152';
const RECORD = {
  accountNumber: '0040712',
  holderName: 'NORTHBANK SEED LIBRARY',
  tradingAs: '',
  street: '18 MILLRACE LN',
  unit: '',
  city: 'NORTHBANK',
  state: 'NJ',
  postalCode: '08602',
  billingNumber: LINE,
  numbers: [{ e164: LINE, active: true }],
  authorisedNames: [],
  freeze: false,
  pendingOrder: '',
  carrier: 'Harth Telephone',
  pin: '',
  answersRecords: true,
};
const FILING: PortFiling = {
  numbers: [LINE],
  accountNumber: '0040712',
  pin: '',
  holderName: 'Northbank Seed Library',
  authorisedName: 'Bram Oakenshaw',
  street: '18 Millrace Lane',
  unit: '',
  city: 'Northbank',
  state: 'NJ',
  postalCode: '08602',
  billingNumber: LINE,
  newBillingNumber: '',
  responsibleOrganisation: '',
  letterSignedOn: '',
};

const LOCAL_551: NumberWish = {
  country: 'US',
  kind: 'local',
  areaCodes: ['551'],
  pattern: '',
  capabilities: [],
  except: [],
};

describe('the simulated outside of numbers', () => {
  let dataDir = '';
  let standins: Standins;
  let g: Gateways;
  let now = 0;

  beforeEach(async () => {
    dataDir = await mkdtemp(path.join(tmpdir(), 'standins-'));
    standins = await startStandins({ dataDir, port: 0, seed: 'test' });
    g = httpGateways(allAt(standins.url));
    now = Date.now();
    await g.simulation?.remember({
      sold: [],
      assigned: [],
      handset: [],
      portOuts: [],
      scores: [],
      givenUp: [],
      lines: [
        { e164: LINE, lineType: 'landline', carrier: 'Harth Telephone', reachable: true },
        { e164: MOBILE, lineType: 'mobile', carrier: 'Tessary Wireless', reachable: true },
      ],
      records: [
        RECORD,
        { ...RECORD, pin: '7144', answersRecords: false, numbers: [{ e164: MOBILE, active: true }], billingNumber: '' },
      ],
    });
  });
  afterEach(async () => {
    await standins.stop();
    await rm(dataDir, { recursive: true, force: true });
  });

  const forward = async (ms: number): Promise<OutsideEvent[]> => {
    now += ms;
    await g.simulation?.setClock(now);
    return (await g.feed.after(0, 1000)).events as OutsideEvent[];
  };
  const of = <K extends OutsideEvent['kind']>(events: OutsideEvent[], kind: K) =>
    events.filter((e): e is Extract<OutsideEvent, { kind: K }> => e.kind === kind);

  it('hands a record out without its PIN, and none where the carrier does not', async () => {
    const record = await g.bureau.record([LINE]);
    expect(record?.holderName).toBe('NORTHBANK SEED LIBRARY');
    expect(JSON.stringify(record)).not.toContain('pin');
    expect(await g.bureau.record([MOBILE])).toBeNull();
  });

  it('rejects what differs from its record, and says which field, not what stands there', async () => {
    await g.bureau.submit('p:1', { ...FILING, accountNumber: '40712', holderName: 'Northbank Seeds' });
    const [rejected] = of(await forward(6 * DAY), 'port.rejected');
    expect(rejected?.reasons.map((r) => r.field)).toEqual(['holderName', 'accountNumber']);
    expect(JSON.stringify(rejected)).not.toContain('0040712');
  });

  it('accepts a good request once, changes over at ten on a business day, and lands soon after', async () => {
    for (let i = 0; i < 2; i++) await g.bureau.submit('p:1', FILING);
    const accepted = of(await forward(6 * DAY), 'port.accepted');
    expect(accepted.length).toBe(1);
    const foc = accepted[0]?.focAt ?? 0;
    expect(isBusinessDay(dayIn(foc, ZONE))).toBeTrue();
    expect(new Intl.DateTimeFormat('en-US', { timeZone: ZONE, hour: 'numeric', hour12: false }).format(foc)).toBe('10');
    const events = await forward(20 * DAY);
    const [cut] = of(events, 'port.cutting-over');
    const [done] = of(events, 'port.completed');
    expect(cut?.at).toBe(foc);
    expect((done?.at ?? 0) - foc).toBeLessThan(DAY / 4);
    await g.bureau.snapBack('p:return', 'p:1');
    expect(of(await forward(DAY), 'port.returned').length).toBe(1);
  });

  it('takes a wireless port by PIN, in hours, and refuses the wrong one', async () => {
    const wireless = { ...FILING, numbers: [MOBILE], billingNumber: '' };
    await g.bureau.submit('w:1', { ...wireless, pin: '0000' });
    expect(of(await forward(4 * DAY), 'port.rejected')[0]?.reasons.map((r) => r.code)).toContain('wrong-pin');
    await g.bureau.submit('w:2', { ...wireless, pin: '7144' });
    expect(of(await forward(4 * DAY), 'port.accepted').map((e) => e.key)).toEqual(['w:2']);
  });

  it('does not work ports on a Sunday, and cancels what has not changed over', async () => {
    await g.bureau.submit('p:1', FILING);
    await forward(6 * DAY);
    let sunday = now;
    while (new Date(sunday).getUTCDay() !== 0) sunday += DAY;
    await g.bureau.moveDate('p:d', 'p:1', new Date(sunday + 14 * DAY).toISOString().slice(0, 10));
    expect(of(await forward(DAY / 3), 'port.date-refused').length).toBe(1);
    await g.bureau.cancel('p:c', 'p:1');
    expect(of(await forward(40 * DAY), 'port.completed').length).toBe(0);
  });

  it('text-enables a landline under its holder’s name only, and never a mobile', async () => {
    const filing = { ...FILING, e164: LINE };
    await g.hosting.file('h:1', { ...filing, holderName: 'Somebody Else' });
    await g.hosting.file('h:2', filing);
    await g.hosting.file('h:3', { ...filing, e164: MOBILE });
    const events = await forward(5 * DAY);
    expect(
      of(events, 'hosting.refused')
        .map((e) => e.key)
        .sort(),
    ).toEqual(['h:1', 'h:3']);
    expect(of(events, 'hosting.approved').map((e) => e.key)).toEqual(['h:2']);
    await g.hosting.callWithCode('c', LINE);
    const texts = (await (await fetch(`${standins.url}/handset/phones/${encodeURIComponent(LINE)}`)).json()) as {
      texts: { text: string }[];
    };
    const code = /is ([\d ]+)\./.exec(texts.texts[0]?.text ?? '')?.[1] ?? '';
    expect(await g.hosting.confirmCode(LINE, '000000')).toBeFalse();
    expect(await g.hosting.confirmCode(LINE, code)).toBeTrue();
  });

  it('keeps a number aside for one, refuses it to another, and lets it go when the time is over', async () => {
    const wish = LOCAL_551;
    const [first] = (await g.exchange.search(wish, 1)).offers;
    const e164 = first?.e164 ?? '';
    await g.exchange.hold('mine', e164, now + 600_000);
    await g.exchange.hold('mine', e164, now + 700_000);
    await expectAsync(g.exchange.hold('other', e164, now + 600_000)).toBeRejectedWithError(GatewayRefused);
    expect((await g.exchange.search(wish, 50)).offers.some((o) => o.e164 === e164)).toBeFalse();
    await forward(800_000);
    expect((await g.exchange.search(wish, 50)).offers.some((o) => o.e164 === e164)).toBeTrue();
  });

  it('says how many there are in all, counts neighbours by all that is asked, and leaves out what is not wanted', async () => {
    const wish = LOCAL_551;
    const { total, offers } = await g.exchange.search(wish, 1);
    expect(offers.length).toBe(1);
    expect(total).toBeGreaterThan(1);
    expect(await g.exchange.stock({ ...wish, areaCodes: ['551', '973'] })).toEqual(
      jasmine.objectContaining({ '551': total }),
    );
    const pictured = await g.exchange.stock({ ...LOCAL_551, capabilities: ['pictures'] });
    const any = await g.exchange.stock(LOCAL_551);
    expect(pictured['551'] ?? 0).toBeLessThan(any['551'] ?? 0);
    const less = await g.exchange.search({ ...wish, except: [offers[0]?.e164 ?? ''] }, 1);
    expect(less.total).toBe(total - 1);
  });

  it('sells nothing that is somebody’s line already', async () => {
    // However many somebody has already.
    const owned = Array.from({ length: 20_000 }, (_, i) => `+1201555${String(i).padStart(4, '0')}`);
    expect((await g.exchange.search({ ...LOCAL_551, except: owned }, 100)).total).toBeGreaterThan(0);
    const before = await g.exchange.search(LOCAL_551, 100);
    const e164 = before.offers[0]?.e164 ?? '';
    await standins.store.run(`INSERT INTO line VALUES ($1, 'mobile', 'Nimbrel Mobile', 1)`, [e164]);
    expect((await g.exchange.search(LOCAL_551, 100)).total).toBe(before.total - 1);
    await expectAsync(g.exchange.hold('late', e164, now + 600_000)).toBeRejectedWithError(GatewayRefused);
  });

  it('leases a short code for a programme, which the networks look at by criteria of their own', async () => {
    const { offers } = await g.exchange.search({ ...LOCAL_551, kind: 'short code', areaCodes: [] }, 3);
    const programme = {
      nameLine: 'Heron Lane',
      legalName: 'Heron Lane Bakery LLC',
      name: 'Loaf alerts',
      what: 'One text when a loaf people ordered is ready.',
      agreement: 'Customers tick a box at the counter that says so.',
      sample: 'Heron Lane: your rye is ready. Reply STOP to end.',
      help: 'heron.example/help',
    };
    const [first, second, third] = offers.map((o) => o.e164);
    await g.exchange.order('code-1', first ?? '', programme);
    await g.exchange.order('code-2', second ?? '', { ...programme, sample: 'Your rye is ready. Come by.' });
    await g.exchange.order('code-3', third ?? '', null);
    await forward(80 * 86_400_000);
    const told = (await g.feed.after(0, 100)).events;
    const failed = told.filter((e) => e.kind === 'order.failed').map((e) => [e.key, e.reason]);
    expect(told.filter((e) => e.kind === 'order.filled').map((e) => e.key)).toEqual(['code-1']);
    expect(failed).toEqual([
      ['code-2', jasmine.stringMatching(/does not say who sends it/)],
      ['code-3', jasmine.stringMatching(/none was filed/)],
    ]);
  });

  it('finds by digits and abilities, and has the one toll-free number set aside for fiction', async () => {
    const wish = {
      country: 'US',
      kind: 'local' as const,
      areaCodes: ['551'],
      pattern: '5?501',
      capabilities: ['pictures'],
      except: [],
    };
    const { offers: found } = await g.exchange.search(wish, 50);
    expect(found.length).toBeGreaterThan(0);
    expect(found.every((o) => o.capabilities.includes('pictures'))).toBeTrue();
    expect((await g.exchange.search({ ...wish, pattern: '999' }, 50)).offers).toEqual([]);
    const { offers: free } = await g.exchange.search(
      { ...wish, kind: 'toll-free', pattern: '', capabilities: [], except: [] },
      5,
    );
    expect(free.map((o) => [o.e164, o.monthly])).toEqual([['+18005550199', 2_400_000]]);
  });

  it('takes a sender ID where it is free or registered, and nowhere else', async () => {
    const text = (key: string, to: string) => ({
      key,
      from: 'HERONLANE',
      to,
      text: 'Hello',
      segments: 1,
      readUpTo: 1_000_000_000,
      takeBy: 1e15,
    });
    await g.network.send(text('gb', '+447700900123'));
    await expectAsync(g.network.send(text('au', '+61491570006'))).toBeRejectedWithError(/not registered in AU/);
    await expectAsync(g.network.send(text('us', '+12125550123'))).toBeRejectedWithError(/take no sender IDs/);
    const names = { legalName: 'Heron Lane Bakery LLC', nameLine: 'Heron Lane' };
    await g.registrar.registerSenderId('s:1', { text: 'HERONLANE', code: 'AU', ...names });
    await g.registrar.registerSenderId('s:2', { text: 'FAMOUS', code: 'AU', ...names });
    const events = await forward(8 * DAY);
    expect(of(events, 'sender.registered').map((e) => e.key)).toEqual(['s:1']);
    expect(of(events, 'sender.refused').map((e) => e.key)).toEqual(['s:2']);
    await g.network.send(text('au2', '+61491570006'));
  });

  it('spells addresses as the post does, and knows no post box', async () => {
    const a = { street: '9 mill st', city: 'quillmere', state: 'NJ', postalCode: '07030' };
    expect(await g.addresses.check(a)).toEqual({
      verdict: 'better',
      better: { ...a, street: '9 Mill Street', city: 'Quillmere' },
    });
    expect((await g.addresses.check({ ...a, street: 'PO Box 9' })).verdict).toBe('unknown');
    expect((await g.addresses.check({ ...a, street: '9 Mill Street', city: 'Quillmere' })).verdict).toBe('good');
  });

  it('tells of a wish to take a number away, and lets it go only when it was let through', async () => {
    const ask = (key: string): Promise<unknown> =>
      fetch(`${standins.url}/bureau/port-outs`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ key, e164: '+15515550142', carrier: 'Nimbrel Mobile' }),
      });
    for (const key of ['out-1', 'out-2']) await ask(key);
    const asked = of(await forward(1000), 'port-out.asked');
    expect(asked.map((e) => [e.key, e.deadline - e.at])).toEqual([
      ['out-1', 2 * DAY],
      ['out-2', 2 * DAY],
    ]);
    await g.bureau.answerPortOut('a1', 'out-1', true);
    await g.bureau.answerPortOut('a2', 'out-2', false);
    expect(of(await forward(DAY), 'port-out.left').map((e) => e.key)).toEqual(['out-2']);
  });
});
