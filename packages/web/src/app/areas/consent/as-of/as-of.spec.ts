import type { AsOfAnswer, AskedThen, JudgedThen, StoodThen } from '@long-gate/contracts';
import { ApiProblem } from '../../../api/api';
import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { AsOfPage } from './as-of';
import { stoodRows } from './as-of-words';

const AT = Date.UTC(2027, 2, 14, 13, 5);
const consent = (state: string) => ({ state, since: AT - 1000, eventId: `evt_${state}` });
const stood = (over: Partial<StoodThen> = {}): StoodThen => ({
  contact: true,
  lineType: 'mobile',
  carrier: 'Tessary Wireless',
  lookedUpAt: AT - 5000,
  textable: 'yes',
  reachable: true,
  trouble: 'none',
  suppression: 'none',
  relatedUntil: null,
  wishInReview: false,
  reassignment: 'clear',
  consent: { conversational: consent('none'), informational: consent('granted'), promotional: consent('granted') },
  refusedElsewhere: [],
  answerableUntil: null,
  solicitedUntil: null,
  firstText: false,
  stopLineDue: false,
  country: 'US',
  zones: ['America/New_York'],
  states: ['NY'],
  accountState: 'open',
  textsOff: false,
  clearance: 'cleared',
  campaign: 'Fares',
  balance: 12_000_000,
  dailySegments: 2000,
  ...over,
});
const judged = (over: Partial<JudgedThen> = {}): JudgedThen => ({
  at: AT,
  result: 'pass',
  post: null,
  reason: null,
  why: '',
  lift: '',
  until: null,
  answers: Array.from({ length: 11 }, (_, i) => ({ post: i + 1, result: 'pass' as const })),
  stood: stood(),
  ...over,
});
const optedOut = judged({
  at: AT + 86_400_000,
  result: 'stop',
  post: 5,
  reason: 'opted-out',
  why: 'opted out',
  answers: Array.from({ length: 11 }, (_, i) =>
    i === 4 ? { post: 5, result: 'stop' as const, reason: 'opted-out' } : { post: i + 1, result: 'pass' as const },
  ),
  stood: stood({
    consent: { conversational: consent('none'), informational: consent('revoked'), promotional: consent('revoked') },
  }),
});
const asked = (over: Partial<AskedThen> = {}): AskedThen => ({
  text: {
    id: 'msg_1',
    kind: 'dispatch',
    purpose: 'promotional',
    words: 'Heron Lane: rye from $4. Reply STOP to end.',
    numberId: 'num_1',
    from: '+12015550117',
    dispatch: { id: 'dis_1', title: 'Rye week' },
  },
  kept: { at: AT, left: true, post: null, reason: null, why: '' },
  then: judged(),
  now: optedOut,
  later: null,
  rulesChanged: [],
  unknown: [],
  ...over,
});

describe('as of a day', () => {
  let p: OpenPage;
  const open = async (at: string, answer: Partial<AsOfAnswer> | Error = {}): Promise<void> => {
    p = await openPage(
      AsOfPage,
      {
        'consent.as-of':
          answer instanceof Error
            ? answer
            : {
                e164: '+12125550101',
                name: 'Ada Fenn',
                contactId: 'con_1',
                zone: 'America/New_York',
                texts: [
                  {
                    id: 'msg_1',
                    at: AT,
                    kind: 'dispatch',
                    purpose: 'promotional',
                    words: 'Heron Lane: rye from $4. Reply STOP to end.',
                    state: 'delivered',
                    why: '',
                  },
                ],
                asked: asked(),
                ...answer,
              },
        'numbers.list': { items: [{ id: 'num_1', e164: '+12015550117', label: 'Fares' }] },
      },
      { at: `/page${at}`, role: 'viewer' },
    );
  };
  afterEach(() => {
    closePage(p);
  });
  const words = (): string => p.host.textContent.replace(/\s+/g, ' ');

  it('asks nothing before somebody is named, and says what it answers from', async () => {
    await open('');
    expect(p.api.of('consent.as-of')).toEqual([]);
    expect(words()).toContain('answers from what was recorded up to then');
    await p.press('Ask the gate');
    expect(words()).toContain('Write the contact’s number.');
    expect(p.api.of('consent.as-of')).toEqual([]);
  });

  it('says what would have passed then and what would now, what the gate said, and whether both agree', async () => {
    await open('?e164=%2B12125550101&text=msg_1');
    expect(p.api.of('consent.as-of')[0]?.query).toEqual({ e164: '+12125550101', text: 'msg_1' });
    expect(words()).toContain('It would have passed.');
    expect(words()).toContain('It would be stopped at not opted out or suppressed: opted out.');
    expect(words()).toContain('The gate let it go');
    expect(words()).toContain('That is what follows from the record too.');
    const rows = Array.from(p.host.querySelectorAll('tr')).map((r) => r.textContent.replace(/\s+/g, ' ').trim());
    expect(rows.find((r) => r.includes('not opted out'))).toMatch(/passes.*stopped: opted out/);
    const event = Array.from(p.host.querySelectorAll('a')).find((a) => a.textContent.includes('granted since'));
    expect(event?.getAttribute('href')).toContain('open=evt_granted');
  });

  it('says plainly where the record does not bear out what the gate said, and what was known only afterwards', async () => {
    await open('?e164=%2B12125550101&text=msg_1', {
      asked: asked({
        then: { ...optedOut, at: AT },
        later: {
          events: [
            {
              id: 'evt_9',
              kind: 'revoked',
              how: 'phone call',
              purposes: ['promotional'],
              happenedAt: AT - 60_000,
              recordedAt: AT + 60_000,
            },
          ],
          verdict: { result: 'stop', post: 5, reason: 'opted-out', why: 'opted out', lift: '', until: null },
        },
        rulesChanged: ['replies'],
        unknown: ['The names that fill its fields are those of today.'],
      }),
    });
    expect(words()).toContain('That is not what follows from the record.');
    expect(words()).toContain('would have been stopped at not opted out or suppressed: opted out');
    expect(words()).toContain('revoked by phone call');
    expect(words()).toContain('how replies are read');
    expect(words()).toContain('those of today');
  });

  it('asks about other words at a wall time of the business, and keeps the question in the address', async () => {
    await open('?e164=%2B12125550101', { asked: null });
    expect(words()).toContain('Choose one of the texts to this number, or write other words.');
    await p.fill('words', 'Rye from $4');
    await p.fill('purpose', 'promotional');
    await p.fill('from', 'num_1');
    await p.fill('day', '14 Mar 2027');
    await p.fill('time', '09:05');
    await p.press('Ask the gate');
    expect(p.api.of('consent.as-of').at(-1)?.query).toEqual({
      e164: '+1 212-555-0101',
      at: AT,
      words: 'Rye from $4',
      purpose: 'promotional',
      numberId: 'num_1',
    });
  });

  it('says what is wrong with a question in the server’s words', async () => {
    const message = 'That moment is still to come.';
    await open('?e164=%2B12125550101&text=msg_1', new ApiProblem(422, 'refused', message, []));
    expect(p.host.querySelector('[role=alert]')?.textContent).toContain(message);
  });

  it('puts what has changed before what has not', () => {
    const rows = stoodRows(stood(), stood({ accountState: 'suspended', textable: 'no' }), 'America/New_York');
    expect(rows.slice(0, 2).map((r) => [r.what, r.then, r.now])).toEqual([
      ['Texts reach it', 'yes', 'no'],
      ['Account', 'open', 'suspended'],
    ]);
    expect(rows.slice(2).every((r) => r.then === r.now)).toBeTrue();
  });
});
