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
}

export type ConsentStates = Record<Purpose, PurposeState>;

/** At equal times the stricter wins: it is applied last. */
const STRICTNESS: Record<ConsentEventKind, number> = {
  claimed: 0,
  granted: 1,
  confirmed: 2,
  declined: 3,
  expired: 4,
  voided: 5,
  disputed: 6,
  revoked: 7,
};

type Foldable = Pick<ConsentEvent, 'id' | 'kind' | 'purposes' | 'awaitsConfirmation' | 'happenedAt'>;

/**
 * Where a contact number stands for each purpose at `asOf` (milliseconds). Events are applied in the order of when
 * they happened, not of when they were recorded, so the answer does not depend on the order of arrival; at equal
 * times the stricter wins. A purpose never implies another.
 */
export function foldConsent(events: readonly Foldable[], asOf: number): ConsentStates {
  const sorted = events
    .filter((e) => e.happenedAt <= asOf)
    .sort((a, b) => a.happenedAt - b.happenedAt || STRICTNESS[a.kind] - STRICTNESS[b.kind] || (a.id < b.id ? -1 : 1));
  const states = Object.fromEntries(
    PURPOSES.map((p) => [p, { state: 'none', since: null, eventId: null }]),
  ) as unknown as ConsentStates;
  for (const event of sorted) {
    for (const purpose of event.purposes) {
      const before = states[purpose];
      const next = step(before, event);
      if (next) states[purpose] = { state: next, since: event.happenedAt, eventId: event.id };
    }
  }
  for (const purpose of PURPOSES) {
    const s = states[purpose];
    if (s.state === 'awaiting' && s.since !== null && asOf - s.since >= CONFIRM_WITHIN_MS) {
      states[purpose] = { ...s, state: 'lapsed', since: s.since + CONFIRM_WITHIN_MS };
    }
  }
  return states;
}

function step(before: PurposeState, event: Foldable): ConsentState | null {
  switch (event.kind) {
    case 'claimed':
      // A claim proves nothing: it never takes away or restores what better events decided.
      return before.state === 'none' ? 'unproven' : null;
    case 'granted':
      if (!event.awaitsConfirmation) return 'granted';
      return before.state === 'granted' ? null : 'awaiting';
    case 'confirmed':
      if (before.state === 'granted') return null;
      return before.state === 'awaiting' && before.since !== null && event.happenedAt - before.since < CONFIRM_WITHIN_MS
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
