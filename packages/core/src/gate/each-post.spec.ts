import { message, NOON, PLENTY, RULES, subject } from '../testing/gate.js';
import type { Allowance, GateRules, MessageFacts, Subject } from './facts.js';
import { judge, spend } from './judge.js';
import { judgeClasses, Tally } from './judge-classes.js';
import type { Result } from './post.js';
import type { ReasonCode } from './posts/index.js';
import { isFinal, TEXT_STATES, textAfter, type TextEvent, type TextState } from './text-states.js';

const HOUR = 3_600_000;
/** 21:00 in New York: the first moment at which nothing may be sent there. */
const NINE = Date.parse('2026-11-25T02:00:00Z');
const INFORMATIONAL = { purpose: 'informational' } as const;
const PROMOTIONAL = { purpose: 'promotional' } as const;

interface Case {
  it: string;
  s?: Partial<Subject>;
  m?: Partial<MessageFacts>;
  r?: Partial<GateRules>;
  a?: Partial<Allowance>;
  /** What the post answers, and why; a pass where nothing is said. */
  post: number;
  gives: Result;
  why?: ReasonCode;
  until?: number | undefined;
}

const CASES: Case[] = [
  { it: 'is no number', s: { wellFormed: false }, post: 1, gives: 'stop', why: 'not-well-formed' },
  { it: 'is abroad where nothing is open', s: { country: 'SE' }, post: 2, gives: 'stop', why: 'country-closed' },
  {
    it: 'is abroad where it is open',
    s: { country: 'SE' },
    r: { openCountries: ['US', 'SE'] },
    post: 2,
    gives: 'pass',
  },

  { it: 'was found to have no mobile', s: { trouble: 'not-textable' }, post: 3, gives: 'stop', why: 'not-textable' },
  { it: 'was never looked up', s: { lookedUp: false }, post: 3, gives: 'hold', why: 'never-looked-up' },
  {
    it: 'had no mobile before anybody looked',
    s: { trouble: 'not-textable', lookedUp: false },
    post: 3,
    gives: 'stop',
    why: 'not-textable',
  },
  { it: 'is a landline', s: { textable: 'no' }, post: 3, gives: 'stop', why: 'not-textable' },
  { it: 'is not known for what it is', s: { textable: 'unknown' }, post: 3, gives: 'hold', why: 'lookup-unknown' },

  { it: 'is out of service', s: { trouble: 'out-of-service' }, post: 4, gives: 'stop', why: 'out-of-service' },
  { it: 'has faults to be looked at', s: { faultsInReview: true }, post: 4, gives: 'hold', why: 'faults-in-review' },
  { it: 'cannot be reached', s: { reachable: false }, post: 4, gives: 'hold', why: 'unreachable' },
  { it: 'was not reachable before it was looked up', s: { lookedUp: false, reachable: false }, post: 4, gives: 'pass' },
  { it: 'had one passing fault', s: { trouble: 'passing-fault' }, post: 4, gives: 'pass' },

  {
    it: 'refused us at the carrier',
    s: { trouble: 'refused-by-owner' },
    post: 5,
    gives: 'stop',
    why: 'refused-at-carrier',
  },
  {
    it: 'left',
    s: { consent: { conversational: 'none', informational: 'granted', promotional: 'revoked' } },
    post: 5,
    gives: 'stop',
    why: 'opted-out',
  },
  {
    it: 'left another kind of text',
    s: { consent: { conversational: 'none', informational: 'revoked', promotional: 'granted' } },
    post: 5,
    gives: 'pass',
  },
  { it: 'is on a suppression list', s: { suppression: 'all' }, post: 5, gives: 'stop', why: 'suppressed' },
  ...(
    [
      ['none', PROMOTIONAL, 'stop', 'do-not-call'],
      ['unproven', PROMOTIONAL, 'stop', 'do-not-call'],
      ['awaiting', PROMOTIONAL, 'stop', 'do-not-call'],
      ['granted', PROMOTIONAL, 'pass', undefined],
      ['none', INFORMATIONAL, 'pass', undefined],
    ] as const
  ).map(([state, m, gives, why]): Case => ({
    it: `is on a do-not-call list and has consent ${state} for offers`,
    s: {
      suppression: 'solicitations',
      consent: { conversational: 'none', informational: 'granted', promotional: state },
    },
    m,
    post: 5,
    gives,
    ...(why ? { why } : {}),
  })),
  ...(
    [
      ['solicitations', 'none', 'pass', undefined],
      ['solicitations', 'revoked', 'stop', 'opted-out'],
      ['all', 'none', 'stop', 'suppressed'],
    ] as const
  ).map(([suppression, state, gives, why]): Case => ({
    it: `bought something lately, has consent ${state} for offers, and a list keeps off ${suppression}`,
    s: { suppression, related: true, consent: { conversational: 'none', informational: 'none', promotional: state } },
    m: PROMOTIONAL,
    post: 5,
    gives,
    ...(why ? { why } : {}),
  })),
  {
    it: 'bought something lately, is on a do-not-call list and never agreed to offers in writing',
    s: {
      suppression: 'solicitations',
      related: true,
      consent: { conversational: 'none', informational: 'granted', promotional: 'none' },
    },
    m: PROMOTIONAL,
    post: 6,
    gives: 'stop',
    why: 'consent-none',
  },
  { it: 'may have asked for no more', s: { wishInReview: true }, post: 5, gives: 'hold', why: 'wish-in-review' },
  { it: 'may have asked for no more offers', s: { wishInReview: true }, m: INFORMATIONAL, post: 5, gives: 'pass' },

  ...(
    [
      ['none', 'stop', 'consent-none'],
      ['unproven', 'stop', 'consent-unproven'],
      ['awaiting', 'hold', 'consent-awaiting'],
      ['disputed', 'hold', 'consent-disputed'],
      ['declined', 'stop', 'consent-declined'],
      ['lapsed', 'stop', 'consent-lapsed'],
      ['expired', 'stop', 'consent-expired'],
      ['voided', 'stop', 'consent-voided'],
      ['revoked', 'stop', 'consent-none'],
      ['granted', 'pass', undefined],
    ] as const
  ).map(([state, gives, why]): Case => ({
    it: `has consent ${state}`,
    s: { consent: { conversational: 'granted', informational: 'granted', promotional: state } },
    post: 6,
    gives,
    ...(why ? { why } : {}),
  })),
  ...(['promotional', 'informational'] as const).map((purpose): Case => ({
    it: `is to be asked about first, before ${purpose} texts`,
    s: { reassignment: 'due' },
    m: { purpose },
    post: 6,
    gives: 'hold',
    why: 'reassignment-due',
  })),
  {
    it: 'may have changed hands, for all that is known',
    s: { reassignment: 'no data' },
    post: 6,
    gives: 'hold',
    why: 'reassignment-no-data',
  },
  {
    it: 'may have changed hands, for what they are to know',
    s: { reassignment: 'no data' },
    m: INFORMATIONAL,
    post: 6,
    gives: 'pass',
  },
  {
    it: 'is to be asked about first, and left',
    s: {
      reassignment: 'due',
      consent: { conversational: 'granted', informational: 'granted', promotional: 'voided' },
    },
    post: 6,
    gives: 'stop',
    why: 'consent-voided',
  },
  {
    it: 'is in a dispatch that says it is a conversation',
    s: { consent: { conversational: 'granted', informational: 'granted', promotional: 'granted' } },
    m: { purpose: 'conversational' },
    post: 6,
    gives: 'stop',
    why: 'purpose-not-for-dispatch',
  },
  {
    it: 'is answered in time',
    s: { conversationUntil: NOON + 1 },
    m: { kind: 'answer', purpose: 'conversational' },
    post: 6,
    gives: 'pass',
    until: NOON + 1,
  },
  {
    it: 'is answered at the last moment',
    s: { conversationUntil: NOON },
    m: { kind: 'answer', purpose: 'conversational' },
    post: 6,
    gives: 'stop',
    why: 'conversation-over',
  },
  {
    it: 'never wrote',
    m: { kind: 'answer', purpose: 'conversational' },
    post: 6,
    gives: 'stop',
    why: 'conversation-over',
  },

  {
    it: 'is texted for a provisional account',
    m: { accountState: 'provisional' },
    post: 7,
    gives: 'stop',
    why: 'account-provisional',
  },
  {
    it: 'is texted for a suspended account',
    m: { accountState: 'suspended' },
    post: 7,
    gives: 'stop',
    why: 'account-suspended',
  },
  {
    it: 'gets a dispatch of a restricted account',
    m: { accountState: 'restricted' },
    post: 7,
    gives: 'stop',
    why: 'account-restricted',
  },
  {
    it: 'gets an answer of a restricted account',
    s: { conversationUntil: NOON + HOUR },
    m: { accountState: 'restricted', kind: 'answer' },
    post: 7,
    gives: 'pass',
  },
  {
    it: 'waits for the time chosen where the person is',
    m: { notBefore: '2999-01-01T09:00' },
    post: 10,
    gives: 'hold',
    why: 'chosen-time',
    until: Date.UTC(2999, 0, 1, 14),
  },
  { it: 'is texted while texts are off', m: { textsOff: true }, post: 7, gives: 'hold', why: 'texts-switched-off' },
  ...(
    [
      ['no-number', 'stop'],
      ['number-not-active', 'hold'],
      ['number-ended', 'stop'],
      ['number-not-tied', 'stop'],
      ['registration-pending', 'hold'],
      ['registration-declined', 'stop'],
    ] as const
  ).map(([clearance, gives]): Case => ({
    it: `is texted from a number that is ${clearance}`,
    m: { clearance },
    post: 7,
    gives,
    why: clearance,
  })),
  {
    it: 'is not where this sender may be used',
    m: { senderCountries: ['SE'] },
    post: 7,
    gives: 'stop',
    why: 'sender-not-for-country',
  },
  { it: 'is where this sender may be used', m: { senderCountries: ['SE', 'US'] }, post: 7, gives: 'pass' },

  { it: 'is sent a filtered link', m: { linkFiltered: true }, post: 8, gives: 'stop', why: 'link-filtered' },
  {
    it: 'is sent offers as information',
    m: { ...INFORMATIONAL, wordsPromotional: true },
    post: 8,
    gives: 'stop',
    why: 'words-promotional',
  },
  {
    it: 'is sent offers as information, with a reason',
    m: { ...INFORMATIONAL, wordsPromotional: true, wordsOverridden: true },
    post: 8,
    gives: 'pass',
  },
  { it: 'is sent offers as offers', m: { wordsPromotional: true }, post: 8, gives: 'pass' },
  {
    it: 'is answered with an offer and agreed to offers',
    s: { conversationUntil: NOON + HOUR },
    m: { kind: 'answer', purpose: 'conversational', wordsPromotional: true },
    post: 8,
    gives: 'pass',
  },
  {
    it: 'is answered with an offer and never agreed to any',
    s: {
      conversationUntil: NOON + HOUR,
      consent: { conversational: 'none', informational: 'granted', promotional: 'none' },
    },
    m: { kind: 'answer', purpose: 'conversational', wordsPromotional: true },
    post: 8,
    gives: 'stop',
    why: 'words-promotional',
  },
  ...(['staff test', 'opt-out confirmation'] as const).map((kind): Case => ({
    it: `gets a ${kind} with offers`,
    m: { kind, ...INFORMATIONAL, wordsPromotional: true },
    post: 8,
    gives: 'stop',
    why: 'words-promotional',
  })),
  { it: 'is sent words of another use', m: { otherUse: true }, post: 8, gives: 'stop', why: 'other-use' },
  {
    it: 'is sent words of another use, with a reason',
    m: { otherUse: true, wordsOverridden: true },
    post: 8,
    gives: 'pass',
  },
  { it: 'is sent what a finding blocks', m: { contentBlocked: true }, post: 8, gives: 'stop', why: 'content-blocked' },
  { it: 'would get a hole in the text', s: { fieldEmpty: true }, post: 8, gives: 'stop', why: 'field-empty' },
  {
    it: 'cannot reply to an offer and is shown no way out',
    m: { oneWay: true, showsStop: false },
    post: 8,
    gives: 'stop',
    why: 'signature-missing',
  },
  { it: 'cannot reply to an offer and is shown a way out', m: { oneWay: true }, post: 8, gives: 'pass' },
  {
    it: 'cannot reply to information',
    m: { oneWay: true, showsStop: false, ...INFORMATIONAL },
    post: 8,
    gives: 'pass',
  },
  { it: 'can reply, and was shown the way before', m: { showsStop: false }, post: 8, gives: 'pass' },
  {
    it: 'gets a first text that names nobody',
    s: { firstText: true },
    m: { namesSender: false },
    post: 8,
    gives: 'stop',
    why: 'first-text-incomplete',
  },
  {
    it: 'gets a first text without a way to stop',
    s: { firstText: true },
    m: { showsStop: false },
    post: 8,
    gives: 'stop',
    why: 'first-text-incomplete',
  },
  { it: 'gets a first text that says it all', s: { firstText: true }, post: 8, gives: 'pass' },
  { it: 'gets a later text that names nobody', m: { namesSender: false, showsStop: false }, post: 8, gives: 'pass' },
  {
    it: 'is due the stop line',
    s: { stopLineDue: true },
    m: { showsStop: false },
    post: 8,
    gives: 'stop',
    why: 'stop-line-due',
  },
  { it: 'is due the stop line and gets it', s: { stopLineDue: true }, post: 8, gives: 'pass' },
  {
    it: 'gets an answer as a first text',
    s: { firstText: true, stopLineDue: true, conversationUntil: NOON + HOUR },
    m: { kind: 'answer', showsStop: false, namesSender: false },
    post: 8,
    gives: 'pass',
  },

  {
    it: 'had three offers within a day',
    s: { promotionalCapUntil: NOON + HOUR },
    post: 9,
    gives: 'hold',
    why: 'frequency-cap',
    until: NOON + HOUR,
  },
  { it: 'had three offers until just now', s: { promotionalCapUntil: NOON }, post: 9, gives: 'pass' },
  {
    it: 'had three offers and is told something',
    s: { promotionalCapUntil: NOON + HOUR },
    m: INFORMATIONAL,
    post: 9,
    gives: 'pass',
  },

  { it: 'is texted at noon', post: 10, gives: 'pass', until: NINE },
  {
    it: 'is texted at nine in the evening',
    r: { at: NINE },
    post: 10,
    gives: 'hold',
    why: 'outside-hours',
    until: NINE + 11 * HOUR,
  },
  { it: 'is texted a moment before nine', r: { at: NINE - 1 }, post: 10, gives: 'pass', until: NINE },
  {
    it: 'is told about their booking at night, where the policy lets it',
    m: { ...INFORMATIONAL, transactional: true },
    r: { at: NINE, transactionalAnyHour: true },
    post: 10,
    gives: 'pass',
    until: undefined,
  },
  {
    it: 'is told about their booking at night, where the policy does not',
    m: { ...INFORMATIONAL, transactional: true },
    r: { at: NINE },
    post: 10,
    gives: 'hold',
    why: 'outside-hours',
    until: NINE + 11 * HOUR,
  },
  {
    it: 'is told something at night, whatever the policy',
    m: INFORMATIONAL,
    r: { at: NINE, transactionalAnyHour: true },
    post: 10,
    gives: 'hold',
    why: 'outside-hours',
    until: NINE + 11 * HOUR,
  },
  {
    it: 'gets an offer that calls itself transactional',
    m: { transactional: true },
    r: { at: NINE, transactionalAnyHour: true },
    post: 10,
    gives: 'hold',
    why: 'outside-hours',
    until: NINE + 11 * HOUR,
  },

  { it: 'costs what is just there', m: { segments: 3 }, a: { balance: 21_000 }, post: 11, gives: 'pass' },
  {
    it: 'costs a millionth more than there is',
    m: { segments: 3 },
    a: { balance: 20_999 },
    post: 11,
    gives: 'hold',
    why: 'balance-short',
  },
  {
    it: 'is on a network whose day is just full',
    s: { carrierKind: 'B' },
    m: { segments: 2 },
    a: { dailySegments: 2 },
    post: 11,
    gives: 'pass',
  },
  {
    it: 'is on a network whose day is over',
    s: { carrierKind: 'B' },
    m: { segments: 2 },
    a: { dailySegments: 1 },
    post: 11,
    gives: 'hold',
    why: 'daily-cap',
    until: Date.parse('2026-11-25T08:00:00Z'),
  },
  {
    it: 'is on a network that counts no days',
    s: { carrierKind: 'A' },
    a: { dailySegments: 0 },
    post: 11,
    gives: 'pass',
  },
  {
    it: 'is on a network that paces numbers',
    s: { carrierKind: 'C' },
    a: { dailySegments: 0 },
    post: 11,
    gives: 'pass',
  },
];

