import type { expiryOf } from '@long-gate/core';
import { DateTime } from 'luxon';

/** Months that are looked ahead. */
const AHEAD = 12;

/** How many numbers with consent in force end in which month of the business, if nobody is in contact. */
export class Outlook {
  inForce: number;
  readonly months: Record<string, number>;

  /** @param begun what was counted before, where a walk goes on. */
  constructor(
    private readonly zone: string,
    private readonly now: number,
    begun: { inForce: number; months: Record<string, number> } = { inForce: 0, months: {} },
  ) {
    this.inForce = begun.inForce;
    this.months = { ...begun.months };
  }

  add(found: readonly ReturnType<typeof expiryOf>[]): void {
    this.inForce += found.length;
    for (const { standing, endsAt } of found) {
      const month = this.month(standing === 'over' ? this.now : endsAt);
      this.months[month] = (this.months[month] ?? 0) + 1;
    }
  }

  /** This month and the twelve after it; who is in contact until later is left out. */
  byMonth(): { month: string; n: number }[] {
    const first = DateTime.fromMillis(this.now, { zone: this.zone }).startOf('month');
    return Array.from({ length: AHEAD + 1 }, (_, i) => {
      const month = first.plus({ months: i }).toFormat('yyyy-MM');
      return { month, n: this.months[month] ?? 0 };
    });
  }

  private month(at: number): string {
    return DateTime.fromMillis(at, { zone: this.zone }).toFormat('yyyy-MM');
  }
}
