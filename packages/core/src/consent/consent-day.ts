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

/**
 * From when a no said on a day counts, where only the day is known: from its last moment, so that it comes after whatever
 * else was said that day; of today, from now.
 * @param day `YYYY-MM-DD`. @param zone where the business is, an IANA name. @param now milliseconds.
 * @returns milliseconds; null for what is no day, or one that is still to come.
 */
export function refusalDayEnd(day: string, zone: string, now: number): number | null {
  return consentDayStart(day, zone, now) === null
    ? null
    : Math.min(DateTime.fromISO(day, { zone }).endOf('day').toMillis(), now);
}

/** So many business days are left to honour a no from when it is said: the outer limit (47 CFR 64.1200(a)(10)). */
export const REFUSAL_WITHIN_DAYS = 10;
