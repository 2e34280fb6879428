import fc from 'fast-check';
import { dayNumber, dayStart, isoOfDay } from './days.js';

const at = (iso: string): number => Date.parse(iso);

describe('days of a zone', () => {
  it('begin at midnight there, not in Greenwich', () => {
    expect(isoOfDay(dayNumber(at('2027-03-12T04:59:59Z'), 'America/New_York'))).toBe('2027-03-11');
    expect(isoOfDay(dayNumber(at('2027-03-12T05:00:00Z'), 'America/New_York'))).toBe('2027-03-12');
    expect(isoOfDay(dayNumber(at('2027-03-12T10:00:00Z'), 'Pacific/Honolulu'))).toBe('2027-03-12');
    expect(isoOfDay(dayNumber(at('2027-03-12T03:30:00Z'), 'America/St_Johns'))).toBe('2027-03-12');
    expect(isoOfDay(dayNumber(at('2027-03-12T03:29:00Z'), 'America/St_Johns'))).toBe('2027-03-11');
  });

  it('are 23 and 25 hours long when the clock changes', () => {
    const hours = (day: string): number => {
      const n = dayNumber(at(`${day}T12:00:00Z`), 'America/New_York');
      return (dayStart(n + 1, 'America/New_York') - dayStart(n, 'America/New_York')) / 3_600_000;
    };
    expect([hours('2027-03-14'), hours('2027-03-15'), hours('2027-11-07')]).toEqual([23, 24, 25]);
  });

  it('hold each moment between their beginning and the next, anywhere', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: at('2000-01-01T00:00:00Z'), max: at('2060-01-01T00:00:00Z') }),
        fc.constantFrom('America/New_York', 'America/St_Johns', 'Pacific/Honolulu', 'Asia/Kathmandu', 'America/Havana'),
        (moment, zone) => {
          const n = dayNumber(moment, zone);
          expect(dayStart(n, zone)).toBeLessThanOrEqual(moment);
          expect(dayStart(n + 1, zone)).toBeGreaterThan(moment);
        },
      ),
    );
  });
});
