import { EMPTY_BRAND, EMPTY_CAMPAIGN, EMPTY_TOLL_FREE } from '@long-gate/contracts';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { routes } from './registration.routes';
import { DossierPage } from './dossier';

const NOW = Date.parse('2027-03-12T15:00:00Z');
const DAY = 86_400_000;
const BODY = {
  ...EMPTY_BRAND,
  form: 'private company',
  legalName: 'Heron Lane Bakery LLC',
  street: '9 Mill Street',
  city: 'Quillmere',
  state: 'NJ',
  postalCode: '07030',
  website: 'https://heron.example',
  email: 'office@heron.example',
};
const BRAND = {
  id: 'brd_1',
  body: BODY,
  taxNumberMasked: '•••••••67',
  state: 'registered',
  score: null as number | null,
  attempt: 1,
  submittedAt: NOW - 3 * DAY,
  decidedAt: (NOW - DAY) as number | null,
  reasons: [] as object[],
  results: [] as object[],
  stages: [] as object[],
  confirmation: null as object | null,
  emailMissing: false,
  emailCodeMailed: false,
  appealUntil: null as number | null,
  appeal: null,
  vettings: [] as object[],
  findings: [] as object[],
  version: 3,
};
const CAMPAIGN = {
  id: 'cmp_1',
  name: 'News',
  body: { ...EMPTY_CAMPAIGN, useCase: 'marketing' },
  state: 'registered',
  attempt: 1,
  submittedAt: NOW,
  decidedAt: NOW,
  reasons: [],
  findings: [],
  lastSubmitted: null,
  halt: null as object | null,
  stages: [],
  renewsAt: (NOW + 200 * DAY) as number | null,
  renewalAskedAt: null as number | null,
  numbers: [],
  throughput: { campaignPerSecond: 4, brandPerDay: 2_000, numberPerSecond: 10 },
  version: 1,
};
const TOLL_FREE = {
  numberId: 'num_1',
  e164: '+18005550199',
  label: 'Orders',
  body: EMPTY_TOLL_FREE,
  state: 'draft',
  attempt: 0,
  submittedAt: null,
  decidedAt: null,
  reasons: [] as object[],
  stages: [],
  findings: [],
  lastSubmitted: null,
  proof: null as object | null,
  version: 1,
};

