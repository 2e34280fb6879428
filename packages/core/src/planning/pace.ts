/**
 * The pace of one thing a carrier caps (a campaign, a number): texts leave evenly spaced, whatever dispatch, answer or
 * restart they come from. All that is kept is the next free moment. (Generic cell rate algorithm, ITU-T I.371.)
 */

/** So far behind may the next free moment be: what a round of the engine may catch up at once, milliseconds. */
export const PACE_TOLERANCE_MS = 100;

/** True when a text may leave at `at`. @param freeAt next free moment, milliseconds; 0 for a pace never used. */
export function mayLeaveAt(freeAt: number, at: number): boolean {
  return freeAt <= at;
}

/**
 * The next free moment after a text left at `at`.
 * @param segments of the text: one of three takes three times the room.
 * @param perSecond segments a second the carrier takes.
 * @param toleranceMs how far behind the next free moment may be; more only where time itself goes in larger strides.
 */
export function paceAfter(
  freeAt: number,
  at: number,
  segments: number,
  perSecond: number,
  toleranceMs = PACE_TOLERANCE_MS,
): number {
  return Math.max(freeAt, at - toleranceMs) + (segments * 1000) / perSecond;
}
