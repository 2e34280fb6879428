import type { Verdict } from './judge.js';

/**
 * Where one text to a contact stands on its way out.
 * `judging`: not judged yet. `waiting`: passed, and waits for its turn. `held`: waits for a moment or an event.
 * `leaving`: handed to the network, whose answer is not known yet. `unsure`: the answer was lost; the network is asked
 * by key. `sent`: the network has it. The others are final.
 */
export const TEXT_STATES = [
  'judging',
  'waiting',
  'held',
  'leaving',
  'unsure',
  'sent',
  'delivered',
  'failed',
  'stopped',
  'cancelled',
] as const;
export type TextState = (typeof TEXT_STATES)[number];

/** What can happen to a text. */
export type TextEvent =
  /** The gate's answer; `mayWait` is false where a hold cannot be waited for (a text outside any dispatch). */
  | { kind: 'judged'; verdict: Pick<Verdict, 'result'>; mayWait: boolean }
  /** The one arrow to the network: only from `waiting`, and only with a verdict that passes in this very moment. */
  | { kind: 'handed over'; verdict: Pick<Verdict, 'result'> }
  /** The network says that it has it. */
  | { kind: 'taken' }
  /** The network says that it does not have it (busy, too late, something of the person's unread, or asked by key). */
  | { kind: 'not taken' }
  | { kind: 'answer lost' }
  /** The network will never take it. */
  | { kind: 'refused' }
  | { kind: 'delivered' }
  | { kind: 'undelivered' }
  /** The person said no. */
  | { kind: 'withdrawn' }
  /** We do not want it any more: cancelled, or its time is over. */
  | { kind: 'cancelled' };

const NOT_YET_HANDED_OVER: readonly TextState[] = ['judging', 'waiting', 'held'];
const AT_THE_NETWORK: readonly TextState[] = ['leaving', 'unsure', 'sent'];
const UNANSWERED: readonly TextState[] = ['leaving', 'unsure'];

/**
 * The state after an event; the same state where the event changes nothing there, so that a late or repeated answer
 * has no effect. A text that came back `not taken` is `waiting` again, and is judged again before its next try.
 */
export function textAfter(state: TextState, event: TextEvent): TextState {
  const from = (states: readonly TextState[], to: TextState): TextState => (states.includes(state) ? to : state);
  switch (event.kind) {
    case 'judged': {
      const { result } = event.verdict;
      const to = result === 'pass' ? 'waiting' : result === 'hold' && event.mayWait ? 'held' : 'stopped';
      return from(NOT_YET_HANDED_OVER, to);
    }
    case 'handed over':
      return event.verdict.result === 'pass' ? from(['waiting'], 'leaving') : state;
    case 'taken':
      return from(UNANSWERED, 'sent');
    case 'not taken':
      return from(UNANSWERED, 'waiting');
    case 'answer lost':
      return from(['leaving'], 'unsure');
    case 'refused':
      return from(UNANSWERED, 'failed');
    case 'delivered':
      return from(AT_THE_NETWORK, 'delivered');
    case 'undelivered':
      return from(AT_THE_NETWORK, 'failed');
    case 'withdrawn':
      return from(NOT_YET_HANDED_OVER, 'stopped');
    case 'cancelled':
      return from(NOT_YET_HANDED_OVER, 'cancelled');
  }
}

/** True when nothing more can happen to it. */
export function isFinal(state: TextState): boolean {
  return state === 'delivered' || state === 'failed' || state === 'stopped' || state === 'cancelled';
}
