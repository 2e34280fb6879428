import fc from 'fast-check';
import { areaCodesAt, holdsPattern, readDigitPattern } from './find-numbers.js';

describe('asking for numbers', () => {
  const read = (t: string): string => {
    const r = readDigitPattern(t);
    return r.ok ? r.pattern : r.why;
  };

  it('reads letters by the keys of a telephone', () => {
    expect(read('FERRY')).toBe('33779');
    expect(read('boat-42')).toBe('262842');
    expect(read('55?01')).toBe('55?01');
    expect(read('12345678901')).toContain('ten digits');
    expect(read('fähre')).toContain('“ä” is on no key');
  });

  it('finds a pattern anywhere in the number', () => {
    expect(holdsPattern('5515550142', '0142')).toBeTrue();
    expect(holdsPattern('5515550142', '5?50')).toBeTrue();
    expect(holdsPattern('5515550142', '9')).toBeFalse();
    fc.assert(
      fc.property(fc.stringMatching(/^\d{10}$/), fc.nat(9), fc.nat(9), (n, a, b) => {
        expect(holdsPattern(n, n.slice(Math.min(a, b), Math.max(a, b)))).toBeTrue();
      }),
    );
  });

  it('knows a place by area code, state or its name, within the country asked for', () => {
    expect(areaCodesAt('551', 'US')).toEqual({ codes: ['551'], label: 'New Jersey' });
    expect(areaCodesAt('new jersey', 'US')?.codes).toEqual(areaCodesAt('NJ', 'US')?.codes);
    expect(areaCodesAt('NJ', 'US')?.codes).toContain('201');
    expect(areaCodesAt('416', 'US')).toBeNull();
    expect(areaCodesAt('416', 'CA')?.label).toBe('Ontario');
    expect(areaCodesAt('Atlantis', 'US')).toBeNull();
  });

  it('knows towns, with the codes laid over theirs since, and tells two of one name apart by the state', () => {
    expect(areaCodesAt('jersey city', 'US')).toEqual({ codes: ['201', '551'], label: 'Jersey City, NJ' });
    expect(areaCodesAt('Springfield, Illinois', 'US')?.label).toBe('Springfield, IL');
    expect(areaCodesAt('Springfield', 'US')?.label).toMatch(/ or /);
    expect(areaCodesAt('Toronto', 'US')).toBeNull();
    expect(areaCodesAt('Toronto', 'CA')?.codes).toContain('416');
  });
});
