import fc from 'fast-check';
import { describeRate, reachesLevel, wilson } from './wilson.js';

describe('wilson', () => {
  it('matches the published formula on a known case', () => {
    const r = wilson(38, 2214);
    expect(r?.low).toBeCloseTo(0.01252, 4);
    expect(r?.high).toBeCloseTo(0.02346, 4);
  });
  it('contains the rate and stays within 0 and 1', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5000 }), fc.float({ min: 0, max: 1, noNaN: true }), (n, f) => {
        const k = Math.round(f * n);
        const r = wilson(k, n);
        expect(r && r.low <= r.rate && r.rate <= r.high && r.low >= 0 && r.high <= 1).toBe(true);
      }),
    );
  });
  it('gives no rate for nothing and no alarm on a small count', () => {
    expect(wilson(0, 0)).toBeNull();
    expect(describeRate(null)).toBe('none yet');
    expect(reachesLevel(wilson(2, 2), 0.005)).toBe(false);
    expect(reachesLevel(wilson(30, 100), 0.03)).toBe(true);
  });
});
