import { DateTime } from 'luxon';

/** What a day brought. */
export interface Day {
  day: string;
  delivered: number;
  filtered: number;
  failed: number;
  optOuts: number;
}

/** Days without texts too, so that distance on the axis is distance in time. */
export function everyDay(days: readonly Day[]): Day[] {
  const first = days[0];
  const last = days[days.length - 1];
  if (!first || !last) return [];
  const by = new Map(days.map((d) => [d.day, d]));
  const out: Day[] = [];
  for (let at = DateTime.fromISO(first.day); at <= DateTime.fromISO(last.day); at = at.plus({ days: 1 })) {
    const day = at.toISODate() ?? '';
    out.push(by.get(day) ?? { day, delivered: 0, filtered: 0, failed: 0, optOuts: 0 });
  }
  return out;
}
