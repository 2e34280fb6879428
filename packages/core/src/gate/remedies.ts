import type { ReasonCode } from './posts/index.js';

/** What staff can do themselves about people whom the gate holds or stops for a reason. */
export const REMEDIES = ['look up', 'ask', 'file a form'] as const;
export type Remedy = (typeof REMEDIES)[number];

const OF: Partial<Record<ReasonCode, readonly Remedy[]>> = {
  'never-looked-up': ['look up'],
  'lookup-unknown': ['look up'],
  unreachable: ['look up'],
  'consent-none': ['ask', 'file a form'],
  'consent-unproven': ['file a form', 'ask'],
  'consent-lapsed': ['ask', 'file a form'],
  'consent-expired': ['ask', 'file a form'],
  'consent-voided': ['ask'],
};

/**
 * The remedies of a reason: a lookup where an answer about the line is missing; asking and filing a form where a person's
 * agreement is. None where only the person or time can lift it: nobody who declined or opted out is asked again.
 */
export const remediesOf = (reason: ReasonCode): readonly Remedy[] => OF[reason] ?? [];
