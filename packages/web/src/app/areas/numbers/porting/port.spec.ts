import { ApiProblem } from '../../../api/api';
import { closePage, openPage, type Asked, type OpenPage } from '../../../../testing/open-page';
import { PortPage } from './port';

const FACTS = {
  accountNumber: '0040712',
  pin: '',
  pinExpires: '',
  holderKind: 'business',
  holderName: 'Heron Lane Bakery LLC',
  authorisedName: 'Odette Farrow',
  street: '9 Mill Street',
  unit: '',
  city: 'Quillmere',
  state: 'NJ',
  postalCode: '07030',
  billingNumber: '+16095550110',
  linesStay: false,
  newBillingNumber: '',
  responsibleOrganisation: '',
  oldServiceEnds: '',
};
const compared = (field: keyof typeof FACTS, theirs: string, over: object = {}) => ({
  field,
  ours: FACTS[field],
  theirs,
  likeness: 'same',
  why: 'The same, spelled otherwise.',
  oursDiffer: [],
  theirsDiffer: [],
  ...over,
});
const port = (over: object = {}) => ({
  id: 'prt_1',
  state: 'draft',
  losingCarrier: 'Harth Telephone',
  numbers: [],
  facts: FACTS,
  acknowledged: [],
  needed: ['street'],
  findings: [],
  reasons: [],
  changedSince: [],
  record: { state: 'not asked', askedAt: null, fields: [] },
  letter: { state: 'none', signedBy: '', signedOn: '', ip: '', linkExpiresAt: null },
  billDated: '',
  documents: [],
  attempt: 0,
  focAt: null,
  focOn: '',
  lastDayToChange: '',
  askedDate: '',
  mayMoveDate: false,
  mayCancel: true,
  timeline: [{ step: 'answered', state: 'expected', day: '2027-03-19', note: '' }],
  runbook: [],
  callsNowhere: [],
  costNow: 1_300_000,
  costMonthly: 1_300_000,
  begunAt: 1,
  submittedAt: null,
  answeredAt: null,
  completedAt: null,
  snapBackUntil: null,
  fromProfile: [],
  nextStep: { title: 'Submit.', why: '' },
  late: false,
  version: 4,
  ...over,
});

