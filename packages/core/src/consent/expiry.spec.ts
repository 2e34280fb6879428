import fc from 'fast-check';
import { expiryOf, lastContact, monthsAfter, type Contacted, type ExpiryPolicy } from './expiry.js';

const at = (iso: string): number => Date.parse(`${iso}Z`);
const DAY = 86_400_000;
const NEVER: Contacted = { agreed: null, 'wrote or called': null, kept: null, 'a text reached them': null };
const policy: ExpiryPolicy = { months: 18, counts: 'either way', askDays: 30 };

describe('consent that nobody stands by', () => {
  it('goes by the last contact, of which a text of ours counts only where the policy says so', () => {
    const seen = { ...NEVER, agreed: 10, 'wrote or called': 30, 'a text reached them': 50 };
    expect(lastContact(seen, 'either way')).toEqual({ at: 50, how: 'a text reached them' });
    expect(lastContact(seen, 'their word')).toEqual({ at: 30, how: 'wrote or called' });
    expect(lastContact({ ...seen, kept: 40 }, 'their word')).toEqual({ at: 40, how: 'kept' });
    expect(lastContact({ ...NEVER, 'a text reached them': 50 }, 'their word')).toBeNull();
  });

  it('counts calendar months, and ends on the last day of one that is shorter', () => {
    expect(monthsAfter(at('2028-08-31T10:00:00'), 6)).toBe(at('2029-02-28T10:00:00'));
    expect(monthsAfter(at('2027-08-31T10:00:00'), 6)).toBe(at('2028-02-29T10:00:00'));
    expect(monthsAfter(at('2028-09-12T23:30:00'), 18)).toBe(at('2030-03-12T23:30:00'));
    expect(monthsAfter(at('2029-12-31T00:00:00'), 2)).toBe(at('2030-02-28T00:00:00'));
  });

  it('is asked about for so many days before it ends', () => {
    const last = at('2028-09-12T00:00:00');
    const ends = at('2030-03-12T00:00:00');
    expect(expiryOf(last, policy, null, ends - 30 * DAY - 1).standing).toBe('in contact');
    const listed = ends - 30 * DAY;
    expect(expiryOf(last, policy, null, listed)).toEqual({ standing: 'ending', endsAt: ends });
    expect(expiryOf(last, policy, listed, ends - 1).standing).toBe('ending');
    expect(expiryOf(last, policy, listed, ends).standing).toBe('over');
  });

  it('never ends what was not listed for the days of asking, however long ago the last contact was', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 60 }),
        fc.integer({ min: 7, max: 90 }),
        fc.integer({ min: 0, max: 4000 }),
        fc.integer({ min: 0, max: 400 }),
        (months, askDays, ago, listedAgo) => {
          const now = at('2030-03-12T16:00:00');
          const p = { ...policy, months, askDays };
          expect(expiryOf(now - ago * DAY, p, null, now).standing).not.toBe('over');
          const { standing, endsAt } = expiryOf(now - ago * DAY, p, now - listedAgo * DAY, now);
          if (listedAgo < askDays) expect(standing).not.toBe('over');
          if (standing === 'over') expect(endsAt).toBeLessThanOrEqual(now);
          else expect(endsAt).toBeGreaterThan(now);
        },
      ),
    );
  });
});