describe('each post of the gate, where the recipient', () => {
  const judged = (c: Case) => judge(subject(c.s), message(c.m), { ...RULES, ...c.r }, { ...PLENTY, ...c.a });

  for (const c of CASES)
    it(`${c.it}: ${c.gives}${c.why ? `, ${c.why}` : ''}`, () => {
      const answer = judged(c).answers[c.post - 1];
      expect([answer?.post, answer?.result, answer?.reason]).toEqual([c.post, c.gives, c.why]);
      if ('until' in c || c.gives === 'hold') expect(answer?.until).toBe(c.until);
    });

  it('passes every post: the verdict passes, and stands until the first of what ends it', () => {
    const v = judge(subject(), message(), RULES, PLENTY);
    expect([v.result, v.post, v.reason, v.until, v.goodUntil]).toEqual(['pass', null, null, null, NINE]);
    const answer = { kind: 'answer', purpose: 'conversational' } as const;
    const soon = judge(subject({ conversationUntil: NOON + HOUR }), message(answer), RULES, PLENTY);
    expect([soon.result, soon.goodUntil]).toEqual(['pass', NOON + HOUR]);
    const late = judge(
      subject({ conversationUntil: NOON + 48 * HOUR }),
      message({ ...answer, purpose: 'informational' }),
      RULES,
      PLENTY,
    );
    expect(late.goodUntil)
      .withContext('an answer is free of hours')
      .toBe(NOON + 48 * HOUR);
  });

  it('fails several: the worst answer counts, and the first that gives it decides', () => {
    const v = judge(subject({ reachable: false, suppression: 'all', fieldEmpty: true }), message(), RULES, PLENTY);
    expect([v.result, v.post, v.reason, v.goodUntil]).toEqual(['stop', 5, 'suppressed', null]);
    const held = judge(subject({ reachable: false, promotionalCapUntil: NOON + HOUR }), message(), RULES, PLENTY);
    expect([held.result, held.post, held.until]).toEqual(['hold', 4, null]);
  });

  it('may be anywhere: the zones and states that are known decide together', () => {
    const at = Date.parse('2026-11-24T14:30:00Z'); // 09:30 in New York, 06:30 in Los Angeles
    const where = (zones: string, states: string) =>
      judge(subject({ zones, states }), message(), { ...RULES, at }, PLENTY).answers[9]?.result;
    expect(where('America/New_York', 'NJ')).toBe('pass');
    expect(where('America/New_York,America/Los_Angeles', 'NJ')).toBe('hold');
    expect(where('America/New_York', 'NJ,KY')).withContext('Kentucky opens at ten').toBe('hold');
    expect(where('', '')).withContext('nothing known: all of the country').toBe('hold');
  });

  it('is paid for from what is left, and counted on networks that cap a day', () => {
    const left = { balance: 100_000, dailySegments: 10 };
    expect(spend(left, subject({ carrierKind: 'B' }), message({ segments: 3 }), RULES)).toEqual({
      balance: 79_000,
      dailySegments: 7,
    });
    expect(spend(left, subject({ carrierKind: 'A' }), message({ segments: 3 }), RULES)).toEqual({
      balance: 79_000,
      dailySegments: 10,
    });
  });
});

