import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { ApiProblem } from '../../../api/api';
import { HostedPage } from './hosted';

const hosted = {
  id: 'hst_1',
  e164: '+16095550125',
  kind: 'landline',
  voiceCarrier: 'Harth Telephone',
  state: 'draft',
  facts: {
    holderName: 'Northbank Seed Library',
    authorisedName: '',
    street: '18 Millrace Lane',
    city: 'Northbank',
    state: 'NJ',
    postalCode: '08602',
    label: '',
    campaignId: null,
  },
  letter: { signedBy: '', signedOn: '', linkExpiresAt: null as number | null, linkEnded: false },
  calledAt: null,
  codeConfirmed: false,
  findings: [],
  reasons: [],
  numberId: null,
  costNow: 1_300_000,
  costMonthly: 1_300_000,
  submittedAt: null,
  answeredAt: null,
  nextStep: { title: 'Hand the account holder the signing link.', why: 'The letter is not signed yet.' },
  version: 2,
};

describe('hosted numbers', () => {
  let p: OpenPage;
  let kept: typeof hosted;
  const open = async (at: string, over: object = {}, answers: object = {}): Promise<void> => {
    kept = { ...hosted, ...over };
    p = await openPage(
      HostedPage,
      {
        'hosted.list': () => ({ items: [kept] }),
        'hosted.begin': { ...hosted, id: 'hst_2' },
        'hosted.save': (a: { body: typeof hosted.facts; version?: number }) =>
          a.version === kept.version
            ? (kept = { ...kept, facts: a.body, version: kept.version + 1 })
            : new ApiProblem(412, 'changed-meanwhile', 'Changed.', []),
        'hosted.signing-link': () => {
          kept = { ...kept, letter: { ...kept.letter, linkExpiresAt: 1 } };
          return { path: '/sign/abc' };
        },
        'hosted.call': hosted,
        'hosted.code': hosted,
        'hosted.submit': hosted,
        'hosted.end': hosted,
        'registration.get': { campaigns: [{ id: 'cmp_1', name: 'Workshops', state: 'registered' }] },
        ...answers,
      },
      { at },
    );
  };
  afterEach(() => closePage(p));

  it('begin with a number, carried over where another page knows it', async () => {
    await open('/page?e164=%2B16095550126');
    expect(p.host.querySelector<HTMLInputElement>('#number')?.value).toBe('+16095550126');
    await p.press('Begin');
    expect(p.api.of('hosted.begin').map((a) => a.body)).toEqual([{ number: '+16095550126' }]);
    expect(p.url()).toContain('open=hst_2');
  });

  it('say why one cannot be begun, at the field', async () => {
    await open(
      '/page',
      {},
      {
        'hosted.begin': new ApiProblem(422, 'refused', 'No.', [
          { field: 'number', message: 'A mobile cannot be hosted.' },
        ]),
      },
    );
    await p.press('Begin');
    expect(document.getElementById('number-wrong')?.textContent?.trim()).toBe('Write the number.');
    await p.fill('number', '609-555-0127');
    await p.press('Begin');
    expect(document.getElementById('number-wrong')?.textContent?.trim()).toBe('A mobile cannot be hosted.');
  });

  it('save what is typed by themselves, no campaign as none', async () => {
    await open('/page?open=hst_1');
    await p.fill('h-authorisedName', 'Bram Oakenshaw');
    await p.press('Make a signing link');
    expect(kept.facts.authorisedName).toBe('Bram Oakenshaw');
    expect(p.api.of('hosted.save')[0]?.body).toEqual(jasmine.objectContaining({ campaignId: null }));
    expect(p.api.of('hosted.signing-link').length).toBe(1);
    await p.settle();
    expect(p.host.querySelector<HTMLInputElement>('[aria-label="Signing link"]')?.value).toContain('/sign/abc');
  });

  it('are submitted for the price that was said, and not with something to mend', async () => {
    await open('/page?open=hst_1');
    await p.press('Submit…');
    expect(p.questions[0]?.line).toContain('1.30 now for the first month, then 1.30 monthly.');
    expect(p.api.of('hosted.submit').length).toBe(1);
    closePage(p);
    const finding = { code: 'hosted-letter', severity: 'block', field: 'letter', message: 'Not signed.', fix: 'Sign.' };
    await open('/page?open=hst_1', { findings: [finding] });
    const submit = Array.from(p.host.querySelectorAll('button')).find((b) => b.textContent.includes('to mend'));
    expect(submit?.disabled).toBeTrue();
  });

  it('are given up only once that is confirmed', async () => {
    await open('/page?open=hst_1');
    p.yes = false;
    await p.press('Give it up…');
    expect(p.api.of('hosted.end')).toEqual([]);
    p.yes = true;
    await p.press('Give it up…');
    expect(p.api.of('hosted.end').length).toBe(1);
  });
});