describe('a dossier on one page', () => {
  let p: OpenPage;
  const open = async (
    at: string,
    d: { brand?: Partial<typeof BRAND>; campaigns?: object[]; tollFree?: object[] } = {},
    o: { role?: string; business?: object; answers?: Record<string, unknown> } = {},
  ): Promise<void> => {
    const dossier = {
      nameLine: 'Heron Lane',
      accountState: 'open',
      brand: { ...BRAND, ...d.brand },
      campaigns: d.campaigns ?? [CAMPAIGN],
      tollFree: d.tollFree ?? [],
    };
    const same = () => dossier.brand;
    p = await openPage(
      DossierPage,
      {
        'registration.get': dossier,
        'registration.tries': { items: [] },
        'pages.list': { items: [] },
        'registration.appealBrand': same,
        'registration.askConfirmation': same,
        'registration.orderVetting': same,
        'registration.mailBrandCode': same,
        'registration.confirmBrandEmail': same,
        'registration.answerSuspension': CAMPAIGN,
        'registration.renewCampaign': CAMPAIGN,
        'registration.saveBrand': ({ body }: Asked) => ({ ...dossier.brand, ...(body as object), version: 4 }),
        'registration.saveTollFree': ({ body }: Asked) => ({ ...TOLL_FREE, body, version: 2 }),
        'registration.submitTollFree': TOLL_FREE,
        ...o.answers,
      },
      {
        routes: [{ path: 'b/:businessId/registration', children: routes }],
        at: `/b/biz_1/registration${at}`,
        now: new Date(NOW).toISOString(),
        ...(o.role ? { role: o.role } : {}),
        business: { balance: 100_000_000, ...o.business },
      },
    );
    for (let i = 0; i < 6; i++) {
      await p.settle();
      await new Promise((r) => setTimeout(r, 20));
    }
  };
  afterEach(() => closePage(p));
  const parts = (): Record<string, string> =>
    Object.fromEntries(
      [...p.host.querySelectorAll('section[data-part]')].map((s) => [
        s.getAttribute('data-part') ?? '',
        s.querySelector('[aria-expanded]')?.getAttribute('aria-expanded') ?? '',
      ]),
    );
  const rest = async (): Promise<void> => {
    await new Promise((r) => setTimeout(r, 800));
    await p.settle();
  };

  it('lists every part, and unfolds what waits for somebody', async () => {
    await open('', {
      campaigns: [CAMPAIGN, { ...CAMPAIGN, id: 'cmp_2', name: 'Alerts', state: 'declined' }],
      tollFree: [TOLL_FREE],
    });
    expect(parts()).toEqual({
      brand: 'false',
      vetting: 'false',
      'campaigns/cmp_1': 'false',
      'campaigns/cmp_2': 'true',
      'toll-free/num_1': 'true',
    });
    expect(p.text()).toContain('until 28 Sep 2027');
    await p.press(/Vetting/);
    expect(parts()['vetting']).toBe('true');
  });

  it('unfolds the part its address names and that alone, and says where there is none such', async () => {
    await open('/campaigns/cmp_1', { campaigns: [CAMPAIGN, { ...CAMPAIGN, id: 'cmp_2', state: 'draft' }] });
    expect(parts()).toEqual({
      brand: 'false',
      vetting: 'false',
      'campaigns/cmp_1': 'true',
      'campaigns/cmp_2': 'false',
    });
    expect(p.host.querySelector('nav [aria-current]')?.textContent).toContain('News');
    closePage(p);
    await open('/campaigns/cmp_9');
    expect(p.text()).toContain('There is no such part of this dossier');
  });

  it('gives no two fields the same name where two campaigns are open', async () => {
    await open('', {
      campaigns: [
        { ...CAMPAIGN, state: 'draft' },
        { ...CAMPAIGN, id: 'cmp_2', state: 'draft' },
      ],
    });
    const ids = [...p.host.querySelectorAll('[id]')].map((e) => e.id);
    expect(ids.filter((id, i) => ids.indexOf(id) !== i)).toEqual([]);
    expect(ids).toContain('description');
    expect(ids).toContain('cmp_2-description');
  });

  it('says first what is lacking, each with its place', async () => {
    await open(
      '',
      { brand: { state: 'draft', findings: [{ severity: 'block' }] } },
      { business: { accountState: 'provisional', balance: 0 } },
    );
    const first = p.host.querySelector('lg-before-filing');
    expect(
      [...(first?.querySelectorAll('a') ?? [])].map((a) => [a.textContent?.trim(), a.getAttribute('href')]),
    ).toEqual([
      ['Open the account', '/b/biz_1/settings/business'],
      ['Complete the legal identity', '/b/biz_1/registration/brand'],
      ['Top up 4.50', '/b/biz_1/settings/money'],
    ]);
    closePage(p);
    await open('');
    expect(p.host.querySelector('lg-before-filing')?.textContent?.trim()).toBe('');
  });

  it('shows what the identity check found beside each field, and how far a filing has come', async () => {
    await open('/brand', {
      brand: {
        state: 'in review',
        results: [{ field: 'website', result: 'matches', note: 'As in the site itself.' }],
        stages: [{ stage: 'received', at: NOW }],
      },
    });
    expect(p.text()).toMatch(/matches\s*As in the site itself\./);
    expect(p.host.querySelector('lg-stages')?.textContent).toMatch(/received.*checked by machine\s*to come/s);
  });

  it('compares a brand with what was submitted of it, and the tax number is no part of that', async () => {
    const tried = { attempt: 1, submittedAt: NOW, state: 'registered', decidedAt: NOW, reasons: [] };
    const answers = { 'registration.brandTries': { items: [{ ...tried, body: { ...BODY, city: 'Northbank' } }] } };
    await open('/brand', {}, { answers });
    const changed = p.host.querySelector('lg-tries .changed')?.textContent.replace(/\s+/g, ' ').trim();
    expect(changed).toBe('City:Northbank Quillmere');
  });

  it('takes people and addresses in, makes another place the physical one, and saves it', async () => {
    await open('/brand', { brand: { state: 'draft' } });
    await p.press('Add a person');
    await p.fill('person0', 'Marit Solheim');
    expect(p.text()).toContain('This person lacks a title, a telephone number, an e-mail address.');
    await p.press('Add another address');
    await p.fill('street0', '2 Slip Road');
    await p.fill('city0', 'Aldersund');
    await p.press('Use as the physical one');
    await rest();
    const sent = p.api.of('registration.saveBrand').at(-1)?.body as { body: typeof BODY };
    expect([sent.body.street, sent.body.city]).toEqual(['2 Slip Road', 'Aldersund']);
    expect(sent.body.moreAddresses).toEqual([
      { what: 'former place', street: '9 Mill Street', city: 'Quillmere', state: 'NJ', postalCode: '07030' },
    ] as never);
    expect(sent.body.representatives).toEqual([{ name: 'Marit Solheim', title: '', phone: '', email: '' }] as never);
    await p.fill('regions', 'nj, pa');
    await rest();
    expect((p.api.of('registration.saveBrand').at(-1)?.body as { body: typeof BODY }).body.regions).toEqual([
      'NJ',
      'PA',
    ] as never);
  });

  it('lets an owner who did not answer be asked again, and a decline be objected to', async () => {
    await open('/brand', {
      brand: {
        state: 'in review',
        body: { ...BODY, form: 'sole proprietor', mobile: '+17325550134' } as never,
        confirmation: { until: NOW - DAY, lapsed: true, asks: 1 },
      },
    });
    expect(p.text()).toContain('The owner did not answer in time.');
    expect(parts()['vetting']).toBeUndefined();
    await p.press('Ask again');
    expect(p.api.of('registration.askConfirmation').map((a) => a.body)).toEqual([{ mobile: '+17325550134' }]);
    closePage(p);
    await open('/brand', { brand: { state: 'declined', appealUntil: NOW + 5 * DAY } });
    await p.fill('appeal', 'Too short.');
    await p.press('Object');
    expect(p.api.of('registration.appealBrand')).toEqual([]);
    const words = 'The letter 147C of the tax office names us with just this number.';
    await p.fill('appeal', words);
    await p.press('Object');
    expect(p.api.of('registration.appealBrand').map((a) => a.body)).toEqual([{ text: words }]);
    closePage(p);
    await open('/brand', { brand: { state: 'declined', appealUntil: NOW - DAY } });
    expect(p.text()).not.toContain('Object to the decline');
  });

  it('has a listed company’s e-mail confirmed by the code that was mailed', async () => {
    await open('/brand', { brand: { emailMissing: true } });
    expect(p.host.querySelector('#brand-code')).toBeNull();
    await p.press('Mail a code');
    expect(p.api.of('registration.mailBrandCode').length).toBe(1);
    closePage(p);
    await open('/brand', { brand: { emailMissing: true, emailCodeMailed: true } });
    await p.press('Confirm');
    expect(p.text()).toContain('Write the code.');
    await p.fill('brand-code', '481516');
    await p.press('Confirm');
    expect(p.api.of('registration.confirmBrandEmail').map((a) => a.body)).toEqual([{ code: '481516' }]);
  });

  it('orders a vetting only once its price was said, shows what each score gives, and takes an objection', async () => {
    await open('/vetting');
    expect(p.text()).toContain('not vetted, now');
    p.yes = false;
    await p.press('Have it vetted…');
    expect(p.questions[0]?.line).toContain('41.50 now');
    expect(p.api.of('registration.orderVetting')).toEqual([]);
    p.yes = true;
    await p.press('Have it vetted…');
    expect(p.api.of('registration.orderVetting').map((a) => a.body)).toEqual([{ objection: '' }]);
    closePage(p);
    const scored = {
      id: 'v1',
      objection: '',
      orderedAt: NOW - 9 * DAY,
      decidedAt: NOW - 8 * DAY,
      score: 52,
      failure: '',
    };
    await open('/vetting', { brand: { score: 52, vettings: [scored] } });
    expect(p.text()).toContain('50 to 74, now');
    await p.fill('objection', 'We have been here for forty years, as the register of the county shows.');
    await p.press('Object');
    expect(p.api.of('registration.orderVetting').length).toBe(1);
    closePage(p);
    await open('/vetting', { brand: { score: 52, vettings: [{ ...scored, decidedAt: NOW - 46 * DAY }] } });
    expect(p.text()).not.toContain('Object to the score');
    closePage(p);
    await open('/vetting', {}, { business: { balance: 1_000_000 } });
    expect(p.text()).toContain('Vet: top up 40.50 first');
  });

  it('answers a suspension, and renews in the last thirty days', async () => {
    const halt = {
      since: NOW - DAY,
      reasons: [{ field: '', code: 'stops-too-many', message: '9 people asked for no more texts.' }],
      answer: '',
      answeredAt: null as number | null,
    };
    await open('/campaigns/cmp_1', { campaigns: [{ ...CAMPAIGN, state: 'suspended', halt }] });
    expect(p.text()).toContain('9 people asked for no more texts.');
    await p.fill('answer', 'We removed everybody who had not joined by themselves from the list.');
    await p.press('Answer the registrar');
    expect(p.api.of('registration.answerSuspension').length).toBe(1);
    closePage(p);
    await open('/campaigns/cmp_1', {
      campaigns: [{ ...CAMPAIGN, state: 'suspended', halt: { ...halt, answer: 'So.', answeredAt: NOW } }],
    });
    expect(p.text()).toContain('The registrar decides within two days.');
    expect(p.host.querySelector('#answer')).toBeNull();
    closePage(p);
    await open('/campaigns/cmp_1');
    expect(p.text()).not.toContain('Renew…');
    closePage(p);
    await open('/campaigns/cmp_1', { campaigns: [{ ...CAMPAIGN, renewsAt: NOW + 20 * DAY }] });
    await p.press('Renew…');
    expect(p.api.of('registration.renewCampaign').length).toBe(1);
  });

  it('has a toll-free number verified once nothing blocks, and shows a decline of its proof at its field', async () => {
    await open('/toll-free/num_1', { tollFree: [TOLL_FREE] });
    expect(p.text()).toMatch(/Submit: \d+ to mend/);
    const body = {
      useCase: 'customer-care',
      volume: 1000,
      description: 'Heron Lane answers customers who call or text the bakery about their orders.',
      agreement: 'People write to the number first; it stands on the page heron.example/orders and on every bag.',
      samples: ['Heron Lane: your order is ready at the counter until 18:00. Reply STOP to end.'],
      proofUrl: 'https://heron.example/orders',
    };
    closePage(p);
    const reasons = [{ field: 'proof', code: 'proof-unreadable', message: 'The page cannot be opened.' }];
    await open('/toll-free/num_1', { tollFree: [{ ...TOLL_FREE, body, state: 'declined', attempt: 1, reasons }] });
    expect(p.text()).toContain('The page cannot be opened.');
    await p.press('Resubmit…');
    expect(p.questions.at(-1)?.facts).toEqual([
      { name: 'Use', value: 'Customer care' },
      { name: 'Texts a month', value: 'up to 1,000' },
    ]);
    expect(p.api.of('registration.submitTollFree').map((a) => a.version)).toEqual([1]);
    closePage(p);
    await open('/toll-free/num_1', { tollFree: [{ ...TOLL_FREE, body, state: 'registered' }] });
    expect(p.host.querySelector<HTMLTextAreaElement>('#tf-description')?.disabled).toBeTrue();
    expect(p.text()).not.toContain('Submit');
  });

  it('leaves nothing to write or press to a viewer', async () => {
    await open('', { brand: { state: 'draft' }, tollFree: [TOLL_FREE] }, { role: 'viewer' });
    const buttons = [...p.host.querySelectorAll('button')].map((b) => b.textContent).join(' ');
    for (const words of ['Submit', 'Add a person', 'Read in a JSON', 'A picture of the form'])
      expect(buttons).withContext(words).not.toContain(words);
    expect(p.text()).not.toContain('Begin a campaign');
    const writable = [...p.host.querySelectorAll<HTMLInputElement>('form input, form textarea, form select')].filter(
      (f) => !f.disabled,
    );
    expect(writable.map((f) => f.id)).toEqual([]);
    expect(p.text()).toContain('PDF');
  });
});
