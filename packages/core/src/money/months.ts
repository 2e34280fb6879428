import { DateTime } from 'luxon';

/**
 * The same day of a month so many months on, at the same time of the day; the last day where that month has no such day.
 * Counted from the first day, so that a 31st stays one: 31 Jan, 28 Feb, 31 Mar.
 * @param from milliseconds since the epoch. @param zone IANA, in which days are counted.
 */
export function monthsOn(from: number, months: number, zone: string): number {
  return DateTime.fromMillis(from, { zone }).plus({ months }).toMillis();
}

/** The first monthly day of something begun at `from` that lies behind a moment: when its next fee is due. */
export function nextMonthly(from: number, after: number, zone: string): number {
  const begun = DateTime.fromMillis(from, { zone });
  const passed = Math.max(0, Math.floor(DateTime.fromMillis(after, { zone }).diff(begun, 'months').months) - 1);
  for (let n = passed + 1; ; n++) {
    const at = begun.plus({ months: n }).toMillis();
    if (at > after) return at;
  }
}
