import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { until, type Person } from '../running.js';
import { Desk } from './desk.js';
import type { Screen } from './screen.js';

const LIST = `Legal name,Name line,Legal form,Tax number,Street,City,State,ZIP,Website,E-mail,Mobile,Contact,Title,Telephone,Industry
"Tern Bay Kayaks LLC",Tern Bay,company,36-2234567,2 Slip Road,Aldersund,NJ,07030,https://ternbay.example,desk@ternbay.example,,Ilse Marn,owner,201-555-0166,retail
Petra Quill,Quill Bindery,sole proprietor,,5 Clay Street,Quillmere,NJ,08701,https://quillbindery.example,petra@quillbindery.example,732-555-0177,Petra Quill,owner,732-555-0177,arts and recreation
Aldersund Lifeboat Fund,Lifeboat Fund,nonprofit,22-7140399,1 Pier Head,Aldersund,NJ,07030,https://lifeboat.example,crew@lifeboat.example,,Bo Quaife,secretary,201-555-0167,non-profit work
Nobody’s Club,,club,,,,,,,,,,,,
`;
interface Brand {
  state: string;
  version: number;
  score: number | null;
}
interface Campaign {
  id: string;
  name: string;
  state: string;
  version: number;
  body: Record<string, unknown>;
  reasons: { code: string }[];
  numbers: { e164: string }[];
}
interface Dossier {
  brand: Brand;
  campaigns: Campaign[];
}
interface Number_ {
  id: string;
  e164: string;
  clearance: string;
}

