import { DateTime } from 'luxon';

/** Where nothing is known of a person's place, these stand for it: what holds in all of them holds. */
export const UNKNOWN_ZONES = ['America/New_York', 'America/Los_Angeles', 'Pacific/Honolulu'] as const;

/** A wall time such as `2027-03-14T09:00`, to the minute. */
export const LOCAL_TIME = /^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])T(?:[01]\d|2[0-3]):[0-5]\d$/;

/**
 * The moment at which a wall time stands on the clock in a zone. On the day the clock changes a time that comes twice is
 * the first of the two, and one that is left out is as much later as the clock jumps.
 * @param local `2027-03-14T09:00`. @throws RangeError for no such day.
 */
export function momentOf(local: string, zone: string): number {
  const at = DateTime.fromISO(local, { zone });
  if (!LOCAL_TIME.test(local) || !at.isValid) throw new RangeError(`“${local}” is no day and time`);
  // Where the time comes twice, the library names either: the first is meant.
  const earlier = at.minus({ hours: 1 });
  return (earlier.toFormat(WALL) === at.toFormat(WALL) ? earlier : at).toMillis();
}

const WALL = "yyyy-LL-dd'T'HH:mm";
const KNOWN = new Map<string, number>();
const KNOWN_PLACES = 5000;

/** When a wall time has come wherever a person may be: in the last of their zones. */
export function ownMoment(local: string, zones: readonly string[]): number {
  const key = `${local}|${zones.join()}`;
  const before = KNOWN.get(key);
  if (before !== undefined) return before;
  const of = zones.length > 0 ? zones : UNKNOWN_ZONES;
  const at = Math.max(...of.map((zone) => momentOf(local, zone)));
  if (KNOWN.size >= KNOWN_PLACES) KNOWN.clear();
  KNOWN.set(key, at);
  return at;
}
