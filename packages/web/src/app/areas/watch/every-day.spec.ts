import { Settings } from 'luxon';
import { everyDay, type Day } from './every-day';

const on = (day: string, delivered = 1): Day => ({ day, delivered, filtered: 0, failed: 0, optOuts: 0 });

describe('every day of a chart', () => {
  afterEach(() => (Settings.defaultZone = 'system'));

  it('has the days without texts too, over the end of a month and of a leap February', () => {
    expect(everyDay([on('2028-02-27', 5), on('2028-03-02', 7)]).map((d) => [d.day, d.delivered])).toEqual([
      ['2028-02-27', 5],
      ['2028-02-28', 0],
      ['2028-02-29', 0],
      ['2028-03-01', 0],
      ['2028-03-02', 7],
    ]);
  });

  it('has the last day also where the clock of the person who looks leaves out a midnight', () => {
    // In Havana the night before 14 March 2027 goes from 23:59 to 1:00.
    Settings.defaultZone = 'America/Havana';
    expect(everyDay([on('2027-03-13'), on('2027-03-16')]).map((d) => d.day)).toEqual([
      '2027-03-13',
      '2027-03-14',
      '2027-03-15',
      '2027-03-16',
    ]);
  });

  it('has none of nothing', () => {
    expect(everyDay([])).toEqual([]);
  });
});
