import fc from 'fast-check';
import { message, NOON, PLENTY, RULES, subject } from '../testing/gate.js';
import { TEXT_KINDS, type Allowance, type GateRules, type MessageFacts, type Subject, type TextKind } from './facts.js';
import { judge, spend } from './judge.js';
import { judgeClasses, Tally } from './judge-classes.js';
import { POSTS, type PostKey } from './posts/index.js';

const decide = (
  s: Partial<Subject>,
  m: Partial<MessageFacts> = {},
  r: Partial<GateRules> = {},
  a: Allowance = PLENTY,
): string => {
  const v = judge(subject(s), message(m), { ...RULES, ...r }, a);
  return v.result === 'pass' ? 'pass' : `${v.result} ${v.post} ${v.reason}`;
};

describe('judge', () => {
  it('passes who may be texted', () => expect(decide({})).toBe('pass'));
  it('answers at each post, in order', () => {
    expect(decide({ wellFormed: false })).toBe('stop 1 not-well-formed');
    expect(decide({ country: 'NO' })).toBe('stop 2 country-closed');
    expect(decide({ lookedUp: false, textable: 'unknown' })).toBe('hold 3 never-looked-up');
    expect(decide({ textable: 'no' })).toBe('stop 3 not-textable');
    expect(decide({ trouble: 'out-of-service' })).toBe('stop 4 out-of-service');
    expect(decide({ faultsInReview: true })).toBe('hold 4 faults-in-review');
    expect(decide({ consent: { conversational: 'none', informational: 'granted', promotional: 'revoked' } })).toBe(
      'stop 5 opted-out',
    );
    expect(decide({ consent: { conversational: 'none', informational: 'granted', promotional: 'unproven' } })).toBe(
      'stop 6 consent-unproven',
    );
    expect(decide({ consent: { conversational: 'none', informational: 'granted', promotional: 'awaiting' } })).toBe(
      'hold 6 consent-awaiting',
    );
    expect(decide({}, { accountState: 'provisional' })).toBe('stop 7 account-provisional');
    expect(decide({}, { textsOff: true })).toBe('hold 7 texts-switched-off');
    expect(decide({}, { clearance: 'registration-pending' })).toBe('hold 7 registration-pending');
    expect(decide({}, { contentBlocked: true })).toBe('stop 8 content-blocked');
    expect(decide({ firstText: true }, { showsStop: false })).toBe('stop 8 first-text-incomplete');
    expect(decide({ promotionalCapUntil: NOON + 1000 })).toBe('hold 9 frequency-cap');
    expect(decide({}, {}, { at: NOON + 12 * 3_600_000 })).toBe('hold 10 outside-hours');
    expect(decide({}, {}, {}, { balance: 6_999, dailySegments: 10 })).toBe('hold 11 balance-short');
    expect(decide({ carrierKind: 'B' }, {}, {}, { balance: 7_000, dailySegments: 0 })).toBe('hold 11 daily-cap');
  });
  it('stops words that deny their purpose, links that are filtered, and another use than registered', () => {
    const info = { purpose: 'informational' as const };
    expect(decide({}, { ...info, wordsPromotional: true })).toBe('stop 8 words-promotional');
    expect(decide({}, { ...info, wordsPromotional: true, wordsOverridden: true })).toBe('pass');
    expect(decide({}, { wordsPromotional: true })).toBe('pass');
    expect(decide({}, { linkFiltered: true, wordsOverridden: true })).toBe('stop 8 link-filtered');
    expect(decide({}, { otherUse: true })).toBe('stop 8 other-use');
  });
  it('lets an answer carry an offer only to who agreed to offers, and a confirmation of an opt-out never', () => {
    const answer = { kind: 'answer' as const, purpose: 'conversational' as const, wordsPromotional: true };
    const none = { conversational: 'none', informational: 'granted', promotional: 'none' } as const;
    expect(decide({ conversationUntil: NOON + 1 }, answer)).toBe('pass');
    expect(decide({ conversationUntil: NOON + 1, consent: none }, answer)).toBe('stop 8 words-promotional');
    expect(decide({}, { kind: 'opt-out confirmation', purpose: 'informational', wordsPromotional: true })).toBe(
      'stop 8 words-promotional',
    );
  });
  it('knows no conversational dispatch and no transactional offer', () => {
    const granted = { conversational: 'granted', informational: 'granted', promotional: 'granted' } as const;
    expect(decide({ consent: granted }, { purpose: 'conversational' })).toBe('stop 6 purpose-not-for-dispatch');
    const night = { at: NOON + 12 * 3_600_000, transactionalAnyHour: true };
    expect(decide({}, { transactional: true, purpose: 'informational' }, night)).toBe('pass');
    expect(decide({}, { transactional: true }, night)).toBe('hold 10 outside-hours');
  });
  it('says until when a pass stands by the clock', () => {
    const v = judge(subject(), message(), RULES, PLENTY);
    expect(v.goodUntil).toBe(Date.parse('2026-11-25T02:00:00Z'));
    const answer = message({ kind: 'answer', purpose: 'conversational' });
    expect(judge(subject({ conversationUntil: NOON + 5 }), answer, RULES, PLENTY).goodUntil).toBe(NOON + 5);
  });
  it('takes the worst answer, not the first', () => {
    expect(
      decide({
        lookedUp: false,
        textable: 'unknown',
        consent: { conversational: 'none', informational: 'none', promotional: 'none' },
      }),
    ).toBe('stop 6 consent-none');
  });
  it('lets an answer through on the person’s own word, and only in time', () => {
    const none = { conversational: 'none', informational: 'none', promotional: 'none' } as const;
    expect(decide({ consent: none, conversationUntil: NOON + 1 }, { kind: 'answer', purpose: 'conversational' })).toBe(
      'pass',
    );
    expect(decide({ consent: none, conversationUntil: NOON }, { kind: 'answer', purpose: 'conversational' })).toBe(
      'stop 6 conversation-over',
    );
  });
  it('asks each kind of text the posts of its kind', () => {
    const notAsked: Record<TextKind, PostKey[]> = {
      dispatch: [],
      answer: ['frequency', 'hours'],
      'opt-out confirmation': ['not-opted-out', 'consent', 'frequency', 'hours'],
      'help answer': ['not-opted-out', 'consent', 'frequency', 'hours'],
      'opt-in request': ['not-opted-out', 'consent', 'frequency', 'hours'],
      'opt-in answer': ['not-opted-out', 'consent', 'frequency', 'hours'],
      'staff test': ['consent', 'frequency', 'hours'],
    };
    for (const kind of TEXT_KINDS) {
      const v = judge(subject({ conversationUntil: NOON + 1 }), message({ kind }), RULES, PLENTY);
      const unasked = v.answers.filter((a) => a.result === 'not asked').map((a) => POSTS[a.post - 1]?.key);
      expect(unasked.filter((key) => key !== undefined))
        .withContext(kind)
        .toEqual(notAsked[kind]);
      expect(v.answers.length).toBe(POSTS.length);
    }
  });
  it('confirms an opt-out to one who is out, but never on a suspended account', () => {
    const out = { conversational: 'revoked', informational: 'revoked', promotional: 'revoked' } as const;
    expect(decide({ consent: out }, { kind: 'opt-out confirmation', purpose: 'informational' })).toBe('pass');
    expect(decide({ consent: out }, { kind: 'opt-out confirmation', accountState: 'suspended' })).toBe(
      'stop 7 account-suspended',
    );
    expect(decide({}, { kind: 'dispatch', accountState: 'restricted' })).toBe('stop 7 account-restricted');
  });
});

