import { optedOutAt, readOptOutLine } from './opt-out-list.js';

const read = (line: string) => readOptOutLine(line, true);

describe('a list of people who opted out', () => {
  it('is read however its numbers and days are written', () => {
    for (const line of [
      '201-555-0142,2026-11-02',
      '2015550142;2 Nov 2026',
      '2015550142,2026-05-01,2026-11-02',
      '2015550142,44512,2026-11-02',
      '(201) 555-0142, STOP, 2026-11-02 14:03',
      '201,5550142,"2026-11-02"',
      '+12015550142\t2026-11-02T14:03:11Z',
    ])
      expect(read(line)).withContext(line).toEqual({ e164: '+12015550142', on: '2026-11-02' });
    for (const line of [
      '2015550142',
      '2015550142,by mail',
      '2015550142,2026-13-02',
      '201,5550142',
      // A postal code is no day of a spreadsheet, and a day that could be two is none.
      '2015550142,44512',
      '2015550142,11/2/2026',
      '2015550142,2026-05-01,11/2/2026',
    ])
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
    // The line knows better than whoever wrote down what day the list is of.
    expect(at('2027-03-11')).toBe('2027-03-12T04:59:59.999Z');
    expect(at('2027-03-12')).toBe('2027-03-12T15:00:00.000Z');
    expect(at(null, '2027-03-12')).toBe('2027-03-12T15:00:00.000Z');
  });
});