describe('a gate preview', () => {
  const classes = (list: [Partial<Subject>, number][]) => list.map(([s, count]) => ({ subject: subject(s), count }));

  it('counts each person at the post that decides, and the counts add up', () => {
    const counts = judgeClasses(
      classes([
        [{}, 10],
        [{ suppression: 'all' }, 3],
        [{ trouble: 'refused-by-owner' }, 4],
        [{ reachable: false }, 5],
        [{ promotionalCapUntil: NOON + 2 * HOUR }, 2],
        [{ promotionalCapUntil: NOON + HOUR }, 1],
        [{ fieldEmpty: true }, 6],
      ]),
      message(),
      RULES,
      PLENTY,
    );
    expect([counts.audience, counts.pass, counts.hold, counts.stop]).toEqual([31, 10, 8, 13]);
    const at = (no: number) => counts.posts.find((p) => p.post === no);
    expect(counts.posts.map((p) => [p.pass, p.hold, p.stop])).toEqual([
      [31, 0, 0],
      [31, 0, 0],
      [31, 0, 0],
      [26, 5, 0],
      [19, 0, 7],
      [19, 0, 0],
      [19, 0, 0],
      [13, 0, 6],
      [10, 3, 0],
      [10, 0, 0],
      [10, 0, 0],
    ]);
    expect(at(5)?.reasons).toEqual([
      { reason: 'refused-at-carrier', result: 'stop', count: 4, until: null },
      { reason: 'suppressed', result: 'stop', count: 3, until: null },
    ]);
    expect(at(9)?.reasons).toEqual([{ reason: 'frequency-cap', result: 'hold', count: 3, until: NOON + HOUR }]);
    expect(counts.nextAt)
      .withContext('the first moment anybody is let on')
      .toBe(NOON + HOUR);
    expect(counts.goodUntil).toBe(NINE);
  });

  it('names the first of several moments, of whatever kind', () => {
    const counts = judgeClasses(
      classes([
        [{ promotionalCapUntil: NOON + 2 * HOUR }, 1],
        [{ carrierKind: 'B' }, 1],
      ]),
      message(),
      RULES,
      { ...PLENTY, dailySegments: 0 },
    );
    expect([counts.hold, counts.nextAt]).toEqual([2, NOON + 2 * HOUR]);
  });

  it('knows no moment where nobody waits for one, and stands for ever where nothing ends it', () => {
    const counts = judgeClasses(
      classes([
        [{ reachable: false }, 2],
        [{ suppression: 'all' }, 1],
      ]),
      message(),
      RULES,
      PLENTY,
    );
    expect([counts.nextAt, counts.goodUntil]).toEqual([null, null]);
    const free = judgeClasses(
      classes([[{}, 1]]),
      message({ purpose: 'informational', transactional: true }),
      { ...RULES, transactionalAnyHour: true },
      PLENTY,
    );
    expect([free.pass, free.goodUntil]).toEqual([1, null]);
  });

  it('spends what is left on those who pass, class after class, to the last segment', () => {
    const money = judgeClasses(
      classes([
        [{}, 3],
        [{ country: 'SE' }, 9],
        [{ states: 'NY' }, 3],
      ]),
      message({ segments: 2 }),
      RULES,
      { ...PLENTY, balance: 5 * 14_000 },
    );
    expect([money.pass, money.hold, money.stop]).toEqual([5, 1, 9]);
    expect(money.posts[10]?.reasons[0]?.reason).toBe('balance-short');
    const day = judgeClasses(
      classes([
        [{ carrierKind: 'B' }, 4],
        [{}, 4],
        [{ carrierKind: 'B', states: 'NY' }, 4],
      ]),
      message({ segments: 2 }),
      RULES,
      { ...PLENTY, dailySegments: 11 },
    );
    expect([day.pass, day.hold]).withContext('five of the eight on capped networks').toEqual([9, 3]);
    expect(day.posts[10]?.reasons[0]?.reason).toBe('daily-cap');
    const both = judgeClasses(classes([[{ carrierKind: 'B' }, 10]]), message(), RULES, {
      balance: 3 * 7_000,
      dailySegments: 6,
    });
    expect([both.pass, both.hold]).withContext('the scarcer of the two').toEqual([3, 7]);
    const nothing = judgeClasses(
      classes([[{}, 5]]),
      message({ segments: 0 }),
      { ...RULES, segmentPrice: 0 },
      { balance: 0, dailySegments: 0 },
    );
    expect(nothing.pass).withContext('what costs nothing is never short').toBe(5);
  });

  it('ends each time window with the earliest of its kind', () => {
    const tally = new Tally();
    const hold = (until: number | null) =>
      ({ result: 'hold', post: 10, reason: 'outside-hours', until, goodUntil: null }) as const;
    tally.book(hold(NOON + 9));
    tally.book(hold(NOON + 3), 2);
    tally.book(hold(null));
    tally.book(hold(NOON + 5));
    const pass = (goodUntil: number | null) =>
      ({ result: 'pass', post: null, reason: null, until: null, goodUntil }) as const;
    tally.book(pass(NOON + 8));
    tally.book(pass(NOON + 6), 3);
    tally.book(pass(null));
    const counts = tally.counts();
    expect([counts.audience, counts.pass, counts.hold, counts.nextAt, counts.goodUntil]).toEqual([
      10,
      5,
      5,
      NOON + 3,
      NOON + 6,
    ]);
    const unset = new Tally();
    unset.book(hold(null));
    unset.book(hold(NOON + 4));
    expect(unset.counts().posts[9]?.reasons).toEqual([
      { reason: 'outside-hours', result: 'hold', count: 2, until: NOON + 4 },
    ]);
  });
});

