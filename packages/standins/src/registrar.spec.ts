import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  allAt,
  httpGateways,
  type BrandFiling,
  type CampaignFiling,
  type Gateways,
  type OutsideEvent,
  type TollFreeFiling,
} from '@long-gate/gateways';
import { startStandins, type Standins } from './standins.js';
import { BRAND } from './testing/filings.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const OWNER = '+17325550134';
const SOLE: BrandFiling = { ...BRAND, form: 'sole proprietor', legalName: 'Orrin Vale', taxNumber: '', mobile: OWNER };
const CAMPAIGN: CampaignFiling = {
  brandKey: 'b:1',
  nameLine: 'Heron Lane',
  legalName: 'Heron Lane Bakery LLC',
  useCase: 'marketing',
  description: 'Heron Lane sends people who joined its list news about bread, about twice a month.',
  agreement: 'On the page heron.example/join people enter their number and tick a box of its own for news.',
  samples: ['Heron Lane: rye from $4. Reply STOP to end.', 'Heron Lane: bread class on Saturday. Reply STOP to end.'],
  subUses: [],
  hasLinks: false,
  hasPhones: false,
  ageRestricted: false,
  lending: false,
  optInMessage:
    'Heron Lane: you joined, 2 texts a month. Msg and data rates may apply. Reply HELP for help, STOP to end.',
  optOutMessage: 'Heron Lane: you will get no more texts.',
  helpMessage: 'Heron Lane: write to office@heron.example.',
  privacyUrl: 'https://heron.example/privacy',
  privacyWords: '',
  termsUrl: 'https://heron.example/terms',
};
const TOLL_FREE: TollFreeFiling = {
  e164: '+18005550199',
  nameLine: 'Heron Lane',
  legalName: 'Heron Lane Bakery LLC',
  website: 'https://heron.example',
  useCase: 'customer-care',
  volume: 1000,
  description: 'Heron Lane answers customers who call the bakery about their orders.',
  agreement: 'People write to the number first; it stands on the page heron.example/orders.',
  samples: ['Heron Lane: your order is ready.'],
  proof: 'https://heron.example/orders',
};

