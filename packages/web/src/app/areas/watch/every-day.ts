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
  for (let day = first.day; day <= last.day; day = dayAfter(day))
    out.push(by.get(day) ?? { day, delivered: 0, filtered: 0, failed: 0, optOuts: 0 });
  return out;
}

/** A date alone is read as one of UTC, where every day has its midnight. */
const dayAfter = (day: string): string => new Date(Date.parse(day) + 86_400_000).toISOString().slice(0, 10);
