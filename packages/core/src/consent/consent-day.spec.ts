import { consentDayStart, refusalDayEnd } from './consent-day.js';

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

describe('a day on which somebody said no', () => {
  const ZONE = 'America/New_York';
  const at = (iso: string): number => Date.parse(iso);

  it('counts from its last moment where the business is, also on the days the clock changes', () => {
    const now = at('2030-12-01T00:00:00Z');
    expect(refusalDayEnd('2030-03-09', ZONE, now)).toBe(at('2030-03-10T04:59:59.999Z'));
    expect(refusalDayEnd('2030-03-10', ZONE, now)).toBe(at('2030-03-11T03:59:59.999Z'));
    expect(refusalDayEnd('2030-11-03', ZONE, now)).toBe(at('2030-11-04T04:59:59.999Z'));
  });

  it('comes after consent given that day, and is never still to come', () => {
    const noon = at('2030-03-12T16:00:00Z');
    for (const day of ['2030-03-12', '2030-03-11', '2029-12-31'])
      expect(refusalDayEnd(day, ZONE, noon) ?? 0)
        .withContext(day)
        .toBeGreaterThan(consentDayStart(day, ZONE, noon) ?? Infinity);
    expect(refusalDayEnd('2030-03-12', ZONE, noon)).toBe(noon);
    expect(refusalDayEnd('2030-03-13', ZONE, noon)).toBeNull();
    expect(refusalDayEnd('2030-02-30', ZONE, noon)).toBeNull();
  });
});
