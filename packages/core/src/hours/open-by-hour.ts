import { sendWindow, type HoursRules } from './send-window.js';

const HOUR_MS = 3_600_000;

/** People who may be in the same zones and states, each joined by commas, and how many they are. */
export interface Placed {
  zones: string;
  states: string;
  count: number;
}

/**
 * How many people the permitted hours leave in each of the coming hours; whoever is open at its half counts.
 * @param from milliseconds; the first hour is the one it lies in, looked at no earlier than that.
 * @returns a count for each hour.
 */
export function openByHour(people: readonly Placed[], rules: HoursRules, from: number, hours: number): number[] {
  const places = new Map<string, { zones: string[]; states: string[]; count: number }>();
  for (const { zones, states, count } of people) {
    const key = `${zones}|${states}`;
    const place = places.get(key);
    if (place) place.count += count;
    else places.set(key, { zones: listed(zones), states: listed(states), count });
  }
  const first = Math.floor(from / HOUR_MS) * HOUR_MS;
  const open = Array.from({ length: hours }, () => 0);
  for (const { count, ...place } of places.values())
    for (let i = 0; i < hours; i++)
      if (sendWindow(place, rules, Math.max(from, first + (i + 0.5) * HOUR_MS)).open) open[i] = (open[i] ?? 0) + count;
  return open;
}

const listed = (names: string): string[] => (names === '' ? [] : names.split(','));
