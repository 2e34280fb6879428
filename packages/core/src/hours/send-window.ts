import { DateTime } from 'luxon';
import { COUNTRY_HOURS } from '../countries/countries.js';
import { FEDERAL_HOURS, STATE_HOURS, type HoursRule } from './hours.data.js';
import { UNKNOWN_ZONES } from './own-time.js';
import { isFederalHoliday, STATE_HOLIDAYS } from './holidays.js';

export interface HoursRules {
  federal: HoursRule;
  states: readonly HoursRule[];
}

export const DEFAULT_HOURS: HoursRules = { federal: FEDERAL_HOURS, states: [...STATE_HOURS, ...COUNTRY_HOURS] };

export type SendWindow =
  { open: true; closesAt: number } | { open: false; opensAt: number } | { open: false; never: true };

const MINUTE = 60_000;
/** A common window, where one exists, exists within two weeks (a week of rules and its holidays). */
const HORIZON_MS = 15 * 86_400_000;

/** Where somebody may be: IANA zones, and states or countries with rules of their own. */
interface Place {
  zones: readonly string[];
  states: readonly string[];
}

interface Known {
  from: number;
  until: number;
  window: SendWindow;
}

/**
 * What was last reckoned for a place by these rules, and how long it is true: a zone's clock costs more than all else
 * the gate asks, and thousands live in one place. Rules are never changed in place.
 */
const KNOWN = new WeakMap<HoursRules, Map<string, Known>>();
const KNOWN_PLACES = 5000;

/**
 * Whether a text may be sent at `from` (milliseconds) to someone who may be in any of the zones and states: what is
 * open in every one of them is open. Otherwise the first permitted moment, or that there is none.
 * Source: TCPA hours and state laws as in the shipped table; daylight saving by IANA data.
 */
export function sendWindow(place: Place, rules: HoursRules, from: number): SendWindow {
  const known = KNOWN.get(rules) ?? new Map<string, Known>();
  KNOWN.set(rules, known);
  const key = `${place.zones.join()}|${place.states.join()}`;
  const before = known.get(key);
  // Open until it closes, closed until it opens: the same is true at every moment in between.
  if (before && before.from <= from && from < before.until) return before.window;
  const window = reckon(place, rules, from);
  const until = 'never' in window ? from + 1 : window.open ? window.closesAt : window.opensAt;
  if (known.size >= KNOWN_PLACES) known.clear();
  known.set(key, { from, until, window });
  return window;
}

function reckon(place: Place, rules: HoursRules, from: number): SendWindow {
  const zones = place.zones.length > 0 ? place.zones : UNKNOWN_ZONES;
  const found = place.states.map((s) => rules.states.find((r) => r.state === s) ?? rules.federal);
  const applicable = found.length > 0 ? found : [rules.federal];
  const pairs = zones.flatMap((zone) => applicable.map((rule) => ({ zone, rule })));
  let at = from;
  const end = from + HORIZON_MS;
  while (at < end) {
    let closesAt = Infinity;
    let later = at;
    for (const { zone, rule } of pairs) {
      const w = windowAt(zone, rule, at);
      if (w.open) closesAt = Math.min(closesAt, w.until);
      else later = Math.max(later, w.until);
    }
    if (later === at) return at === from ? { open: true, closesAt } : { open: false, opensAt: at };
    at = later;
  }
  return { open: false, never: true };
}

/** For one zone and rule: open until when, or closed until when (at least a minute later, so that it always ends). */
function windowAt(zone: string, rule: HoursRule, at: number): { open: boolean; until: number } {
  const now = DateTime.fromMillis(at, { zone });
  const hours = hoursOn(rule, now);
  const midnight = now.startOf('day');
  if (hours) {
    const opens = midnight.set({ hour: hours[0] });
    const closes = hours[1] === 24 ? midnight.plus({ days: 1 }) : midnight.set({ hour: hours[1] });
    if (now < opens) return { open: false, until: opens.toMillis() };
    if (now < closes) return { open: true, until: closes.toMillis() };
  }
  const tomorrow = midnight.plus({ days: 1 }).toMillis();
  return { open: false, until: Math.max(tomorrow, at + MINUTE) };
}

function hoursOn(rule: HoursRule, day: DateTime): [number, number] | null {
  if (rule.notOnHolidays && isFederalHoliday(day.year, day.month, day.day)) return null;
  if (rule.alsoNotOn?.some((h) => STATE_HOLIDAYS[h](day.year, day.month, day.day))) return null;
  if (day.weekday === 7 && rule.sunday !== undefined) return rule.sunday;
  if (day.weekday === 6 && rule.saturday !== undefined) return rule.saturday;
  return [rule.from, rule.to];
}

/** Next midnight Pacific after `at`: when the carriers' daily caps turn. */
export function nextPacificMidnight(at: number): number {
  return DateTime.fromMillis(at, { zone: 'America/Los_Angeles' }).startOf('day').plus({ days: 1 }).toMillis();
}

/** Last midnight Pacific at or before `at`. */
export function lastPacificMidnight(at: number): number {
  return DateTime.fromMillis(at, { zone: 'America/Los_Angeles' }).startOf('day').toMillis();
}
