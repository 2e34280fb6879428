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
  it('lasts until a known fee no longer can be paid, on its day', () => {
    const now = Date.UTC(2027, 2, 1);
    const day = 86_400_000;
    const fees = [{ at: now + 9 * day, amount: 10_000_000 }];
    const running = [{ kind: 'campaigns', count: 1, monthly: 10_000_000 }];
    const left = (balance: number, spent = 0): number | null =>
      moneyOutlook(balance, running, [{ kind: 'texts', spent }], 10, { fees, now }).daysLeft;
    expect(left(9_000_000)).withContext('it does not reach for the fee of the tenth day').toBe(9);
    expect(left(10_000_000)).withContext('nor for the next, a month on').toBe(39);
    expect(left(10_000_000, 10_000_000)).withContext('a dollar a day goes besides').toBe(9);
    expect(left(0)).toBe(9);
    expect(moneyOutlook(0, [], [], 10, { fees: [], now }).daysLeft).toBeNull();
  });
  it('takes a fee whose day has passed at once', () => {
    const now = Date.UTC(2027, 2, 1);
    const fees = [{ at: now - 1000, amount: 10_000_000 }];
    const running = [{ kind: 'campaigns', count: 1, monthly: 10_000_000 }];
    expect(moneyOutlook(5_000_000, running, [], 10, { fees, now }).daysLeft).toBe(0);
  });
});
