import { PLENTY, message, NOON, RULES, subject } from '../../testing/gate.js';
import { TEXT_KINDS, type MessageFacts, type Subject } from '../facts.js';
import type { Post, Question } from '../post.js';
import { GATE, POSTS, postLabel, postNo, REASONS } from './index.js';

const CONSENT = ['none', 'granted', 'revoked', 'awaiting', 'disputed', 'expired'] as const;
const SUBJECTS: Partial<Subject>[] = [
  {},
  { wellFormed: false },
  { country: 'SE' },
  { lookedUp: false },
  { textable: 'no' },
  { reachable: false },
  { faultsInReview: true },
  { suppression: 'all' },
  { suppression: 'solicitations', consent: { conversational: 'none', informational: 'none', promotional: 'none' } },
  { wishInReview: true },
  { firstText: true },
  { stopLineDue: true },
  { fieldEmpty: true },
  { carrierKind: 'B' },
  { promotionalCapUntil: NOON + 1 },
  { conversationUntil: NOON + 1 },
  { trouble: 'not-textable' },
  { reassignment: 'due' },
  { reassignment: 'no data' },
  ...CONSENT.map((c) => ({ consent: { conversational: c, informational: c, promotional: c } })),
];
const MESSAGES: Partial<MessageFacts>[] = [
  {},
  ...TEXT_KINDS.map((kind) => ({ kind })),
  { purpose: 'conversational' },
  { purpose: 'informational', transactional: true },
  { purpose: 'informational', wordsPromotional: true },
  { purpose: 'informational', wordsPromotional: true, wordsOverridden: true },
  { kind: 'answer', purpose: 'informational', wordsPromotional: true },
  { oneWay: true, showsStop: false },
  { otherUse: true },
  { namesSender: false },
  { showsStop: false },
  { accountState: 'restricted' },
  { clearance: 'registration-pending' },
  { clearance: 'no-number' },
  { senderCountries: ['SE'] },
  { segments: 9 },
];

/** An object that notes which of its members are looked at. */
function watched<T extends object>(of: T, name: string, seen: Set<string>): T {
  return new Proxy(of, {
    get: (target, key) => {
      seen.add(`${name}.${String(key)}`);
      return target[key as keyof T];
    },
  });
}

describe('the posts of the gate', () => {
  it('read what they say they read, and nothing else', () => {
    for (const post of GATE as readonly Post[]) {
      const seen = new Set<string>();
      for (const s of SUBJECTS)
        for (const m of MESSAGES) {
          const q: Question = {
            subject: watched(subject(s), 'subject', seen),
            message: watched(message(m), 'message', seen),
            rules: watched(RULES, 'rules', seen),
            allowance: watched(PLENTY, 'allowance', seen),
          };
          post.ask(q);
          post.ask({ ...q, allowance: watched({ ...PLENTY, dailySegments: 0 }, 'allowance', seen) });
        }
      expect([...seen].sort())
        .withContext(post.key)
        .toEqual([...post.reads].sort());
    }
  });

  it('are named by their place, and own their reasons', () => {
    expect(POSTS.map((p) => p.no)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]);
    expect(postNo('allowance')).toBe(11);
    expect(postLabel(postNo('consent'))).toBe('consent for this purpose');
    expect(postLabel(0)).toBe('');
    const codes = (GATE as readonly Post[]).flatMap((p) => Object.keys(p.reasons));
    expect(new Set(codes).size).withContext('a reason belongs to one post').toBe(codes.length);
    expect(REASONS['opted-out'].post).toBe(postNo('not-opted-out'));
    for (const r of Object.values(REASONS)) expect(r.why !== '' && r.lift !== '').toBeTrue();
  });
});
