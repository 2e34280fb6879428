import {
  CONFIRM_WITHIN_MS,
  PURPOSES,
  type ConsentEvent,
  type ConsentEventKind,
  type ConsentState,
  type Purpose,
} from './events.js';

export interface PurposeState {
  state: ConsentState;
  /** When the deciding event happened; null for `none`. */
  since: number | null;
  /** Id of the deciding event. */
  eventId: string | null;
  /** When somebody last asked for this purpose and a YES may still answer it; null where nothing is asked. */
  askedAt: number | null;
}

export type ConsentStates = Record<Purpose, PurposeState>;

/** At equal times the stricter wins: it is applied last. */
const STRICTNESS: Record<ConsentEventKind, number> = {
  claimed: 0,
  withdrawn: 1,
  granted: 2,
  confirmed: 3,
  declined: 4,
  expired: 5,
  voided: 6,
  disputed: 7,
  revoked: 8,
};

type Foldable = Pick<ConsentEvent, 'id' | 'kind' | 'purposes' | 'awaitsConfirmation' | 'happenedAt'>;

export const NOTHING_SAID: PurposeState = { state: 'none', since: null, eventId: null, askedAt: null };

/** Events in the order in which they count: of when they happened, at equal times the stricter last. */
export function inOrder<T extends Foldable>(events: readonly T[]): T[] {
  const sorted = [...events];
  if (sorted.length < 2) return sorted;
  return sorted.sort(
    (a, b) => a.happenedAt - b.happenedAt || STRICTNESS[a.kind] - STRICTNESS[b.kind] || (a.id < b.id ? -1 : 1),
  );
}

/** Where a number stands for one purpose after an event that speaks of it. */
export function advance(before: PurposeState, event: Foldable): PurposeState {
  const next = step(before, event);
  const askedAt = asked(before, event);
  return next === null
    ? { ...before, askedAt }
    : next === 'none'
      ? { ...NOTHING_SAID, askedAt }
      : { state: next, since: event.happenedAt, eventId: event.id, askedAt };
}

/**
 * Where a contact number stands for each purpose at `asOf` (milliseconds). Events are applied in the order of when
 * they happened, not of when they were recorded, so the answer does not depend on the order of arrival; at equal
 * times the stricter wins. A purpose never implies another.
 */
export function foldConsent(events: readonly Foldable[], asOf: number): ConsentStates {
  const sorted = inOrder(events.filter((e) => e.happenedAt <= asOf));
  const states: ConsentStates = {
    conversational: NOTHING_SAID,
    informational: NOTHING_SAID,
    promotional: NOTHING_SAID,
  };
  for (const event of sorted) for (const purpose of event.purposes) states[purpose] = advance(states[purpose], event);
  for (const purpose of PURPOSES) {
    const s = states[purpose];
    if (s.askedAt === null || asOf - s.askedAt < CONFIRM_WITHIN_MS) continue;
    // A lapse says nothing of one who is out: they stay out, and START is open to them.
    states[purpose] =
      s.state === 'awaiting'
        ? { ...s, state: 'lapsed', since: s.askedAt + CONFIRM_WITHIN_MS, askedAt: null }
        : { ...s, askedAt: null };
  }
  return states;
}

/** States that only the owner's own YES or START ends. */
export const OWNERS_WORD: readonly ConsentState[] = ['revoked', 'disputed', 'voided'];

/** Until when a YES answers something: a request opens it; everything else that is decided closes it. */
function asked(before: PurposeState, event: Foldable): number | null {
  switch (event.kind) {
    case 'granted':
      return event.awaitsConfirmation && before.state !== 'granted' ? event.happenedAt : null;
    case 'claimed':
    case 'withdrawn':
      return before.askedAt;
    case 'confirmed':
      return step(before, event) === null ? before.askedAt : null;
    default:
      return null;
  }
}

function step(before: PurposeState, event: Foldable): ConsentState | null {
  switch (event.kind) {
    case 'claimed':
      // A claim proves nothing: it never takes away or restores what better events decided.
      return before.state === 'none' ? 'unproven' : null;
    case 'withdrawn':
      return before.state === 'unproven' ? 'none' : null;
    case 'granted':
      if (!event.awaitsConfirmation) return 'granted';
      // Somebody else's filling in a form never changes what the number's owner has said.
      return before.state === 'granted' || OWNERS_WORD.includes(before.state) ? null : 'awaiting';
    case 'confirmed':
      return before.askedAt !== null &&
        event.happenedAt - before.askedAt < CONFIRM_WITHIN_MS &&
        before.state !== 'granted'
        ? 'granted'
        : null;
    case 'declined':
      return before.state === 'awaiting' ? 'declined' : null;
    case 'expired':
      return before.state === 'awaiting' ? 'lapsed' : before.state === 'granted' ? 'expired' : null;
    case 'voided':
      return before.state === 'none' ? null : 'voided';
    case 'disputed':
      return before.state === 'revoked' ? null : 'disputed';
    case 'revoked':
      return 'revoked';
  }
}

/** The purposes in force just before the person last left: what START brings back (rules.md, consent). */
export function purposesBeforeLastStop(events: readonly Foldable[]): Purpose[] {
  const stops = events.filter((e) => e.kind === 'revoked').sort((a, b) => b.happenedAt - a.happenedAt);
  for (const stop of stops) {
    const before = foldConsent(
      events.filter((e) => e.happenedAt < stop.happenedAt),
      stop.happenedAt,
    );
    const inForce = PURPOSES.filter((p) => before[p].state === 'granted');
    if (inForce.length > 0) return inForce;
  }
  return [];
}
