import { DateTime } from 'luxon';

const DAY_MS = 86_400_000;

/**
 * The day of the calendar on which a moment falls in a zone, as whole days since 1 January 1970 of that calendar.
 * @param moment milliseconds since the epoch. @param zone IANA.
 */
export function dayNumber(moment: number, zone: string): number {
  const { year, month, day } = DateTime.fromMillis(moment, { zone });
  return Date.UTC(year, month - 1, day) / DAY_MS;
}

/** A day of {@link dayNumber} as it is written, `YYYY-MM-DD`. */
export function isoOfDay(day: number): string {
  return new Date(day * DAY_MS).toISOString().slice(0, 10);
}

/** The moment at which a day of {@link dayNumber} begins in a zone; where midnight is left out, the first that there is. */
export function dayStart(day: number, zone: string): number {
  return DateTime.fromISO(isoOfDay(day), { zone }).toMillis();
}
