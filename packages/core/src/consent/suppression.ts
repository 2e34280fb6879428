import { parsePhone, PHONE_REFUSALS } from '../phone/parse-phone.js';

export const SUPPRESSION_KINDS = ['national', 'state', 'carrier', 'own'] as const;
/**
 * What a list of numbers not to be texted is: the national do-not-call registry or a state's, what a carrier said, or
 * the business's own.
 */
export type SuppressionKind = (typeof SUPPRESSION_KINDS)[number];

export const SUPPRESSIONS = ['none', 'solicitations', 'all'] as const;
/** What the lists a number stands on keep from it, the strictest of them. */
export type Suppression = (typeof SUPPRESSIONS)[number];

/**
 * What a list keeps from the numbers on it. A registry keeps off solicitations, from whoever has no written consent; a
 * carrier's or one's own list keeps off everything. Source: 47 CFR 64.1200(c)(2); rules.md, consent.
 */
export function keepsOff(kind: SuppressionKind): Exclude<Suppression, 'none'> {
  return kind === 'national' || kind === 'state' ? 'solicitations' : 'all';
}

/** A registry is to be asked again at least so often. Source: 47 CFR 64.1200(c)(2)(i)(D): no older than 31 days. */
export const REGISTRY_GOOD_DAYS = 31;

/**
 * Whether a list is too old to send by: a registry of more than 31 days. What a carrier or the business itself said does
 * not grow old.
 * @param daysOld whole days since the day the list says it is of.
 */
export function isListStale(kind: SuppressionKind, daysOld: number): boolean {
  return keepsOff(kind) === 'solicitations' && daysOld > REGISTRY_GOOD_DAYS;
}

/** A line of a file of numbers: a number, nothing (empty, or the heading), or why it is none. */
export type SuppressionLine = { e164: string } | { why: string } | null;

const QUICK = /^\s*"?(?:\+?1[-., ]?)?\(?([2-9]\d\d)\)?"?\s?[-., ]?\s?"?([2-9]\d\d)[-. ]?(\d{4})"?\s*(?:[,;\t].*)?$/;

/**
 * Reads a line of a file of numbers: ten digits however they are written, also with the area code in a cell of its own, as
 * the national registry hands them out; whatever stands in further cells is left.
 */
export function readSuppressionLine(line: string, allowFictional: boolean): SuppressionLine {
  if (line.trim() === '') return null;
  const quick = QUICK.exec(line);
  const raw = quick ? `${quick[1]}${quick[2]}${quick[3]}` : (line.split(/[,;\t]/)[0] ?? '');
  if (!quick && !/\d/.test(raw)) return /\d/.test(line) ? { why: 'There is no number in its first cell.' } : null;
  const read = parsePhone(raw, { defaultRegion: 'US', allowFictional });
  return read.ok ? { e164: read.e164 } : { why: PHONE_REFUSALS[read.reason] };
}
