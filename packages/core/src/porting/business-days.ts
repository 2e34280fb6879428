import { isFederalHoliday } from '../hours/holidays.js';

/** A calendar day, `YYYY-MM-DD`; in facts and timelines empty where it is not known. */
export type IsoDay = string;

const DAY_MS = 86_400_000;

function toUtc(day: IsoDay): number {
  const match = /^(\d{4})-(\d{2})-(\d{2})$/.exec(day);
  const time = match ? Date.UTC(Number(match[1]), Number(match[2]) - 1, Number(match[3])) : NaN;
  if (Number.isNaN(time) || toDay(time) !== day) throw new RangeError(`“${day}” is no day of the calendar`);
  return time;
}

function toDay(utc: number): IsoDay {
  return new Date(utc).toISOString().slice(0, 10);
}

/** True for a day that exists, written `YYYY-MM-DD`. */
export function isDay(text: string): boolean {
  try {
    return toUtc(text) > 0;
  } catch {
    return false;
  }
}

/** The day on which a moment falls in a time zone. */
export function dayIn(moment: number, zone: string): IsoDay {
  return new Intl.DateTimeFormat('en-CA', { timeZone: zone, year: 'numeric', month: '2-digit', day: '2-digit' }).format(
    moment,
  );
}

/** Days of a port are those of the losing carriers’ offices. */
export const PORT_ZONE = 'America/New_York';

/** `n` calendar days later; earlier where `n` is negative. @throws RangeError for no day. */
export function addDays(day: IsoDay, n: number): IsoDay {
  return toDay(toUtc(day) + n * DAY_MS);
}

/** Calendar days from `from` to `to`; negative where `to` is earlier. @throws RangeError for no day. */
export function daysBetween(from: IsoDay, to: IsoDay): number {
  return Math.round((toUtc(to) - toUtc(from)) / DAY_MS);
}

/**
 * True where federal offices are closed for a holiday: one that falls on a Saturday is kept on the Friday before, on a
 * Sunday on the Monday after. source: 5 U.S.C. 6103(b), Executive Order 11582.
 */
export function isHolidayKept(day: IsoDay): boolean {
  const utc = toUtc(day);
  const falls = (shift: number): boolean => {
    const d = new Date(utc + shift * DAY_MS);
    return isFederalHoliday(d.getUTCFullYear(), d.getUTCMonth() + 1, d.getUTCDate());
  };
  const weekday = new Date(utc).getUTCDay();
  return falls(0) || (weekday === 5 && falls(1)) || (weekday === 1 && falls(-1));
}

/**
 * Monday to Friday less the losing carrier's holidays; the US federal ones where the carrier names none.
 * source: 47 CFR 52.35 and the porting guides built on it (rules.md, Porting).
 */
export function isBusinessDay(day: IsoDay, carrierHolidays?: ReadonlySet<IsoDay>): boolean {
  const weekday = new Date(toUtc(day)).getUTCDay();
  if (weekday === 0 || weekday === 6) return false;
  return carrierHolidays ? !carrierHolidays.has(day) : !isHolidayKept(day);
}

/**
 * The day `n` business days after `day` (before it where `n` is negative). `day` itself is not counted. With `n` = 0
 * the day itself if it is a business day, else the next one.
 */
export function addBusinessDays(day: IsoDay, n: number, carrierHolidays?: ReadonlySet<IsoDay>): IsoDay {
  const step = n < 0 ? -1 : 1;
  let at = day;
  if (n === 0) while (!isBusinessDay(at, carrierHolidays)) at = addDays(at, 1);
  for (let left = Math.abs(n); left > 0;) {
    at = addDays(at, step);
    if (isBusinessDay(at, carrierHolidays)) left--;
  }
  return at;
}

/** How many business days lie after `from` up to and including `to`; negative where `to` is earlier. */
export function businessDaysBetween(from: IsoDay, to: IsoDay, carrierHolidays?: ReadonlySet<IsoDay>): number {
  if (to < from) {
    // The mirror of the way forward, so that adding and counting undo one another: from's own day is not counted.
    let n = 0;
    for (let at = to; at < from; at = addDays(at, 1)) if (isBusinessDay(at, carrierHolidays)) n--;
    return n;
  }
  let n = 0;
  for (let at = from; at < to;) {
    at = addDays(at, 1);
    if (isBusinessDay(at, carrierHolidays)) n++;
  }
  return n;
}
