/** Staff may answer within this time of the person's last word (rules.md, consent; the default). */
export const ANSWER_WITHIN_MS = 24 * 3_600_000;

/**
 * What carried a person's word out without anybody of the staff: it took them out altogether or of some purposes,
 * brought them back, told them what HELP tells, took their YES, or took their call. Empty where nothing did.
 */
export const HANDLED_AS = [
  '',
  'opt-out',
  'opt-out of some',
  'start',
  'help',
  'confirmation',
  'keyword',
  'call',
] as const;
export type HandledAs = (typeof HANDLED_AS)[number];

/** Where a conversation stands for the staff. */
export const STANDINGS = ['waiting', 'too late', 'answered', 'by itself'] as const;
export type Standing = (typeof STANDINGS)[number];

export interface Waiting {
  /** Until when what was asked may be answered; null where nothing waits. */
  waitsUntil: number | null;
  /** What carried the last word out by itself. */
  handled: HandledAs;
}

/**
 * A conversation after a word of the person.
 * @param at when it was said, in milliseconds.
 * @param handled what carried it out by itself. A question that was open before stays open, with the time that the new
 *   word gives, except after an opt-out of everything: then no answer may go any more.
 */
export function afterWord(before: Waiting, at: number, handled: HandledAs): Waiting {
  if (handled === 'opt-out' || (handled !== '' && before.waitsUntil === null)) return { waitsUntil: null, handled };
  return { waitsUntil: at + ANSWER_WITHIN_MS, handled: '' };
}

/** Where a conversation stands at a moment: past its time no answer passes the gate on the person's word alone. */
export function standingOf(c: Waiting, now: number): Standing {
  if (c.waitsUntil !== null) return c.waitsUntil > now ? 'waiting' : 'too late';
  return c.handled === '' ? 'answered' : 'by itself';
}
