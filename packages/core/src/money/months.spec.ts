import fc from 'fast-check';
import { DateTime } from 'luxon';
import { monthsOn, nextMonthly } from './months.js';

const NY = 'America/New_York';
const at = (text: string, zone = NY): number => DateTime.fromISO(text, { zone }).toMillis();
const shown = (ms: number, zone = NY): string => DateTime.fromMillis(ms, { zone }).toFormat("yyyy-LL-dd'T'HH:mm");

describe('monthly fees', () => {
  it('fall on the same day of each month, and on the last where it has no such day', () => {
    const from = at('2027-01-31T09:30');
    const days: string[] = [];
    for (let due = nextMonthly(from, from, NY); days.length < 14; due = nextMonthly(from, due, NY))
      days.push(shown(due));
    expect(days.map((d) => d.slice(0, 10))).toEqual([
      '2027-02-28',
      '2027-03-31',
      '2027-04-30',
      '2027-05-31',
      '2027-06-30',
      '2027-07-31',
      '2027-08-31',
      '2027-09-30',
      '2027-10-31',
      '2027-11-30',
      '2027-12-31',
      '2028-01-31',
      '2028-02-29',
      '2028-03-31',
    ]);
    expect(days.every((d) => d.endsWith('T09:30')))
      .withContext('at the same time of the day, also where the clock has changed')
      .toBeTrue();
  });

  it('count days in the business’s zone', () => {
    // 31 Jan 23:30 in New York is 1 Feb in UTC.
    const from = at('2027-01-31T23:30');
    expect(shown(nextMonthly(from, from, NY))).toBe('2027-02-28T23:30');
    expect(shown(nextMonthly(from, from, 'UTC'), 'UTC')).toBe('2027-03-01T04:30');
  });

  it('are as many in any years as there are months, none twice and none left out', () => {
    const zones = fc.constantFrom(NY, 'Europe/London', 'Pacific/Auckland', 'UTC');
    const start = fc.integer({ min: Date.UTC(2024, 0, 1), max: Date.UTC(2040, 0, 1) });
    fc.assert(
      fc.property(start, zones, fc.integer({ min: 1, max: 60 }), (from, zone, n) => {
        let due = from;
        for (let i = 1; i <= n; i++) {
          const next = nextMonthly(from, due, zone);
          expect(next).toBeGreaterThan(due);
          expect(next).toBe(monthsOn(from, i, zone));
          due = next;
        }
      }),
      { numRuns: 60 },
    );
  });

  it('begin a month on where a moment before the first is asked about', () => {
    const from = at('2027-05-10T12:00');
    expect(shown(nextMonthly(from, from - 1_000_000_000, NY))).toBe('2027-06-10T12:00');
  });
});
