import type { ReasonCode } from './posts/index.js';

/** What staff can do themselves about people whom the gate holds or stops for a reason. */
export const REMEDIES = ['look up', 'ask', 'file a form', 'query'] as const;
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
  'do-not-call': ['file a form'],
  'reassignment-due': ['query'],
  'reassignment-no-data': ['query'],
};

/**
 * The remedies of a reason: a lookup where an answer about the line is missing; asking and filing a form where a person's
 * agreement is; a query where it is not known whether the number changed hands. None where only the person or time can lift it: nobody who declined or opted out is asked again.
 */
export const remediesOf = (reason: ReasonCode): readonly Remedy[] => OF[reason] ?? [];
