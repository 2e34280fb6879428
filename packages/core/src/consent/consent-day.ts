import { DateTime } from 'luxon';

/**
 * From when consent given on a day counts, where only the day is known: from its first moment, so that whatever else was
 * said that day came after it.
 * @param day `YYYY-MM-DD`. @param zone where the business is, an IANA name. @param now milliseconds.
 * @returns milliseconds; null for what is no day, or one that is still to come, which proves nothing.
 */
export function consentDayStart(day: string, zone: string, now: number): number | null {
  const start = DateTime.fromISO(day, { zone });
  return /^\d{4}-\d\d-\d\d$/.test(day) && start.isValid && start.toMillis() <= now ? start.toMillis() : null;
}
