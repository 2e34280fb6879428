import { momentOf, ownMoment } from './own-time.js';

const iso = (ms: number): string => new Date(ms).toISOString();

describe('a chosen time where each person is', () => {
  it('comes in each zone at its own moment, and where two are possible in the later', () => {
    expect(iso(ownMoment('2027-03-10T09:00', ['America/New_York']))).toBe('2027-03-10T14:00:00.000Z');
    expect(iso(ownMoment('2027-03-10T09:00', ['America/Chicago', 'America/Denver']))).toBe('2027-03-10T16:00:00.000Z');
    expect(iso(ownMoment('2027-03-10T09:00', [])))
      .withContext('nothing known: in Honolulu too')
      .toBe('2027-03-10T19:00:00.000Z');
  });

  it('is the same on the clock on both sides of its change', () => {
    expect(iso(momentOf('2027-03-13T09:00', 'America/New_York'))).toBe('2027-03-13T14:00:00.000Z');
    expect(iso(momentOf('2027-03-14T09:00', 'America/New_York'))).toBe('2027-03-14T13:00:00.000Z');
    // 02:30 is left out that night; 01:30 comes twice in November.
    expect(iso(momentOf('2027-03-14T02:30', 'America/New_York'))).toBe('2027-03-14T07:30:00.000Z');
    expect(iso(momentOf('2027-11-07T01:30', 'America/New_York'))).toBe('2027-11-07T05:30:00.000Z');
  });

  it('takes no day that does not exist', () => {
    for (const bad of ['2027-02-30T09:00', '2027-03-10', '2027-03-10T25:00', 'soon'])
      expect(() => momentOf(bad, 'UTC'))
        .withContext(bad)
        .toThrowError(RangeError);
  });
});