describe('judgeClasses', () => {
  const anySubject = fc
    .record({
      textable: fc.constantFrom('yes', 'no', 'unknown' as const),
      lookedUp: fc.boolean(),
      country: fc.constantFrom('US', 'CA'),
      states: fc.constantFrom('NJ', 'AL', 'TX', 'FL,AL'),
      trouble: fc.constantFrom('none', 'out-of-service' as const),
      wishInReview: fc.boolean(),
      carrierKind: fc.constantFrom('A', 'B', 'C' as const),
      firstText: fc.boolean(),
      promo: fc.constantFrom('granted', 'granted', 'granted', 'none', 'revoked', 'awaiting' as const),
      cap: fc.option(fc.integer({ min: NOON - 10, max: NOON + 1000 })),
    })
    .map(({ promo, cap, ...s }) =>
      subject({
        ...(s as Partial<Subject>),
        consent: { conversational: 'none', informational: 'none', promotional: promo as 'granted' },
        promotionalCapUntil: cap,
      }),
    );

  it('gives the same counts as judging one by one, whatever runs out on the way', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(anySubject, fc.integer({ min: 1, max: 9 })), { maxLength: 12 }),
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 0, max: 30 }),
        fc.integer({ min: 1, max: 3 }),
        (classes, texts, daily, segments) => {
          const m = message({ segments, showsStop: false });
          const start = { balance: texts * 7_000, dailySegments: daily };
          const grouped = judgeClasses(
            classes.map(([s, count]) => ({ subject: s, count })),
            m,
            RULES,
            start,
          );
          const tally = new Tally();
          let left = start;
          for (const [s, count] of classes)
            for (let i = 0; i < count; i++) {
              const v = judge(s, m, RULES, left);
              tally.book(v);
              if (v.result === 'pass') left = spend(left, s, m, RULES);
            }
          const single = tally.counts();
          expect(grouped).toEqual(single);
          expect(grouped.pass + grouped.hold + grouped.stop).toBe(grouped.audience);
          expect(grouped.audience).toBe(classes.reduce((n, [, c]) => n + c, 0));
        },
      ),
    );
  });
});
