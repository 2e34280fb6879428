import { moneyOutlook } from './outlook.js';

const FEES = [
  { kind: 'local numbers', count: 2, monthly: 3_000_000 },
  { kind: 'campaigns', count: 1, monthly: 0 },
];
const USE = [
  { kind: 'texts', spent: 7_000_000 },
  { kind: 'lookups', spent: 0 },
];

describe('where a balance is heading', () => {
  it('adds fees by the day to what was used in the days looked at', () => {
    // 3.00 a month is 0.10 a day; 7.00 in seven days is 1.00 a day.
    expect(moneyOutlook(11_000_000, FEES, USE, 7)).toEqual({
      perDay: 1_100_000,
      daysLeft: 10,
      nextMonth: [
        { kind: 'local numbers', count: 2, amount: 3_000_000 },
        { kind: 'texts', count: 0, amount: 30_000_000 },
      ],
      total: 33_000_000,
    });
  });
  it('counts whole days, and none below nothing', () => {
    expect(moneyOutlook(2_199_999, FEES, USE, 7).daysLeft).toBe(1);
    expect(moneyOutlook(0, FEES, USE, 7).daysLeft).toBe(0);
    expect(moneyOutlook(-5_000_000, FEES, USE, 7).daysLeft).toBe(0);
  });
  it('says nothing of days where nothing is spent, and divides by no days', () => {
    expect(moneyOutlook(5_000_000, [], [], 30)).toEqual({ perDay: 0, daysLeft: null, nextMonth: [], total: 0 });
    expect(moneyOutlook(3_000_000, FEES, USE, 0)).toEqual({
      perDay: 100_000,
      daysLeft: 30,
      nextMonth: [{ kind: 'local numbers', count: 2, amount: 3_000_000 }],
      total: 3_000_000,
    });
  });
});
