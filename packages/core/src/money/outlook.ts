import type { Micros } from './money.js';

/** A monthly fee that will come again. */
export interface RunningFee {
  /** What it is for, such as `local numbers`. */
  kind: string;
  count: number;
  monthly: Micros;
}

/** A monthly fee and when it is due next. */
export interface FeeToCome {
  at: number;
  amount: Micros;
}

export interface Outlook {
  /** What goes off the balance in a day at the current pace: use over the days looked at, and monthly fees by the day. */
  perDay: Micros;
  /** Whole days until the balance no longer reaches: use day by day, each known fee on its day. Null where nothing is spent. */
  daysLeft: number | null;
  /** Next month, line by line. */
  nextMonth: { kind: string; count: number; amount: Micros }[];
  total: Micros;
}

const DAYS_IN_MONTH = 30;

/**
 * Where a prepaid balance is heading.
 * @param use what was spent on texts, lookups and the like over `days` days, by kind, without monthly fees.
 * @param due the fees by the day they are due, for how long the balance lasts; without, fees count evenly by the day.
 */
export function moneyOutlook(
  balance: Micros,
  fees: readonly RunningFee[],
  use: readonly { kind: string; spent: Micros }[],
  days: number,
  due?: { fees: readonly FeeToCome[]; now: number },
): Outlook {
  const monthly = fees.reduce((sum, f) => sum + f.monthly, 0);
  const used = use.reduce((sum, u) => sum + u.spent, 0);
  const perDay = Math.round(monthly / DAYS_IN_MONTH + (days > 0 ? used / days : 0));
  const nextMonth = [
    ...fees.map((f) => ({ kind: f.kind, count: f.count, amount: f.monthly })),
    ...use.map((u) => ({
      kind: u.kind,
      count: 0,
      amount: days > 0 ? Math.round((u.spent / days) * DAYS_IN_MONTH) : 0,
    })),
  ].filter((l) => l.amount > 0);
  return {
    perDay,
    daysLeft: perDay > 0 ? (due ? lasts(balance, days > 0 ? used / days : 0, due) : even(balance, perDay)) : null,
    nextMonth,
    total: nextMonth.reduce((sum, l) => sum + l.amount, 0),
  };
}

const even = (balance: Micros, perDay: Micros): number => Math.floor(Math.max(0, balance) / perDay);
const DAY_MS = 86_400_000;
/** Nobody looks farther ahead. */
const MOST_DAYS = 3660;

/** Whole days a balance lasts where use goes off it evenly and each fee on its day, every month. */
function lasts(balance: Micros, useADay: number, { fees, now }: { fees: readonly FeeToCome[]; now: number }): number {
  let left = balance;
  for (let day = 0; day < MOST_DAYS; day++) {
    const [from, to] = [now + day * DAY_MS, now + (day + 1) * DAY_MS];
    for (const f of fees) {
      // The first on its day, or at once where that has passed; the others by months of thirty days.
      const first = Math.max(f.at, now);
      const month = Math.max(0, Math.ceil((from - first) / (DAYS_IN_MONTH * DAY_MS)));
      const at = first + month * DAYS_IN_MONTH * DAY_MS;
      if (at >= from && at < to) left -= f.amount;
    }
    left -= useADay;
    if (left < 0) return day;
  }
  return MOST_DAYS;
}
