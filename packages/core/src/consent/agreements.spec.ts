import fc from 'fast-check';
import { agreementsOf, becameOf, FIRST_MONTH_MS, STAYED } from './agreements.js';
import { CONSENT_EVENT_KINDS, CONSENT_ROUTES, CONFIRM_WITHIN_MS, type ConsentEvent } from './events.js';
import { foldConsent } from './fold.js';

const DAY = 86_400_000;
let n = 0;
const event = (over: Partial<ConsentEvent>): ConsentEvent => ({
  id: `evt_${String(n++).padStart(4, '0')}`,
  businessId: 'b',
  seq: n,
  e164: '+12125550101',
  purposes: ['promotional'],
  kind: 'granted',
  awaitsConfirmation: false,
  happenedAt: 0,
  recordedAt: 0,
  how: 'web page',
  disclosure: '',
  disclosureVersion: '',
  evidence: {},
  recordedBy: 'contact',
  ...over,
});

describe('what became of who was asked', () => {
  it('tells of one who agreed on a page, said YES, and left after a week', () => {
    const { agreements, refusals } = agreementsOf([
      event({ id: 'a', awaitsConfirmation: true, evidence: { page: 'rye' } }),
      event({ kind: 'confirmed', how: 'reply', happenedAt: 60_000 }),
      event({ id: 'z', kind: 'revoked', how: 'reply', happenedAt: 7 * DAY }),
    ]);
    expect(agreements).toEqual([
      {
        eventId: 'a',
        purpose: 'promotional',
        way: 'web page',
        via: 'rye',
        at: 0,
        since: 60_000,
        ended: { at: 7 * DAY, kind: 'revoked' },
      },
    ]);
    expect(agreements.map(becameOf)).toEqual(['soon']);
    expect(refusals).toEqual([
      {
        eventId: 'z',
        purpose: 'promotional',
        kind: 'revoked',
        how: 'reply',
        at: 7 * DAY,
        came: 'web page',
        stayed: 'a month',
      },
    ]);
  });

  it('counts nobody twice who agrees again to what holds or stops again', () => {
    const { agreements, refusals } = agreementsOf([
      event({}),
      event({ happenedAt: DAY, how: 'paper form' }),
      event({ kind: 'revoked', how: 'reply', happenedAt: 2 * DAY }),
      event({ kind: 'revoked', how: 'e-mail', happenedAt: 3 * DAY }),
    ]);
    expect([agreements.length, refusals.length]).toEqual([1, 1]);
  });

  it('counts who comes back as another time, by their own word', () => {
    const { agreements } = agreementsOf([
      event({}),
      event({ kind: 'revoked', how: 'reply', happenedAt: DAY }),
      event({ how: 'reply', happenedAt: 2 * DAY }),
    ]);
    expect(agreements.map((a) => [a.way, becameOf(a)])).toEqual([
      ['web page', 'soon'],
      ['reply', 'holds'],
    ]);
  });

  it('counts a YES that came too late, or never, as none', () => {
    const late = [
      event({ awaitsConfirmation: true }),
      event({ kind: 'confirmed', how: 'reply', happenedAt: CONFIRM_WITHIN_MS }),
    ];
    expect(agreementsOf(late).agreements.map(becameOf)).toEqual(['unconfirmed']);
  });

  it('knows the first month from later, a no to the question from a leaving, and an end that was nobody’s word', () => {
    const left = (at: number) => agreementsOf([event({}), event({ kind: 'revoked', happenedAt: at })]);
    expect(left(FIRST_MONTH_MS - 1).agreements.map(becameOf)).toEqual(['soon']);
    expect(left(FIRST_MONTH_MS).agreements.map(becameOf)).toEqual(['later']);
    expect(left(FIRST_MONTH_MS).refusals[0]?.stayed).toBe('a year');
    const declined = agreementsOf([event({ awaitsConfirmation: true }), event({ kind: 'declined', happenedAt: 5 })]);
    expect(declined.refusals.map((x) => [x.kind, x.stayed, x.came])).toEqual([['declined', 'never in', 'web page']]);
    const voided = agreementsOf([event({}), event({ kind: 'voided', happenedAt: 40 * DAY })]);
    expect([voided.agreements.map(becameOf), voided.refusals]).toEqual([['ended'], []]);
  });

  it('keeps what a purpose does not imply: leaving one is no leaving of the other', () => {
    const { agreements } = agreementsOf([
      event({ purposes: ['informational', 'promotional'] }),
      event({ kind: 'revoked', purposes: ['promotional'], happenedAt: DAY }),
    ]);
    expect(agreements.map((a) => [a.purpose, becameOf(a)])).toEqual([
      ['informational', 'holds'],
      ['promotional', 'soon'],
    ]);
  });

  it('tells a page from a programme, and takes no words of an answer for either', () => {
    const via = (how: ConsentEvent['how'], evidence: Record<string, string>) =>
      agreementsOf([event({ how, evidence })]).agreements[0]?.via;
    expect(via('keyword', { words: 'KILN please', programme: 'key_1' })).toBe('key_1');
    expect(via('reply', { words: 'START', message: 'msg_1' })).toBe('');
    expect(via('preference page', { words: 'rye', invitation: 'inv_1' })).toBe('rye');
    expect(via('web page', {})).toBe('');
  });

  const anyEvents = fc.array(
    fc.record({
      kind: fc.constantFrom(...CONSENT_EVENT_KINDS),
      how: fc.constantFrom(...CONSENT_ROUTES),
      awaitsConfirmation: fc.boolean(),
      happenedAt: fc.integer({ min: 0, max: 90 * DAY }),
      purposes: fc.constantFrom<ConsentEvent['purposes']>(
        ['informational'],
        ['promotional'],
        ['conversational', 'informational', 'promotional'],
      ),
    }),
    { maxLength: 12 },
  );

  it('holds exactly where the fold says granted, whatever happened, and does not depend on the order of arrival', () => {
    fc.assert(
      fc.property(anyEvents, fc.integer(), (drawn, turn) => {
        const events = drawn.map((e, i) => event({ ...e, id: `evt_${String(i).padStart(3, '0')}` }));
        const { agreements, refusals } = agreementsOf(events);
        const states = foldConsent(events, 1e15);
        for (const purpose of ['informational', 'promotional'] as const) {
          const holding = agreements.filter((a) => a.purpose === purpose && becameOf(a) === 'holds');
          expect(holding.length).toBe(states[purpose].state === 'granted' ? 1 : 0);
        }
        for (const r of refusals) expect(STAYED).toContain(r.stayed);
        const at = events.length === 0 ? 0 : Math.abs(turn) % events.length;
        expect(agreementsOf([...events.slice(at), ...events.slice(0, at)])).toEqual({ agreements, refusals });
      }),
      { numRuns: 500 },
    );
  });
});
