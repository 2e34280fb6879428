import fc from 'fast-check';
import { optedOutAt, readOptOutLine } from './opt-out-list.js';

const read = (line: string) => readOptOutLine(line, true);

describe('a list of people who opted out', () => {
  it('is read however its numbers and days are written', () => {
    for (const line of [
      '201-555-0142,2026-11-02',
      '2015550142;11/2/2026',
      '(201) 555-0142, STOP, 2026-11-02 14:03',
      '201,5550142,"2026-11-02"',
      '+12015550142\t2026-11-02T14:03:11Z',
    ])
      expect(read(line)).withContext(line).toEqual({ e164: '+12015550142', on: '2026-11-02' });
    for (const line of ['2015550142', '2015550142,by mail', '2015550142,2026-13-02', '201,5550142'])
      expect(read(line)).withContext(line).toEqual({ e164: '+12015550142', on: null });
    for (const line of ['', 'phone,day']) expect(read(line)).toBeNull();
    for (const line of ['201-155-0142,2026-11-02', 'Ada,201-555-0142'])
      expect(read(line)).toEqual({ why: jasmine.any(String) });
  });

  it('counts as its day ends where the business is, and never as a moment to come', () => {
    const zone = 'America/New_York';
    const now = Date.parse('2027-03-12T15:00:00Z');
    const at = (on: string | null, listOf = '2027-03-10'): string =>
      new Date(optedOutAt(on, listOf, zone, now)).toISOString();
    expect(at('2026-11-02')).toBe('2026-11-03T04:59:59.999Z');
    expect(at(null)).toBe('2027-03-11T04:59:59.999Z');
    // A day after the list is of is no day of it.
    expect(at('2027-03-11')).toBe('2027-03-11T04:59:59.999Z');
    expect(at(null, '2027-03-12')).toBe('2027-03-12T15:00:00.000Z');
  });

  it('puts nobody’s no before the day it was said on, or after the list', () => {
    const day = fc
      .integer({ min: 0, max: 4000 })
      .map((n) => new Date(Date.UTC(2020, 0, 1 + n)).toISOString().slice(0, 10));
    fc.assert(
      fc.property(
        day,
        day,
        fc.constantFrom('America/New_York', 'Pacific/Honolulu', 'Asia/Kathmandu'),
        (on, listOf, zone) => {
          const now = Date.UTC(2040, 0, 1);
          const at = optedOutAt(on, listOf, zone, now);
          expect(at).toBeLessThanOrEqual(optedOutAt(null, listOf, zone, now));
          if (on <= listOf) expect(at).toBe(optedOutAt(null, on, zone, now));
        },
      ),
    );
  });
});
