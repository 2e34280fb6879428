import type { EvidencePack, EvidenceRequest } from '@long-gate/contracts';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { AskEvidencePage } from './ask-evidence';
import { EvidencePage } from './evidence';

const AT = Date.parse('2027-03-10T15:00:00Z');
const pack = (over: Partial<EvidencePack> = {}): EvidencePack => ({
  id: 'evp_1',
  state: 'ready',
  madeBy: 'Wren Holloway',
  madeAt: AT,
  size: 687372,
  sha256: 'abcd'.repeat(16),
  events: 22,
  texts: 50,
  keptUntil: AT + 30 * 86_400_000,
  jobId: 'job_1',
  ...over,
});
const request = (over: Partial<EvidenceRequest> = {}): EvidenceRequest => ({
  id: 'evr_1',
  asker: 'carrier',
  who: 'Tessary Wireless',
  reference: 'TW-2207',
  question: 'Proof of opt-in',
  dueOn: '2027-03-16',
  e164s: ['+12015550171', '+12015550172'],
  name: '',
  askedAt: AT,
  askedBy: 'Wren Holloway',
  answeredAt: null,
  answeredBy: '',
  answer: '',
  packs: [pack()],
  version: 4,
  ...over,
});

describe('evidence on screen', () => {
  let p: OpenPage;
  const open = async (
    at: string,
    over: Partial<EvidenceRequest> = {},
    role = 'administrator',
    now = '2027-03-12T19:00:00Z',
  ): Promise<void> => {
    p = await openPage(
      EvidencePage,
      {
        'evidence.list': { items: [request(over)], next: null, total: 1, fingerprint: 'f99e 6124 0f50 beac' },
        'evidence.answer': request({ answeredAt: AT, answeredBy: 'Wren Holloway', answer: 'By mail.' }),
        'evidence.pack': request(),
      },
      { at, role, now },
    );
  };
  afterEach(() => closePage(p));
  const docket = (): string => (p.host.querySelector('lg-docket')?.textContent ?? '').replace(/\s+/g, ' ');

  it('shows who asks by when, the archive to save with its digest, and the key’s fingerprint', async () => {
    await open('/page?open=evr_1');
    for (const part of ['Tessary Wireless (carrier)', '16 Mar 2027', 'TW-2207', '22 events', 'abcdabcd', 'f99e 6124'])
      expect(docket()).toContain(part);
    expect(docket()).toContain('Hand it over.');
    const links = [...p.host.querySelectorAll<HTMLAnchorElement>('lg-docket a[download]')].map((a) => a.href);
    expect(links.every((l) => l.includes('/evidence-packs/evp_1/pack.zip'))).toBeTrue();
    expect(links.length).toBe(2);
  });

  it('has until the end of its day where the business is', async () => {
    const late = (): boolean => [...p.host.querySelectorAll('td.stop')].some((x) => x.textContent?.includes('16 Mar'));
    // Half past eleven of the 16th in New York: in Greenwich it is the 17th.
    await open('/page', {}, 'administrator', '2027-03-17T03:30:00Z');
    expect(p.text()).toContain('16 Mar 2027');
    expect(late()).toBeFalse();
    closePage(p);
    await open('/page', {}, 'administrator', '2027-03-17T04:30:00Z');
    expect(late()).toBeTrue();
  });

  it('notes how it was handed over, in the version that was seen, and only with words', async () => {
    await open('/page?open=evr_1');
    await p.press('Note it as answered');
    expect(p.api.of('evidence.answer')).toEqual([]);
    await p.fill('answer', 'Sent to their portal.');
    await p.press('Note it as answered');
    expect(p.api.of('evidence.answer').map((a) => [a.version, a.body])).toEqual([
      [4, { answer: 'Sent to their portal.' }],
    ]);
  });

  it('says of a pack that is not kept that it is made anew, and makes it', async () => {
    await open('/page?open=evr_1', { packs: [pack({ state: 'gone' })] });
    expect(docket()).toContain('Packs are kept for thirty days.');
    expect(p.host.querySelector('lg-docket a[download]')).toBeNull();
    await p.press('Make it anew');
    expect(p.api.of('evidence.pack').map((a) => a.params['id'])).toEqual(['evr_1']);
  });

  it('makes no proof of a ledger that does not hold, and says where to look', async () => {
    await open('/page?open=evr_1', { packs: [pack({ state: 'failed' })] });
    expect(docket()).toContain('No proof can be made.');
    expect(p.host.querySelector('lg-docket a[download]')).toBeNull();
  });

  it('names nobody who was erased, and lets a viewer save but not note the answer', async () => {
    await open('/page?open=evr_1', { e164s: ['erased:0123456789abcdef'], packs: [pack()] }, 'viewer');
    expect(docket()).toContain('somebody who was erased');
    expect(docket()).not.toContain('0123456789abcdef');
    expect(p.host.querySelector('lg-docket a[download]')).not.toBeNull();
    expect(p.host.querySelector('lg-docket form')).toBeNull();
  });
});

describe('asking for evidence', () => {
  let p: OpenPage;
  const none = { state: 'none', proven: false, by: null };
  const by = { seq: 3, kind: 'granted', how: 'web page', happenedAt: AT, disclosed: true };
  const open = async (at = '/page', review: object = {}): Promise<void> => {
    p = await openPage(
      AskEvidencePage,
      {
        'evidence.review': {
          items: [
            {
              e164: '+12015550171',
              name: 'Wren Eide',
              contactId: 'con_1',
              informational: { state: 'granted', proven: true, by },
              promotional: { state: 'revoked', proven: false, by: { ...by, kind: 'revoked', how: 'keyword' } },
              events: 3,
              texts: 12,
            },
            {
              e164: '+12015550172',
              name: '',
              contactId: null,
              informational: none,
              promotional: none,
              events: 0,
              texts: 0,
            },
          ],
          unread: [{ raw: 'hello', why: 'There is no number in it.' }],
          ...review,
        },
        'evidence.ask': request(),
      },
      { at },
    );
    await new Promise((r) => setTimeout(r, 400));
    await p.settle();
  };
  afterEach(() => closePage(p));

  it('says of the numbers in the address what is proven, what it rests on, and what is no number', async () => {
    await open('/page?e164=%2B12015550171,%2B12015550172');
    expect(p.api.of('evidence.review').at(-1)?.body).toEqual({ numbers: '+12015550171\n+12015550172' });
    for (const part of [
      'Of 2 numbers: 1 proven for notices, 0 for offers.',
      '1 with nothing on file at all',
      'granted by web page',
      'revoked by keyword',
      'There is no number in it.',
    ])
      expect(p.text()).toContain(part);
  });

  it('asks nothing for nothing, and wants a name and numbers before anything is noted', async () => {
    await open();
    expect(p.api.of('evidence.review')).toEqual([]);
    await p.fill('asker', 'carrier');
    await p.press('Make the pack');
    expect(p.api.of('evidence.ask')).toEqual([]);
    expect(p.text()).toContain('Paste the numbers that are asked about.');
    await p.fill('numbers', '201-555-0171');
    await p.press('Make the pack');
    expect(p.text()).toContain('Say who asks.');
    await p.fill('who', 'Tessary Wireless');
    await p.fill('dueOn', '16 Mar 2027');
    await p.press('Make the pack');
    expect(p.api.of('evidence.ask').map((a) => a.body)).toEqual([
      jasmine.objectContaining({
        asker: 'carrier',
        who: 'Tessary Wireless',
        dueOn: '2027-03-16',
        numbers: '201-555-0171',
      }),
    ]);
    expect(p.url()).toContain('/consent/evidence?open=evr_1');
  });
});
