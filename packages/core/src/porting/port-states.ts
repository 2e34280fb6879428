/** Where a port request stands. */
export const PORT_STATES = [
  'draft',
  'submitted',
  'rejected',
  'accepted',
  'cutting over',
  'done',
  'cancelled',
  'returning',
  'returned',
] as const;
export type PortState = (typeof PORT_STATES)[number];

/** What can happen to it: what we do, what the losing carrier answers, what the cut-over brings. */
export type PortEvent =
  'submit' | 'cancel' | 'reject' | 'accept' | 'move date' | 'cut over' | 'complete' | 'snap back' | 'return' | 'stay';

const NEXT: Readonly<Record<PortState, Partial<Record<PortEvent, PortState>>>> = {
  draft: { submit: 'submitted', cancel: 'cancelled' },
  submitted: { reject: 'rejected', accept: 'accepted', cancel: 'cancelled' },
  rejected: { submit: 'submitted', cancel: 'cancelled' },
  accepted: { 'move date': 'accepted', 'cut over': 'cutting over', cancel: 'cancelled', reject: 'rejected' },
  'cutting over': { complete: 'done' },
  done: { 'snap back': 'returning' },
  // A cancellation may come too late: what the old carrier does then happens all the same.
  cancelled: { 'cut over': 'cutting over', complete: 'done' },
  returning: { return: 'returned', stay: 'done' },
  returned: {},
};

/** The state after an event, or null where it cannot happen there (a late or repeated answer is then ignored). */
export function portAfter(state: PortState, event: PortEvent): PortState | null {
  return NEXT[state][event] ?? null;
}

/** Whether the number is ours to send from: only from completion until it has gone back. */
export function isOurs(state: PortState): boolean {
  return state === 'done' || state === 'returning';
}

/** Whether the request still wants something to happen. */
export function isOpenPort(state: PortState): boolean {
  return !['done', 'cancelled', 'returned'].includes(state);
}

/** A request may be edited while it is with us. */
export function isEditable(state: PortState): boolean {
  return state === 'draft' || state === 'rejected';
}

/** A port can be taken back within this time after it completed. source: rules.md, Porting. */
export const SNAPBACK_MS = 72 * 3_600_000;
