import type { ConsentEvent } from './events.js';
import type { ConsentStates } from './fold.js';

/**
 * What the reassigned numbers database answers of a number and a day: whether the number was given up for good after
 * that day. Source: 47 CFR 64.1200(m) and 52.15(f)(1)(ii), the FCC's Reassigned Numbers Database.
 */
export const REASSIGNED_ANSWERS = ['yes', 'no', 'no data'] as const;
export type ReassignedAnswer = (typeof REASSIGNED_ANSWERS)[number];

/**
 * What the gate reads of it. `due`: to be asked before the next text to them; `no data`: the last answer said nothing,
 * which only a "no" of a later query ends. A "yes" is no state of its own: it voids the consent in the ledger.
 */
export const REASSIGNMENTS = ['clear', 'due', 'no data'] as const;
export type Reassignment = (typeof REASSIGNMENTS)[number];

/** Whether numbers are asked about, when, and how long an answer is good. */
export interface ReassignedPolicy {
  /** Days after which consent and the last answer are both too old to send upon without asking. */
  reassignedDays: number;
  reassignedOnSchedule: boolean;
  reassignedBeforeDispatch: boolean;
}
/** The database is brought up to date once a month, so that asking more often learns nothing. */
export const DEFAULT_REASSIGNED: ReassignedPolicy = {
  reassignedDays: 30,
  reassignedOnSchedule: false,
  reassignedBeforeDispatch: false,
};

/**
 * The moment of the last consent that is in force for automated texts, milliseconds: the newest grant or confirmation of
 * a purpose that is granted at `asOf`. Null where none is in force.
 */
export function lastConsentAt(
  events: readonly Pick<ConsentEvent, 'kind' | 'purposes' | 'awaitsConfirmation' | 'happenedAt'>[],
  states: ConsentStates,
  asOf: number,
): number | null {
  const inForce = (['informational', 'promotional'] as const).filter((p) => states[p].state === 'granted');
  if (inForce.length === 0) return null;
  const spoken = events.filter(
    (e) =>
      e.happenedAt <= asOf &&
      (e.kind === 'confirmed' || (e.kind === 'granted' && !e.awaitsConfirmation)) &&
      inForce.some((p) => e.purposes.includes(p)),
  );
  const since = inForce.map((p) => states[p].since ?? 0);
  return Math.max(...since, ...spoken.map((e) => e.happenedAt));
}
