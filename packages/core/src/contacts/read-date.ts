import { DateTime } from 'luxon';

/** In which order day and month stand in dates written in figures with the year last. */
export type DateOrder = 'day first' | 'month first';
export type ReadDate = { ok: true; date: string } | { ok: false; reason: 'no date' | 'doubtful' };

const MONTHS = 'january february march april may june july august september october november december'.split(' ');
/** Two figures of a year are of this century up to here, of the last one beyond. */
const PIVOT = 69;

function dateOf(year: number, month: number, day: number): ReadDate {
  const d = DateTime.utc(year, month, day);
  return d.isValid ? { ok: true, date: d.toISODate() } : { ok: false, reason: 'no date' };
}
const yearOf = (s: string): number => (s.length > 2 ? Number(s) : Number(s) + (Number(s) > PIVOT ? 1900 : 2000));
const monthOf = (s: string): number =>
  MONTHS.findIndex((m) => s.length >= 3 && m.startsWith(s.toLowerCase().replace('.', ''))) + 1;

/**
 * Reads a date as people and spreadsheets write it: `2026-03-12` (ISO 8601, also with a time behind it), `12 Mar 2026`,
 * `Mar 12, 2026`, `3/12/2026`, a spreadsheet's day number (days since 30 December 1899).
 * @param order which of day and month stands first where both are figures; without it a date that could be either is
 *   doubtful.
 * @returns the date as `YYYY-MM-DD`.
 */
export function readDate(raw: string, order?: DateOrder): ReadDate {
  const s = raw.trim();
  const iso = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})(?:[T ].*)?$/.exec(s);
  if (iso) return dateOf(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const dayName = /^(\d{1,2})(?:st|nd|rd|th)?[ .-]+([A-Za-z]+)\.?[ ,.-]+(\d{4}|\d{2})$/.exec(s);
  if (dayName) return dateOf(yearOf(dayName[3] ?? ''), monthOf(dayName[2] ?? ''), Number(dayName[1]));
  const nameDay = /^([A-Za-z]+)\.? (\d{1,2})(?:st|nd|rd|th)?,? (\d{4})$/.exec(s);
  if (nameDay) return dateOf(Number(nameDay[3]), monthOf(nameDay[1] ?? ''), Number(nameDay[2]));
  const figures = /^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4}|\d{2})(?: \d{1,2}:\d{2}(?::\d{2})?)?$/.exec(s);
  if (figures) {
    const [a, b, year] = [Number(figures[1]), Number(figures[2]), yearOf(figures[3] ?? '')];
    const dayFirst = dateOf(year, b, a);
    const monthFirst = dateOf(year, a, b);
    if (!dayFirst.ok || !monthFirst.ok || dayFirst.date === monthFirst.date) return dayFirst.ok ? dayFirst : monthFirst;
    return order === undefined ? { ok: false, reason: 'doubtful' } : order === 'day first' ? dayFirst : monthFirst;
  }
  // A spreadsheet's day number, between 1954 and 2099.
  if (/^\d{5}(\.\d+)?$/.test(s) && Number(s) >= 20_000 && Number(s) < 73_050) {
    const day = DateTime.utc(1899, 12, 30).plus({ days: Math.floor(Number(s)) });
    return dateOf(day.year, day.month, day.day);
  }
  return { ok: false, reason: 'no date' };
}

/**
 * In which order the dates of a column are written, by those that can only be read one way.
 * @returns null where none tells, or where they contradict each other: then one is asked.
 */
export function dateOrderOf(values: readonly string[]): DateOrder | null {
  let dayFirst = 0;
  let monthFirst = 0;
  for (const v of values) {
    const m = /^(\d{1,2})[-/.](\d{1,2})[-/.](?:\d{4}|\d{2})(?: .*)?$/.exec(v.trim());
    if (!m) continue;
    if (Number(m[1]) > 12) dayFirst++;
    if (Number(m[2]) > 12) monthFirst++;
  }
  if (dayFirst > 0 === monthFirst > 0) return null;
  return dayFirst > 0 ? 'day first' : 'month first';
}
