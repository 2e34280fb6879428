import { DateTime } from 'luxon';
import { isDay, type IsoDay } from '../porting/business-days.js';

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

/** A day as a file has it, `2027-03-10` or `3/10/2027`; null for what is none. */
export function readDay(text: string): IsoDay | null {
  const american = /^(\d{1,2})\/(\d{1,2})\/(\d{4})$/.exec(text);
  const day = american ? `${american[3]}-${american[1]?.padStart(2, '0')}-${american[2]?.padStart(2, '0')}` : text;
  return isDay(day) ? day : null;
}
