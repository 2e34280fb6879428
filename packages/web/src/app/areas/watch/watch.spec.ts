import { everyDay } from './every-day';

describe('the days of the chart', () => {
  it('include those without texts, so that distance is time', () => {
    const day = (d: string, delivered: number) => ({ day: d, delivered, filtered: 0, failed: 0, optOuts: 0 });
    expect(everyDay([day('2027-02-27', 5), day('2027-03-02', 7)]).map((d) => [d.day, d.delivered])).toEqual([
      ['2027-02-27', 5],
      ['2027-02-28', 0],
      ['2027-03-01', 0],
      ['2027-03-02', 7],
    ]);
    expect(everyDay([])).toEqual([]);
  });
});
