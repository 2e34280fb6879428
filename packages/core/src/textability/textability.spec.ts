import { DEFAULT_TEXTABILITY, lookupIsStale, textableBy, type LineType } from './textability.js';

const DAY = 86_400_000;

describe('whether texts reach a line', () => {
  it('follows from its type, and for VoIP and toll-free from the policy', () => {
    const by = (policy = DEFAULT_TEXTABILITY) =>
      (['mobile', 'voip', 'toll-free', 'landline', 'none', 'unknown'] as LineType[]).map((t) => textableBy(t, policy));
    expect(by()).toEqual(['yes', 'yes', 'no', 'no', 'no', 'unknown']);
    expect(by({ ...DEFAULT_TEXTABILITY, voip: false, tollFree: true })).toEqual([
      'yes',
      'no',
      'yes',
      'no',
      'no',
      'unknown',
    ]);
  });
  it('is asked again after 180 days, of an unreachable number after 30, and never before', () => {
    expect(lookupIsStale(null, true, 0)).toBeTrue();
    expect([lookupIsStale(0, true, 180 * DAY), lookupIsStale(0, true, 180 * DAY + 1)]).toEqual([false, true]);
    expect([lookupIsStale(0, false, 30 * DAY), lookupIsStale(0, false, 30 * DAY + 1)]).toEqual([false, true]);
    expect(lookupIsStale(5 * DAY, true, 6 * DAY, { ...DEFAULT_TEXTABILITY, staleDays: 0 })).toBeTrue();
  });
});
