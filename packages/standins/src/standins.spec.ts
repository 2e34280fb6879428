import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  allAt,
  GatewayBusy,
  GatewayNotTaken,
  GatewayRefused,
  httpGateways,
  type Gateways,
  type OutsideEvent,
} from '@long-gate/gateways';
import { startStandins, type Standins } from './standins.js';
import { BRAND } from './testing/filings.js';

const DAY = 86_400_000;

/** The simulated outside takes time, refuses, fails and limits its rate, as the real one would. */
const LOCAL = {
  country: 'US',
  kind: 'local',
  areaCodes: [] as string[],
  pattern: '',
  capabilities: [],
  except: [],
} as const;

/** Nothing unread, and wanted whenever it comes. */
const WANTED = { readUpTo: 1_000_000_000, takeBy: 1e15 };

describe('the stand-ins', () => {
  let dataDir = '';
  let standins: Standins;
  let g: Gateways;
  let now = Date.now();

  beforeEach(async () => {
    dataDir = await mkdtemp(path.join(tmpdir(), 'standins-'));
    standins = await startStandins({ dataDir, port: 0, seed: 'test' });
    g = httpGateways(allAt(standins.url));
    now = Date.now();
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
  const assign = async (e164: string): Promise<void> => {
    await g.registrar.assignNumber(`a-${e164}`, e164, 'c1', false);
    await forward(DAY);
  };

  it('sells a number once, after a moment, and has none in a sold-out area code', async () => {
    expect((await g.exchange.search({ ...LOCAL, areaCodes: ['201'] }, 10)).offers).toEqual([]);
    const [offer] = (await g.exchange.search({ ...LOCAL, areaCodes: ['551'] }, 10)).offers;
    const e164 = offer?.e164 ?? '';
    await g.exchange.order('k1', e164, null);
    await g.exchange.order('k1', e164, null);
    await g.exchange.order('k2', e164, null);
    expect((await g.feed.after(0, 10)).events).toEqual([]);
    const events = await forward(60_000);
    expect(events.map((e) => [e.kind, e.key]).sort()).toEqual([
      ['order.failed', 'k2'],
      ['order.filled', 'k1'],
    ]);
    expect((await g.exchange.search({ ...LOCAL, areaCodes: ['551'] }, 100)).offers.map((o) => o.e164)).not.toContain(
      e164,
    );
    await expectAsync(g.exchange.order('k3', '+15515559999', null)).toBeRejectedWithError(GatewayRefused);
  });

  it('registers a good brand after a day or two, and declines a bad one with reasons tied to fields', async () => {
    await g.registrar.submitBrand('b1', BRAND);
    await g.registrar.submitBrand('b2', { ...BRAND, taxNumber: '36-1234500' });
    await g.registrar.submitBrand('b3', { ...BRAND, street: 'PO Box 3' });
    const decided = (events: readonly OutsideEvent[]) => events.filter((e) => e.kind !== 'filing.stage');
    expect(decided(await forward(DAY / 2))).toEqual([]);
    const events = decided(await forward(2 * DAY));
    const of = (key: string): OutsideEvent | undefined => events.find((e) => e.key === key);
    expect(of('b1')).toEqual(jasmine.objectContaining({ kind: 'brand.registered' }));
    expect(of('b2')).toEqual(
      jasmine.objectContaining({ kind: 'brand.declined', reasons: [jasmine.objectContaining({ field: 'taxNumber' })] }),
    );
    expect(of('b3')).toEqual(
      jasmine.objectContaining({ kind: 'brand.declined', reasons: [jasmine.objectContaining({ field: 'street' })] }),
    );
  });

  it('answers no more than twenty lookups in a second', async () => {
    const answers = await Promise.allSettled(
      Array.from({ length: 40 }, (_, i) =>
        g.lines.lookup(`key-of-${i}`, `+1212555${String(100 + i).padStart(4, '0')}`),
      ),
    );
    const busy = answers.filter((a) => a.status === 'rejected' && a.reason instanceof GatewayBusy).length;
    expect(answers.length - busy).toBeLessThanOrEqual(20);
    expect(busy).toBeGreaterThanOrEqual(20);
    const again = await new Promise((r) => setTimeout(r, 1100)).then(() =>
      g.lines.lookup('key-of-later', '+12125550100'),
    );
    const first = answers[0];
    expect(first?.status === 'fulfilled' && first.value.lineType).toBe(again.lineType);
  });

  it('says whether a number was given up after a day, the same for the same question, and never of the future', async () => {
    const told = (e164: string, day: string): { e164: string; day: string } => ({ e164, day });
    await g.simulation?.remember({
      sold: [],
      assigned: [],
      lines: [],
      handset: [],
      records: [],
      portOuts: [],
      scores: [],
      givenUp: [told('+12125550171', '2025-06-10'), told('+12125550172', '2199-01-01')],
    });
    const ask = async (key: string, e164: string, day: string): Promise<string> =>
      (await g.lines.reassigned(key, e164, day)).answer;
    expect(await ask('given-up-before', '+12125550171', '2025-06-09')).toBe('yes');
    expect(await ask('given-up-after-1', '+12125550171', '2025-06-10')).toBe('no');
    expect(await ask('given-up-in-time', '+12125550172', '2025-06-09')).not.toBe('yes');
    expect(await ask('given-up-long-ago', '+12125550173', '2019-01-01'))
      .withContext('before the database began')
      .toBe('no data');
    expect(await ask('given-up-before', '+12125550171', '2026-01-01'))
      .withContext('what was paid for under a key')
      .toBe('yes');
  });

  it('says with a line how its carrier limits texts, the same for all lines of a carrier', async () => {
    const kinds = new Map<string, string>();
    for (let i = 0; i < 18; i++) {
      const a = await g.lines.lookup(`kind-${i}-0001`, `+1212555${String(200 + i).padStart(4, '0')}`);
      if (a.lineType !== 'mobile') continue;
      expect(kinds.get(a.carrier) ?? a.carrierKind).toBe(a.carrierKind);
      kinds.set(a.carrier, a.carrierKind);
    }
    expect([...kinds].sort()).toEqual([
      ['Cobalt Ridge Cellular', 'C'],
      ['Nimbrel Mobile', 'B'],
      ['Tessary Wireless', 'A'],
    ]);
  });

  it('carries texts only from a number in a registered campaign, and each key once', async () => {
    const text = { key: 't1', from: '+15515550101', to: '+12125550123', text: 'Hello', segments: 1, ...WANTED };
    await expectAsync(g.network.send(text)).toBeRejectedWithError(GatewayRefused);
    await assign('+15515550101');
    await g.network.send(text);
    await g.network.send(text);
    const receipts = (await forward(DAY)).filter((e) => e.kind === 'text.delivered' || e.kind === 'text.failed');
    expect(receipts.map((e) => e.key)).toEqual(['t1']);
    const handed = (await (await fetch(`${standins.url}/network/texts?prefix=t1`)).json()) as { received: number }[];
    expect(handed.map((t) => t.received)).toEqual([2]);
  });

  it('takes a lot, each text of it by itself, and each key once also there', async () => {
    await assign('+15515550101');
    const text = { from: '+15515550101', to: '+12125550123', text: 'Hello', segments: 1, ...WANTED };
    const lot = [
      { ...text, key: 'l1' },
      { ...text, key: 'l2', from: '+15515550109' },
      { ...text, key: 'l3', takeBy: 5 },
      { ...text, key: 'l4', to: '+12125550124' },
    ];
    const kinds = (await g.network.sendLot(lot)).map((a) => (a === null ? 'taken' : a.constructor.name));
    expect(kinds).toEqual(['taken', 'GatewayRefused', 'GatewayNotTaken', 'taken']);
    expect((await g.network.sendLot([...lot.slice(0, 1), { ...text, key: 'l5' }])).every((a) => a === null)).toBeTrue();
    expect((await g.network.known(['l1', 'l2', 'l3', 'l4', 'l5'])).sort()).toEqual(['l1', 'l4', 'l5']);
    const receipts = (await forward(DAY)).filter((e) => e.kind === 'text.delivered' || e.kind === 'text.failed');
    expect(receipts.map((e) => e.key).sort()).toEqual(['l1', 'l4', 'l5']);
  });

  it('answers whoever waits for the feed as soon as there is something, and after a while where there is not', async () => {
    const end = new AbortController();
    const at = Date.now();
    await g.feed.wait(0, 300, end.signal);
    expect(Date.now() - at).toBeGreaterThan(250);
    expect((await g.feed.after(0, 10)).events.length).toBe(0);
    const waits = g.feed.wait(0, 20_000, end.signal);
    const told = Date.now();
    await fetch(`${standins.url}/handset/phones/212-555-0123/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to: '551-555-0101', text: 'Hello' }),
    });
    await waits;
    expect(Date.now() - told).toBeLessThan(2_000);
    expect((await g.feed.after(0, 10)).events.length).toBe(1);
  });

  it('works off by itself what falls due, without anybody asking', async () => {
    await assign('+15515550101');
    await forward(DAY);
    const [last] = (await g.feed.after(0, 1000)).events.slice(-1);
    // Receipts take from a second or two to minutes; of eight some come soon.
    const lot = Array.from({ length: 8 }, (_, i) => ({
      key: `soon ${i}`,
      from: '+15515550101',
      to: '+12125550123',
      text: `Hello ${i}`,
      segments: 1,
      readUpTo: 1000,
      takeBy: now + DAY,
    }));
    await g.network.sendLot(lot);
    await g.feed.wait(last?.seq ?? 0, 20_000, new AbortController().signal);
    const [first] = (await g.feed.after(last?.seq ?? 0, 10)).events;
    expect(first?.['key']).toMatch(/^soon \d$/);
  });

  it('takes no text past its moment, nor one to a phone of which something is unread, and says what it has', async () => {
    await assign('+15515550101');
    const text = { from: '+15515550101', to: '+12125550123', text: 'Hello', segments: 1 };
    await expectAsync(g.network.send({ ...text, key: 'late', ...WANTED, takeBy: 5 })).toBeRejectedWith(
      new GatewayNotTaken('This text was wanted earlier.', 'too-late'),
    );
    await fetch(`${standins.url}/handset/phones/212-555-0123/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to: '551-555-0101', text: 'STOP' }),
    });
    const place = (await g.feed.after(0, 1000)).events.find((e) => e['kind'] === 'text.inbound')?.seq ?? 0;
    await expectAsync(g.network.send({ ...text, key: 'blind', ...WANTED, readUpTo: place - 1 })).toBeRejectedWithError(
      GatewayNotTaken,
    );
    // To somebody else it may go; and to this one when it was read.
    await g.network.send({ ...text, key: 'other', to: '+12125550124', ...WANTED, readUpTo: place - 1 });
    await g.network.send({ ...text, key: 'read', ...WANTED, readUpTo: place });
    expect((await g.network.known(['late', 'blind', 'other', 'read'])).sort()).toEqual(['other', 'read']);
  });

  it('fails texts to lines no text reaches, with the reason by receipt', async () => {
    await assign('+15515550101');
    await g.simulation?.remember({
      sold: [],
      assigned: [],
      lines: [{ e164: '+12125550199', lineType: 'landline', carrier: 'Harth Telephone', reachable: true }],
      handset: [],
      records: [],
      portOuts: [],
      scores: [],
      givenUp: [],
    });
    await g.network.send({
      key: 't2',
      from: '+15515550101',
      to: '+12125550199',
      text: 'Hello',
      segments: 1,
      ...WANTED,
    });
    const events = await forward(DAY);
    expect(events.find((e) => e.key === 't2')).toEqual(
      jasmine.objectContaining({ kind: 'text.failed', failure: 'not-textable' }),
    );
  });

  it('lets a handset reply, and keeps everything over a restart', async () => {
    await fetch(`${standins.url}/handset/phones/212-555-0123/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to: '551-555-0101', text: 'STOP' }),
    });
    const before = await g.feed.after(0, 10);
    expect(before.events[0]).toEqual(
      jasmine.objectContaining({ kind: 'text.inbound', from: '+12125550123', to: '+15515550101', text: 'STOP' }),
    );
    await standins.stop();
    standins = await startStandins({ dataDir, port: 0, seed: 'test' });
    expect((await httpGateways(allAt(standins.url)).feed.after(0, 10)).events).toEqual(before.events);
  });
});