describe('the registrar', () => {
  let dataDir = '';
  let standins: Standins;
  let g: Gateways;
  let now = 0;
  let seen = 0;

  beforeEach(async () => {
    dataDir = await mkdtemp(path.join(tmpdir(), 'registrar-'));
    standins = await startStandins({ dataDir, port: 0, seed: 'test' });
    g = httpGateways(allAt(standins.url));
    now = Date.now();
    seen = 0;
  });
  afterEach(async () => {
    await standins.stop();
    await rm(dataDir, { recursive: true, force: true });
  });

  /** What it tells until so much later. */
  async function after(ms: number): Promise<OutsideEvent[]> {
    now += ms;
    await g.simulation?.setClock(now);
    const { events } = await g.feed.after(seen, 500);
    seen = events.at(-1)?.seq ?? seen;
    return events as OutsideEvent[];
  }
  const kinds = (events: readonly OutsideEvent[]): string[] =>
    events.filter((e) => e.kind !== 'filing.stage').map((e) => e.kind);
  const fromPhone = (phone: string, to: string, text: string) =>
    fetch(`${standins.url}/handset/phones/${encodeURIComponent(phone)}/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to, text }),
    });

  it('tells each stage of a filing once, in order, before it decides', async () => {
    await g.registrar.submitCampaign('c:1', CAMPAIGN);
    await g.registrar.submitCampaign('c:1', CAMPAIGN);
    const told = (await after(6 * DAY)).map((e) => (e.kind === 'filing.stage' ? e.stage : e.kind));
    expect(told).toEqual([
      'received',
      'checked by machine',
      'with a reviewer',
      'with the networks',
      'campaign.registered',
    ]);
  });

  it('says field by field what it found, and hears an objection that names the tax office’s letter', async () => {
    await g.registrar.submitBrand('b:1', { ...BRAND, taxNumber: '36-1234500' });
    const declined = (await after(3 * DAY)).find((e) => e.kind === 'brand.declined');
    expect(declined?.kind === 'brand.declined' ? declined.results.map((r) => `${r.field} ${r.result}`) : null).toEqual([
      'legalName not checked',
      'taxNumber differs',
      'street matches',
      'website matches',
      'email matches',
    ]);
    await g.registrar.appealBrand('b:1:a', {
      brandKey: 'b:1',
      text: 'You are simply wrong about our tax number, we say.',
    });
    expect(kinds(await after(4 * DAY))).toEqual(['brand.declined']);
    await g.registrar.appealBrand('b:1:b', { brandKey: 'b:1', text: 'The letter 147C of the tax office shows both.' });
    expect(kinds(await after(4 * DAY))).toEqual(['brand.registered']);
  });

  it('asks a sole proprietor’s owner, counts only a YES in time, and asks again when told to', async () => {
    await g.registrar.submitBrand('s:1', SOLE);
    expect(kinds(await after(3 * DAY))).toEqual(['brand.confirmation-asked', 'brand.confirmation-lapsed']);
    await fromPhone(OWNER, 'registrar', 'YES');
    expect(kinds(await after(HOUR)))
      .withContext('too late')
      .toEqual([]);
    await g.registrar.askConfirmation('s:1:ask', { brandKey: 's:1', mobile: OWNER });
    expect(kinds(await after(HOUR))).toEqual(['brand.confirmation-asked']);
    await fromPhone(OWNER, 'REGISTRAR', 'who is this?');
    await fromPhone('+17325550135', 'REGISTRAR', 'Yes');
    expect(kinds(await after(HOUR))).toEqual([]);
    await fromPhone(OWNER, 'REGISTRAR', 'Yes!');
    expect(kinds(await after(2 * DAY)))
      .withContext('and its time does not lapse afterwards')
      .toEqual(['brand.registered']);
  });

  it('lets one mobile confirm three brands and no fourth', async () => {
    for (const n of [1, 2, 3, 4]) await g.registrar.submitBrand(`s${n}:1`, { ...SOLE, legalName: `Orrin Vale ${n}` });
    await after(2 * DAY);
    for (const n of [1, 2, 3, 4])
      await g.registrar.askConfirmation(`s${n}:again`, { brandKey: `s${n}:1`, mobile: OWNER });
    await after(HOUR);
    for (let i = 0; i < 4; i++) await fromPhone(OWNER, 'REGISTRAR', 'YES');
    expect(kinds(await after(HOUR)))
      .withContext('each YES answers one question')
      .toEqual(['brand.registered', 'brand.registered', 'brand.registered', 'brand.declined']);
    await g.registrar.submitBrand('s5:1', { ...SOLE, legalName: 'Orrin Vale 5' });
    const fifth = (await after(3 * DAY)).find((e) => e.kind === 'brand.declined');
    expect(fifth?.kind === 'brand.declined' ? fifth.reasons[0]?.code : '').toBe('mobile-used-up');
  });

  it('vets for a score, and looks again on objection, never for less', async () => {
    const score = async (key: string, objection: string): Promise<number> => {
      await g.registrar.vetBrand(key, { brandKey: 'b:1', legalName: BRAND.legalName, objection });
      const told = (await after(3 * DAY)).find((e) => e.kind === 'vetting.scored');
      return told?.kind === 'vetting.scored' ? told.score : -1;
    };
    const first = await score('v1', '');
    expect(first).toBeGreaterThanOrEqual(35);
    expect(await score('v2', 'We are forty years old.')).toBeGreaterThanOrEqual(first);
  });

  it('suspends a campaign that too many people stop, takes nothing from its numbers, and lifts that on a fair answer', async () => {
    const ours = '+12015550142';
    await g.registrar.assignNumber('a1', ours, 'c:1', true);
    await after(HOUR);
    const text = (key: string, to: string) => ({
      key,
      from: ours,
      to,
      text: 'Heron Lane: rye.',
      segments: 1,
      readUpTo: 1_000_000_000,
      takeBy: 1e15,
    });
    const phones = Array.from({ length: 8 }, (_, i) => `+1212555010${i}`);
    for (const [i, phone] of phones.entries()) await g.network.send(text(`t${i}`, phone));
    for (const phone of phones.slice(0, 4)) await fromPhone(phone, ours, 'STOP');
    await fromPhone(phones[0] ?? '', ours, 'stop.');
    expect(kinds(await after(HOUR)))
      .withContext('four people, one of them twice')
      .not.toContain('campaign.suspended');
    await fromPhone(phones[4] ?? '', ours, 'Stop');
    await fromPhone(phones[5] ?? '', ours, 'STOP');
    expect(kinds(await after(HOUR)).filter((k) => k === 'campaign.suspended').length).toBe(1);
    await expectAsync(g.network.send(text('t9', '+12125550109'))).toBeRejectedWithError(/suspended/);
    await g.registrar.answerSuspension('c:1:x', {
      campaignKey: 'c:1',
      text: 'We do not see what we did wrong here at all.',
    });
    expect(kinds(await after(3 * DAY))).toEqual(['campaign.suspended']);
    await g.registrar.answerSuspension('c:1:y', {
      campaignKey: 'c:1',
      text: 'We removed everybody who had not joined by themselves from the list.',
    });
    expect(kinds(await after(3 * DAY))).toEqual(['campaign.reinstated']);
    await g.network.send(text('t10', '+12125550109'));
    await g.registrar.renewCampaign('c:1:r', { campaignKey: 'c:1' });
    expect(kinds(await after(DAY))).toContain('campaign.renewed');
  });

  it('suspends nothing where those who stop are few of those it reached', async () => {
    const ours = '+12015550142';
    await g.registrar.assignNumber('a1', ours, 'c:1', true);
    await after(HOUR);
    const phones = ['212', '646'].flatMap((area) =>
      Array.from({ length: 60 }, (_, i) => `+1${area}55501${String(i).padStart(2, '0')}`),
    );
    const lot = (some: readonly string[]) =>
      g.network.sendLot(
        some.map((to) => ({
          key: `t-${to}`,
          from: ours,
          to,
          text: 'Heron Lane: rye.',
          segments: 1,
          readUpTo: 1_000_000_000,
          takeBy: 1e15,
        })),
      );
    await lot(phones);
    // Five of 120 are less than a twentieth; six are not.
    for (const phone of phones.slice(0, 5)) await fromPhone(phone, ours, 'STOP');
    expect(kinds(await after(HOUR))).not.toContain('campaign.suspended');
    await fromPhone(phones[5] ?? '', ours, 'STOP');
    expect(kinds(await after(HOUR))).toContain('campaign.suspended');
  });

  it('takes a moved number out of its campaign first, for up to three days without service', async () => {
    const ours = '+12015550142';
    const text = (key: string) => ({
      key,
      from: ours,
      to: '+12125550101',
      text: 'Heron Lane: rye.',
      segments: 1,
      readUpTo: 1_000_000_000,
      takeBy: 1e15,
    });
    await g.registrar.assignNumber('a1', ours, 'c1:1', false);
    expect(kinds(await after(21 * HOUR))).toEqual(['assignment.confirmed']);
    await g.network.send(text('t1'));
    await g.registrar.assignNumber('a2', ours, 'c2:1', false);
    await expectAsync(g.network.send(text('t2'))).toBeRejectedWithError(/no registered campaign/);
    expect(kinds(await after(19 * HOUR))).not.toContain('assignment.confirmed');
    expect(kinds(await after(54 * HOUR))).toContain('assignment.confirmed');
    await g.network.send(text('t3'));
  });

  it('verifies a toll-free number that shows where people agree, and takes no text from it before', async () => {
    const text = {
      key: 'f1',
      from: TOLL_FREE.e164,
      to: '+12125550101',
      text: 'Heron Lane: ready.',
      segments: 1,
      readUpTo: 1_000_000_000,
      takeBy: 1e15,
    };
    await expectAsync(g.network.send(text)).toBeRejectedWithError(/no registered campaign/);
    await g.registrar.verifyTollFree('n:1', { ...TOLL_FREE, proof: '', samples: ['Your order is ready.'] });
    const declined = (await after(6 * DAY)).find((e) => e.kind === 'toll-free.declined');
    expect(declined?.kind === 'toll-free.declined' ? declined.reasons.map((r) => r.code) : []).toEqual([
      'proof-missing',
      'sample-no-name',
    ]);
    await g.registrar.verifyTollFree('n:2', TOLL_FREE);
    expect(kinds(await after(6 * DAY))).toEqual(['toll-free.verified']);
    await g.network.send(text);
  });
});