describe('the way of a text', () => {
  const verdict = (result: Result) => ({ result });
  const EVENTS: Record<string, TextEvent> = {
    passes: { kind: 'judged', verdict: verdict('pass'), mayWait: true },
    'is held': { kind: 'judged', verdict: verdict('hold'), mayWait: true },
    'is held alone': { kind: 'judged', verdict: verdict('hold'), mayWait: false },
    'is stopped': { kind: 'judged', verdict: verdict('stop'), mayWait: true },
    'is handed over': { kind: 'handed over', verdict: verdict('pass') },
    'is handed over though held': { kind: 'handed over', verdict: verdict('hold') },
    'is handed over though stopped': { kind: 'handed over', verdict: verdict('stop') },
    'is taken': { kind: 'taken' },
    'is not taken': { kind: 'not taken' },
    'is lost sight of': { kind: 'answer lost' },
    'is refused': { kind: 'refused' },
    'is delivered': { kind: 'delivered' },
    'is not delivered': { kind: 'undelivered' },
    'is withdrawn': { kind: 'withdrawn' },
    'is cancelled': { kind: 'cancelled' },
  };
  const before = (to: TextState) => ({ judging: to, waiting: to, held: to });
  /** Where each leads; from every other state it changes nothing. */
  const LEADS: Record<string, Partial<Record<TextState, TextState>>> = {
    passes: before('waiting'),
    'is held': before('held'),
    'is held alone': before('stopped'),
    'is stopped': before('stopped'),
    'is handed over': { waiting: 'leaving' },
    'is handed over though held': {},
    'is handed over though stopped': {},
    'is taken': { leaving: 'sent', unsure: 'sent' },
    'is not taken': { leaving: 'waiting', unsure: 'waiting' },
    'is lost sight of': { leaving: 'unsure' },
    'is refused': { leaving: 'failed', unsure: 'failed' },
    'is delivered': { leaving: 'delivered', unsure: 'delivered', sent: 'delivered' },
    'is not delivered': { leaving: 'failed', unsure: 'failed', sent: 'failed' },
    'is withdrawn': before('stopped'),
    'is cancelled': before('cancelled'),
  };
  for (const [name, event] of Object.entries(EVENTS))
    it(`that ${name}`, () => {
      for (const state of TEXT_STATES)
        expect(textAfter(state, event))
          .withContext(state)
          .toBe(LEADS[name]?.[state] ?? state);
    });
  it('ends in four states', () => {
    expect(TEXT_STATES.filter(isFinal)).toEqual(['delivered', 'failed', 'stopped', 'cancelled']);
  });
});