describe('a port request', () => {
  let p: OpenPage;
  let kept: ReturnType<typeof port>;
  const open = async (over: object = {}): Promise<void> => {
    kept = port(over);
    p = await openPage(
      PortPage,
      {
        'ports.get': () => kept,
        // What is changed ends a link that is out.
        'ports.save': ({ body }: Asked) =>
          (kept = {
            ...kept,
            ...(body as object),
            letter: { ...kept.letter, state: kept.letter.state === 'link out' ? 'link ended' : kept.letter.state },
            version: kept.version + 1,
          } as typeof kept),
        'ports.signing-link': () => {
          kept = { ...kept, letter: { ...kept.letter, state: 'link out' } };
          return { path: '/sign/abc' };
        },
        'ports.submit': () => kept,
        'ports.upload': ({ body }: Asked) =>
          (kept = { ...kept, billDated: (body as { dated: string }).dated, version: kept.version + 1 }),
        'ports.drop-document': () => (kept = { ...kept, documents: [], version: kept.version + 1 }),
        'ports.date': () => kept,
        'registration.get': { brand: {}, campaigns: [] },
      },
      { path: 'page/:portId', at: '/page/prt_1' },
    );
  };
  afterEach(() => closePage(p));
  const rest = async (): Promise<void> => {
    await new Promise((r) => setTimeout(r, 750));
    await p.settle();
  };

  it('takes the record’s own words over with one click, and says what is only spelled otherwise', async () => {
    const fields = [
      compared('street', '9 MILL ST'),
      compared('city', 'Quillmere'),
      compared('holderName', 'HERON LANE HOLDINGS', { likeness: 'will be rejected', why: 'Another name.' }),
    ];
    await open({ record: { state: 'answered', askedAt: 1, fields } });
    const rows = [...p.host.querySelectorAll('lg-port-record tbody tr')].map((r) => r.textContent ?? '');
    expect(rows[0]).toContain('same, spelled otherwise');
    expect(rows[1]).not.toContain('take the record’s');
    p.host.querySelector<HTMLButtonElement>('[aria-label="Take the record’s words for Street"]')?.click();
    await rest();
    expect(p.host.querySelector<HTMLInputElement>('#street')?.value).toBe('9 MILL ST');
    expect((p.api.of('ports.save').at(-1)?.body as { facts: { street: string } }).facts.street).toBe('9 MILL ST');
  });

  it('says which facts stand as the business’s own profile has them', async () => {
    await open({ fromProfile: ['street'] });
    expect(p.text().match(/From your own profile/g)).toHaveSize(1);
  });

  it('asks before the same goes again that was rejected, with the reason, and submits the version that was shown', async () => {
    await open({ state: 'rejected', attempt: 1, reasons: [{ field: 'pin', code: 'x', message: 'Wrong PIN.' }] });
    p.yes = false;
    await p.press('Resubmit…');
    expect(p.questions[0]?.line).toContain('Wrong PIN.');
    expect(p.api.of('ports.submit')).toEqual([]);
    p.yes = true;
    await p.press('Resubmit…');
    expect(p.api.of('ports.submit').map((a) => [a.version, a.body])).toEqual([[4, { sameAgain: true }]]);
    closePage(p);
    const changedSince = [{ field: 'pin', before: '', after: 'another one' }];
    await open({ state: 'rejected', attempt: 1, changedSince });
    await p.press('Resubmit…');
    expect(p.api.of('ports.submit').map((a) => a.body)).toEqual([{ sameAgain: false }]);
  });

  it('says what a request that goes again costs, or gives back, for numbers that came or went', async () => {
    const changedSince = [{ field: 'numbers', before: 'two', after: 'one' }];
    const mended = { state: 'rejected' as const, attempt: 1, changedSince, costMonthly: 1_300_000 };
    await open({ ...mended, costNow: -1_300_000 });
    expect(p.text()).toContain('1.30 come back now, then 1.30 monthly');
    p.yes = false;
    await p.press('Resubmit…');
    expect(p.questions.at(-1)?.line).toContain('1.30 come back for numbers taken off, then');
    await p.press('Cancel the port…');
    expect(p.questions.at(-1)?.line).withContext('all that was paid').toContain('2.60 come back to the balance');
    closePage(p);
    await open({ ...mended, costNow: 1_300_000, costMonthly: 2_600_000 });
    expect(p.text()).toContain('1.30 now, then 2.60 monthly');
    p.yes = false;
    await p.press('Cancel the port…');
    expect(p.questions.at(-1)?.line).toContain('1.30 come back to the balance');
  });

  it('lets a bill be chosen before its date is filled in, and uploads it then', async () => {
    await open();
    const given = new DataTransfer();
    given.items.add(new File(['%PDF-'], 'bill.pdf', { type: 'application/pdf' }));
    const input = [...p.host.querySelectorAll<HTMLInputElement>('input[type=file]')].at(-1);
    if (input) input.files = given.files;
    input?.dispatchEvent(new Event('change'));
    await p.settle();
    expect(p.text()).toContain('“bill.pdf” is chosen. Fill in the date printed on it');
    expect(p.api.of('ports.upload')).toEqual([]);
    await p.fill('billDated', '2027-03-02');
    await p.settle();
    expect(p.api.of('ports.upload').map((a) => (a.body as { dated: string }).dated)).toEqual(['2027-03-02']);
    expect(p.text()).not.toContain('is chosen. Fill in');
  });

  it('takes a wrong upload away once that is confirmed, never the letter the holder signed here', async () => {
    const paper = { type: 'application/pdf', size: 10, sha256: 'abc', by: 'Wren', at: 1 };
    const documents = [
      { ...paper, id: 'doc_1', what: 'letter', name: 'letter.pdf' },
      { ...paper, id: 'doc_2', what: 'bill', name: 'bill.pdf' },
    ];
    const signed = { state: 'signed', signedBy: 'Odette Farrow', signedOn: '2027-03-01', ip: '', linkExpiresAt: null };
    await open({ documents, letter: signed });
    expect(p.host.querySelector('[aria-label="Take letter.pdf away"]')).toBeNull();
    p.host.querySelector<HTMLButtonElement>('[aria-label="Take bill.pdf away"]')?.click();
    await p.settle();
    expect(p.api.of('ports.drop-document').map((a) => a.params['documentId'])).toEqual(['doc_2']);
  });

  it('says that a link has ended because the letter was changed', async () => {
    const letter = { state: 'link ended', signedBy: '', signedOn: '', ip: '', linkExpiresAt: null };
    await open({ letter });
    expect(p.text()).toContain('the holder has to read the letter again');
  });

  it('shows a link to be handed on only while it is good', async () => {
    await open();
    expect(p.host.querySelector('[aria-label="Signing link"]')).toBeNull();
    await p.press('Make a signing link');
    await rest();
    expect(p.host.querySelector<HTMLInputElement>('[aria-label="Signing link"]')?.value).toContain('/sign/abc');
    await p.fill('street', '9 MILL ST');
    await rest();
    expect(p.text()).toContain('the holder has to read the letter again');
    expect(p.host.querySelector('[aria-label="Signing link"]')).toBeNull();
  });

  it('offers another date and the end only while they can be granted, and never says “now” of a day to come', async () => {
    await open({ state: 'accepted', focAt: 1, focOn: '2027-03-24', lastDayToChange: '2027-03-22', mayMoveDate: true });
    expect(p.host.querySelector('form.move')).not.toBeNull();
    expect(p.host.querySelector('.way')?.textContent).toContain('expected by Fri 19 Mar 2027');
    closePage(p);
    await open({ state: 'accepted', focAt: 1, focOn: '2027-03-24', lastDayToChange: '2027-03-22', mayCancel: false });
    expect(p.host.querySelector('form.move')).toBeNull();
    expect(p.text()).toContain('72 hours to have them go back');
    expect(p.text()).not.toContain('Cancel the port…');
  });

  it('says until when numbers can go back in the time of the business, as everywhere', async () => {
    const until = Date.parse('2027-03-14T06:30:00Z');
    await open({
      state: 'landed',
      focAt: 1,
      focOn: '2027-03-11',
      landedAt: until - 72 * 3_600_000,
      snapBackUntil: until,
    });
    p.yes = false;
    await p.press(/go back/);
    expect(p.questions[0]?.line).toContain('Possible until 14 Mar 2027, 01:30 EST');
  });

  it('questions a date that is far away', async () => {
    await open({ state: 'accepted', focAt: 1, focOn: '2027-03-24', lastDayToChange: '2027-03-22', mayMoveDate: true });
    await p.fill('day', '2027-06-01');
    p.yes = false;
    await p.press('Ask');
    expect(p.questions[0]?.line).toContain('days from now');
    expect(p.api.of('ports.date')).toEqual([]);
  });

  it('says of a test that it failed where nobody took the call', async () => {
    const test = { what: 'A call to the number is answered.', test: 'call', done: false, at: null, failedAt: 5 };
    await open({ state: 'done', runbook: [test], completedAt: 1 });
    expect(p.host.querySelector('lg-port-docket')?.textContent).toContain('a call came, and nobody took it');
  });

  it('says that there is no such request', async () => {
    p = await openPage(
      PortPage,
      { 'ports.get': new ApiProblem(404, 'not-found', 'There is no such port request.', []) },
      { path: 'page/:portId', at: '/page/prt_9' },
    );
    expect(p.text()).toContain('There is no such request');
  });
});
