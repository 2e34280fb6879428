import { consentDayStart } from './consent-day.js';

describe('a day on which consent was given', () => {
  const ZONE = 'America/New_York';
  const at = (iso: string): number => Date.parse(iso);

  it('counts from its first moment where the business is, also on the days the clock changes', () => {
    const now = at('2030-12-01T00:00:00Z');
    expect(consentDayStart('2030-03-09', ZONE, now)).toBe(at('2030-03-09T05:00:00Z'));
    expect(consentDayStart('2030-03-11', ZONE, now)).toBe(at('2030-03-11T04:00:00Z'));
    expect(consentDayStart('2030-11-04', ZONE, now)).toBe(at('2030-11-04T05:00:00Z'));
    expect(consentDayStart('2030-03-09', 'Pacific/Honolulu', now)).toBe(at('2030-03-09T10:00:00Z'));
  });

  it('is none where it is still to come there, whatever day it is elsewhere', () => {
    const evening = at('2030-03-13T03:00:00Z');
    expect(consentDayStart('2030-03-12', ZONE, evening)).not.toBeNull();
    expect(consentDayStart('2030-03-13', ZONE, evening)).toBeNull();
    expect(consentDayStart('2030-03-13', 'Pacific/Guam', evening)).not.toBeNull();
  });

  it('is none where no calendar has it, or it is more than a day', () => {
    for (const day of ['2030-02-30', '2029-02-29', '2030-13-01', '2030-3-1', '2030-03-01T10:00', ''])
      expect(consentDayStart(day, ZONE, at('2031-01-01T00:00:00Z')))
        .withContext(day)
        .toBeNull();
  });
});
