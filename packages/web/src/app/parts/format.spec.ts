import { dayInWords, momentIn } from './format';

describe('moments in words', () => {
  const at = Date.UTC(2027, 2, 14, 6, 59);

  it('are those of their zone and of what is asked for, however often and in whatever order', () => {
    for (let i = 0; i < 2; i++) {
      expect(momentIn(at, 'America/New_York', 'zone')).toBe('14 Mar 2027, 01:59 EST');
      expect(momentIn(at + 60_000, 'America/New_York', 'zone')).toBe('14 Mar 2027, 03:00 EDT');
      expect(momentIn(at, 'America/Chicago', 'zone')).toBe('14 Mar 2027, 00:59 CST');
      expect(momentIn(at, 'America/New_York')).toBe('14 Mar 2027, 01:59');
      expect(momentIn(at, 'America/New_York', 'short')).toBe('14 Mar, 01:59');
      expect(dayInWords('2027-03-14')).toBe('14 Mar 2027');
      expect(dayInWords('2027-03-14', 'axis')).toBe('14 Mar');
    }
  });

  it('stay right where more are asked for than are kept', () => {
    for (let i = 0; i < 5000; i++) momentIn(at + i * 60_000, 'UTC');
    expect(momentIn(at, 'UTC', 'clock')).toBe('14 Mar, 06:59 UTC');
    expect(momentIn(at, 'UTC')).toBe('14 Mar 2027, 06:59');
  });
});
