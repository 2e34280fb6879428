import fc from 'fast-check';
import type { ConsentState } from '../consent/events.js';
import { message, NOON, PLENTY, RULES, subject } from '../testing/gate.js';
import { coverageOf, keptBy, KNOWN_READS, PERSON_POSTS } from './coverage.js';
import type { Subject } from './facts.js';
import { judge } from './judge.js';

const STATES: readonly ConsentState[] = [
  'none',
  'unproven',
  'awaiting',
  'granted',
  'lapsed',
  'declined',
  'revoked',
  'expired',
  'voided',
  'disputed',
];
const consentOf = fc.constantFrom(...STATES);
const anybody: fc.Arbitrary<Partial<Subject>> = fc.record({
  country: fc.constantFrom('US', 'NO'),
  lookedUp: fc.boolean(),
  textable: fc.constantFrom('yes' as const, 'no' as const, 'unknown' as const),
  reachable: fc.boolean(),
  trouble: fc.constantFrom(
    'none' as const,
    'not-textable' as const,
    'out-of-service' as const,
    'refused-by-owner' as const,
    'passing-fault' as const,
  ),
  faultsInReview: fc.boolean(),
  suppression: fc.constantFrom('none' as const, 'all' as const, 'solicitations' as const),
  related: fc.boolean(),
  wishInReview: fc.boolean(),
  reassignment: fc.constantFrom('clear' as const, 'due' as const, 'no data' as const),
  consent: fc.record({ conversational: consentOf, informational: consentOf, promotional: consentOf }),
});
const purposeOf = fc.constantFrom('informational' as const, 'promotional' as const);

describe('coverage', () => {
  it('says of everybody what the whole gate says, where nothing else is in the way', () => {
    fc.assert(
      fc.property(anybody, purposeOf, (over, purpose) => {
        const verdict = judge(subject(over), message({ purpose }), RULES, PLENTY);
        const kept = keptBy(over, purpose, { openCountries: RULES.openCountries, at: NOON });
        expect(kept ? `${kept.result} ${kept.post} ${kept.reason}` : 'pass').toBe(
          verdict.result === 'pass' ? 'pass' : `${verdict.result} ${verdict.post} ${verdict.reason}`,
        );
      }),
      { numRuns: 2000 },
    );
  });

  it('asks posts that read nothing which is not known before a text is written', () => {
    for (const post of PERSON_POSTS)
      for (const read of post.reads)
        expect(read.startsWith('subject.') || KNOWN_READS.includes(read))
          .withContext(`${post.key} reads ${read}`)
          .toBeTrue();
  });

  it('adds up to everybody, each counted once', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ subject: anybody, count: fc.integer({ min: 1, max: 9 }) })),
        purposeOf,
        (classes, purpose) => {
          const { may, kept } = coverageOf(classes, purpose, RULES);
          const all = classes.reduce((n, c) => n + c.count, 0);
          expect(may + kept.reduce((n, k) => n + k.count, 0)).toBe(all);
          expect(new Set(kept.map((k) => `${k.result} ${k.reason}`)).size).toBe(kept.length);
          expect(kept.map((k) => k.post)).toEqual(kept.map((k) => k.post).sort((a, b) => a - b));
        },
      ),
    );
  });
});