describe('registration in depth', () => {
  let desk: Desk;
  let s: Screen;
  let person: Person;
  const at = (nameLine: string, rest: string): string => `/businesses/${desk.business(nameLine)}/${rest}`;
  const dossier = (nameLine: string): Promise<Dossier> => person.ok<Dossier>('GET', at(nameLine, 'registration'));
  const numbers = async (): Promise<Number_[]> =>
    (await person.ok<{ items: Number_[] }>('GET', at('Saltmarsh Ferries', 'numbers'))).items;
  const clearance = async (e164: string): Promise<string> =>
    (await numbers()).find((n) => n.e164 === e164)?.clearance ?? '';
  const fromPhone = (phone: string, to: string, text: string): Promise<Response> =>
    fetch(`${desk.running.outside}/handset/phones/${encodeURIComponent(phone)}/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to, text }),
    });
  /** Lets days pass until what is waited for has come. */
  const days = async (test: () => Promise<boolean>): Promise<void> => {
    for (let i = 0; i < 7 && !(await test()); i++) await person.jump('day');
    await until(test);
  };

  beforeAll(async () => {
    desk = await Desk.open();
    ({ screen: s, person } = desk);
  });
  afterAll(async () => {
    expect(s.errors).toEqual([]);
    await desk.close();
  });

  it('begins the dossiers of several businesses from one list, and says what is wrong with a line', async () => {
    await s.go('registration/dossiers');
    await s.see('Begin from a CSV…');
    const file = path.join(desk.running.dataDir, 'businesses.csv');
    await writeFile(file, LIST);
    const input = await s.page.waitForSelector('input[type=file]');
    await (input as import('puppeteer-core').ElementHandle<HTMLInputElement>).uploadFile(file);
    await s.see('“club” is no legal form.');
    await s.press('Begin 3');
    await s.see('3 dossiers are begun.');
    await person.ok('GET', '/session');
    for (const name of ['Tern Bay', 'Quill Bindery', 'Lifeboat Fund']) {
      const b = await person.ok<Record<string, unknown> & { version: number }>('GET', at(name, '').replace(/\/$/, ''));
      await person.ok(
        'PUT',
        at(name, '').replace(/\/$/, ''),
        { ...b, taxStatus: 'taxable' },
        { 'if-match': `"${b.version}"` },
      );
      await person.ok('POST', at(name, 'top-ups'), { amount: 200_000_000 });
      await person.ok('POST', at(name, 'account'), { keepAddress: true });
    }
    await days(async () => {
      await person.ok('GET', '/session');
      return person.businesses.every((b) => b.accountState === 'open');
    });
  });

  it('registers a company, declined for two reasons and approved at the second try', async () => {
    await desk.at('Tern Bay', 'registration/brand');
    await s.press('Submit…');
    await s.press('Submit for 4.50');
    await s.see('Wait for the registrar.');
    await days(async () => (await dossier('Tern Bay')).brand.state === 'registered');
    await s.see('As in the tax record.');
    await s.press('Begin a campaign');
    await s.fill('new-name', 'Tours');
    await s.press('Customer care');
    await s.tap('form button[type=submit]');
    await s.see('What is sent, to whom, why');
    await s.fill('description', 'Tern Bay answers questions about tours and boats, so that each tour begins in time.');
    await s.fill(
      'agreement',
      'On the form at our desk a tour is required to be named; below it there is a box of its own for texts.',
    );
    await s.fill('sample0', 'Tern Bay: your tour begins at 9:00 at the slip. Reply STOP to end.');
    await s.fill('privacyUrl', 'https://ternbay.example/privacy');
    await s.fill('termsUrl', 'https://ternbay.example/terms');
    await s.see('Nothing blocks.');
    await s.press('Submit…');
    await s.press('Submit for 15.00');
    await s.see('two to five days; submitted');
    await days(async () => (await dossier('Tern Bay')).campaigns[0]?.state === 'declined');
    expect((await dossier('Tern Bay')).campaigns[0]?.reasons.map((r) => r.code)).toEqual([
      'recipients-not-named',
      'agreement-condition',
    ]);
    await s.see('The description does not say to whom the texts go.');
    await s.see('Agreement is not free: it is a condition, or taken as given.');
    await s.fill(
      'description',
      'Tern Bay answers customers who ask about tours and boats, so that each tour begins in time.',
    );
    await s.fill(
      'agreement',
      'On the form at our desk there is a box of its own for texts; nothing is ticked beforehand.',
    );
    await s.see('Changed since the last submission');
    await s.press('Resubmit…');
    await s.press('Submit for 15.00');
    await days(async () => (await dossier('Tern Bay')).campaigns[0]?.state === 'registered');
    await s.see('Tie numbers to it in Numbers.');
    await s.see('Try 1');
  });

  it('has a company vetted, which raises what it may send', async () => {
    await desk.at('Tern Bay', 'registration/vetting');
    await s.see('not vetted, now');
    await s.press('Have it vetted…');
    await s.press('Vet for 41.50');
    await s.see('Wait for the score.');
    await days(async () => (await dossier('Tern Bay')).brand.score !== null);
    await s.see(`score ${(await dossier('Tern Bay')).brand.score ?? ''}`);
  });

  it('confirms a sole proprietor by a YES on the handset, asked again when the first time went by', async () => {
    await desk.at('Quill Bindery', 'registration/brand');
    await s.press('Submit…');
    await s.press('Submit for 4.50');
    await s.see('Wait for the registrar.');
    for (let i = 0; i < 3 && !(await s.sees('The owner answers YES.')); i++) {
      await person.jump('day');
      if (await s.sees('The owner did not answer in time.')) break;
    }
    await person.jump('day');
    await person.jump('day');
    await s.see('The owner did not answer in time.');
    await s.press('Ask again');
    await person.jump('hour');
    await s.see('The owner answers YES.');
    await fromPhone('+17325550177', 'REGISTRAR', 'Yes');
    await until(async () => (await dossier('Quill Bindery')).brand.state === 'registered');
    await s.see('Name, legal form and tax number are locked.');
    await s.see('Its owner answered YES.');
  });

  it('registers a non-profit for what only a non-profit may have, at its own fee', async () => {
    const brand = (await dossier('Lifeboat Fund')).brand;
    await person.ok(
      'POST',
      at('Lifeboat Fund', 'registration/brand/submissions'),
      {},
      { 'if-match': `"${brand.version}"` },
    );
    await days(async () => (await dossier('Lifeboat Fund')).brand.state === 'registered');
    const refused = await person.call('POST', at('Tern Bay', 'registration/campaigns'), {
      name: 'Alms',
      useCase: 'charity',
    });
    expect([refused.status, refused.body.detail]).toEqual([422, 'Charity is only for a non-profit.']);
    const made = await person.ok<Campaign>('POST', at('Lifeboat Fund', 'registration/campaigns'), {
      name: 'Helpers',
      useCase: 'charity',
    });
    const saved = await person.ok<Campaign>(
      'PUT',
      at('Lifeboat Fund', `registration/campaigns/${made.id}`),
      {
        name: 'Helpers',
        body: {
          ...made.body,
          description:
            'Lifeboat Fund sends people who give to it or help it thanks and news of the boat, once a month.',
          agreement: 'On the paper form at the pier people write their number and tick a box of its own for texts.',
          samples: ['Lifeboat Fund: thank you, the boat has its new radio. Reply STOP to end.'],
          privacyUrl: 'https://lifeboat.example/privacy',
          termsUrl: 'https://lifeboat.example/terms',
        },
      },
      { 'if-match': `"${made.version}"` },
    );
    await person.ok(
      'POST',
      at('Lifeboat Fund', `registration/campaigns/${made.id}/submissions`),
      {},
      { 'if-match': `"${saved.version}"` },
    );
    await days(async () => (await dossier('Lifeboat Fund')).campaigns[0]?.state === 'registered');
    await until(async () =>
      JSON.stringify(await person.ok('GET', at('Lifeboat Fund', 'money'))).includes('campaign Helpers: monthly fee'),
    );
  });

  it('verifies a toll-free number, from which nothing is sent before', async () => {
    await person.ok('POST', at('Saltmarsh Ferries', 'basket'), { e164: '+18005550199', kind: 'toll-free' });
    await person.ok('POST', at('Saltmarsh Ferries', 'orders'), { terms: true });
    await person.jump('hour');
    await until(async () => (await clearance('+18005550199')) === 'number-not-verified');
    const id = (await numbers()).find((n) => n.e164 === '+18005550199')?.id ?? '';
    await desk.at('Saltmarsh Ferries', `registration/toll-free/${id}`);
    await s.see('Nothing shows where people agree.');
    await s.choose('#tf-useCase', 'Customer care');
    await s.choose('#tf-volume', 'up to 1,000');
    await s.fill('tf-description', 'Saltmarsh Ferries answers passengers who call or text the booking line.');
    await s.fill(
      'tf-agreement',
      'Passengers write to the number first; it stands on the page saltmarsh.example/contact.',
    );
    await s.fill('tf-sample0', 'Saltmarsh Ferries: your booking is moved to Friday. Reply STOP to end.');
    await s.fill('tf-proofUrl', 'https://saltmarsh.example/contact');
    await s.press('Submit…');
    await s.press('Submit it');
    await s.see('three to five days; submitted');
    await days(async () => (await clearance('+18005550199')) === 'cleared');
    await s.see('Verified.');
  });

  it('moves a number to another campaign, which leaves it without service for a while', async () => {
    const number = (await numbers()).find((n) => n.e164 === '+15515550188');
    const target = (await dossier('Saltmarsh Ferries')).campaigns.find((c) => c.name === 'Service notices');
    const preview = await person.ok<{ interrupted: string[] }>(
      'POST',
      at('Saltmarsh Ferries', 'numbers/bulk/preview'),
      {
        ids: [number?.id],
        campaignId: target?.id,
      },
    );
    expect(preview.interrupted).toEqual(['+15515550188']);
    await person.ok('POST', at('Saltmarsh Ferries', 'numbers/bulk'), { ids: [number?.id], campaignId: target?.id });
    await until(async () => (await clearance('+15515550188')) === 'registration-pending');
    await desk.at('Saltmarsh Ferries', `registration/campaigns/${target?.id ?? ''}`);
    await s.see('networks confirming; nothing is sent from it');
    await person.jump('hour');
    expect(await clearance('+15515550188')).toBe('registration-pending');
    await days(async () => (await clearance('+15515550188')) === 'cleared');
  });

  it('is suspended when too many people leave, stops what is queued, and is lifted on an answer', async () => {
    const ours = '+12015550117';
    const number = (await numbers()).find((n) => n.e164 === ours);
    const lists = await person.ok<{ items: { id: string; name: string }[] }>('GET', at('Saltmarsh Ferries', 'lists'));
    const draft = await person.ok<{ id: string; version: number }>('POST', at('Saltmarsh Ferries', 'dispatches'), {
      title: 'Late summer',
      text: 'Late-summer fares from $18: saltmarsh.example/ls',
      purpose: 'promotional',
      transactional: false,
      stopLine: true,
      numberId: number?.id,
      audience: { include: lists.items.filter((l) => l.name === 'Fare list').map((l) => l.id), exclude: [] },
      override: '',
    });
    // It is queued for tomorrow noon; then too many people leave.
    const { clock } = await person.ok<{ clock: { now: number } }>('GET', '/session');
    const tomorrow = new Date(clock.now + 86_400_000).toISOString().slice(0, 10);
    await person.ok(
      'POST',
      at('Saltmarsh Ferries', `dispatches/${draft.id}/schedule`),
      { local: `${tomorrow}T12:00`, zone: 'business', reach: 100_000, cost: 900_000_000 },
      { 'if-match': `"${draft.version}"` },
    );
    for (let i = 0; i < 6; i++) await fromPhone(`+1212555018${i}`, ours, 'STOP');
    await until(async () => (await clearance(ours)) === 'registration-suspended');
    await person.jump('day', 2);
    const queued = await person.ok<{ counts: Record<string, number>; schedule: { held: string } | null }>(
      'GET',
      at('Saltmarsh Ferries', `dispatches/${draft.id}`),
    );
    expect((queued.counts['sent'] ?? 0) + (queued.counts['delivered'] ?? 0)).toBe(0);
    expect(queued.schedule?.held).toContain('registration suspended');
    await desk.at('Saltmarsh Ferries', 'today');
    await s.see('Campaign Offers is suspended');
    await s.press('Campaign Offers is suspended');
    await s.see('asked for no more texts.');
    await s.fill('answer', 'We removed everybody who had not joined by themselves, and will not text that list again.');
    await s.press('Answer the registrar');
    await s.see('The registrar decides within two days.');
    await days(async () => (await clearance(ours)) === 'cleared');
    await s.see('until');
  });
});
