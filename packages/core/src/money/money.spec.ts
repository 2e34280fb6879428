import fc from 'fast-check';
import { formatAmount, formatCents, formatShown, parseAmount } from './money.js';

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
  it('reads amounts as people write them', () => {
    for (const [text, micros] of [
      ['5', 5_000_000],
      ['1234567890', 1_234_567_890_000_000],
      ['1,200', 1_200_000_000],
      ['$ 12.5', 12_500_000],
      [' -3.25 ', -3_250_000],
      ['-0', -0],
    ] as const)
      expect(parseAmount(text)).withContext(text).toBe(micros);
    expect(() => parseAmount('99999999999999')).toThrowError(/too large/);
  });
  it('rounds to whole cents, half away from nothing', () => {
    expect([
      formatCents(0),
      formatCents(4_999),
      formatCents(5_000),
      formatCents(-5_000),
      formatCents(-12_345_678),
    ]).toEqual(['0.00', '0.00', '0.01', '−0.01', '−12.35']);
  });
  it('refuses what is no amount, and says how to write one', () => {
    for (const bad of ['', 'abc', '1.2.3', '1e5', '0.0000001'])
      expect(() => parseAmount(bad))
        .withContext(bad)
        .toThrowError(/write it like/);
  });
  it('shows two digits, and as many as a single text or lookup needs', () => {
    expect([7_000, 5_500, -5_500, 12_345_678, 10_001, 0].map(formatShown)).toEqual([
      '0.007',
      '0.0055',
      '−0.0055',
      '12.35',
      '0.01',
      '0.00',
    ]);
  });
});
