import { isFederalHoliday, STATE_HOLIDAYS } from './holidays.js';

/** All days of a year on which something holds, as `MM-DD`. */
function daysOf(year: number, holds: (y: number, m: number, d: number) => boolean): string[] {
  const out: string[] = [];
  for (let t = Date.UTC(year, 0, 1); t < Date.UTC(year + 1, 0, 1); t += 86_400_000) {
    const at = new Date(t);
    if (holds(year, at.getUTCMonth() + 1, at.getUTCDate())) out.push(at.toISOString().slice(5, 10));
  }
  return out;
}

describe('holidays', () => {
  it('of the nation fall where the law puts them', () => {
    expect(daysOf(2027, isFederalHoliday)).toEqual([
      '01-01',
      '01-18',
      '02-15',
      '05-31',
      '06-19',
      '07-04',
      '09-06',
      '10-11',
      '11-11',
      '11-25',
      '12-25',
    ]);
    expect(daysOf(2020, isFederalHoliday)).withContext('Juneteenth since 2021').not.toContain('06-19');
    expect(daysOf(2021, isFederalHoliday)).toContain('06-19');
  });

  it('that follow Easter follow it, also in its earliest and latest years', () => {
    // Easter Sundays after the tables of the Gregorian calendar.
    for (const [year, goodFriday, mardiGras] of [
      [2008, '03-21', '02-05'],
      [2011, '04-22', '03-08'],
      [2019, '04-19', '03-05'],
      [2024, '03-29', '02-13'],
      [2025, '04-18', '03-04'],
      [2026, '04-03', '02-17'],
      [2027, '03-26', '02-09'],
      [2028, '04-14', '02-29'],
      [2029, '03-30', '02-13'],
      [2035, '03-23', '02-06'],
      [2038, '04-23', '03-09'],
      [2049, '04-16', '03-02'],
      [2076, '04-17', '03-03'],
    ] as const) {
      expect(daysOf(year, STATE_HOLIDAYS['Good Friday'])).withContext(String(year)).toEqual([goodFriday]);
      expect(daysOf(year, STATE_HOLIDAYS['Mardi Gras'])).withContext(String(year)).toEqual([mardiGras]);
    }
  });

  it('of the states fall once a year, on the weekday the law names', () => {
    const of = (name: keyof typeof STATE_HOLIDAYS) => daysOf(2027, STATE_HOLIDAYS[name]);
    expect(of('day after Thanksgiving')).toEqual(['11-26']);
    expect(of('Confederate Memorial Day')).toEqual(['04-26']);
    expect(of('Jefferson Davis’ Birthday')).toEqual(['06-07']);
    expect(of('Victory Day')).toEqual(['08-09']);
  });
});
