import fc from 'fast-check';
import { formatAmount, formatCents, parseAmount } from './money.js';

describe('money', () => {
  it('reads what it writes, exactly', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 10 ** 13 }), (micros) =>
        expect(parseAmount(formatAmount(micros))).toBe(micros),
      ),
    );
  });
  it('writes whole cents and small unit prices', () => {
    expect(formatAmount(1_300_000)).toBe('1.30');
    expect(formatAmount(5_500)).toBe('0.0055');
    expect(formatCents(12_345_678)).toBe('12.35');
    expect(formatAmount(-4_500_000)).toBe('−4.50');
  });
  it('refuses what is no amount, and says how to write one', () => {
    for (const bad of ['', 'abc', '1.2.3', '1e5', '0.0000001'])
      expect(() => parseAmount(bad))
        .withContext(bad)
        .toThrowError(/write it like/);
  });
});
