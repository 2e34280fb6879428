import type { Micros } from './money.js';

/** A monthly fee that will come again. */
export interface RunningFee {
  /** What it is for, such as `local numbers`. */
  kind: string;
  count: number;
  monthly: Micros;
}

export interface Outlook {
  /** What goes off the balance in a day at the current pace: use over the days looked at, and monthly fees by the day. */
  perDay: Micros;
  /** Whole days until the balance is used up at that pace; null where nothing is spent. */
  daysLeft: number | null;
  /** Next month, line by line. */
  nextMonth: { kind: string; count: number; amount: Micros }[];
  total: Micros;
}

const DAYS_IN_MONTH = 30;

/**
 * Where a prepaid balance is heading.
 * @param use what was spent on texts, lookups and the like over `days` days, by kind, without monthly fees.
 */
export function moneyOutlook(
  balance: Micros,
  fees: readonly RunningFee[],
  use: readonly { kind: string; spent: Micros }[],
  days: number,
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
    daysLeft: perDay > 0 ? Math.floor(Math.max(0, balance) / perDay) : null,
    nextMonth,
    total: nextMonth.reduce((sum, l) => sum + l.amount, 0),
  };
}
