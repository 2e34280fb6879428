import type { Trouble } from './textability.js';

/** Why texts do not reach a number (rules.md, line type and textability). */
export type Cause = Exclude<Trouble, 'none'>;
export const CAUSES: readonly Cause[] = ['not-textable', 'out-of-service', 'refused-by-owner', 'passing-fault'];

/** What can help a number that texts do not reach. */
export type Mend = 'another number' | 'new lookup' | 'try again' | 'e-mail' | 'take off';

/** What can help with each cause, and nothing that cannot: what its owner refused nobody here can clear. */
export const MENDS: Readonly<Record<Cause, readonly Mend[]>> = {
  'not-textable': ['another number', 'new lookup', 'e-mail', 'take off'],
  'out-of-service': ['another number', 'new lookup', 'e-mail', 'take off'],
  'refused-by-owner': ['take off'],
  'passing-fault': ['try again', 'new lookup', 'another number'],
};

/** What each cause means, in a sentence. */
export const CAUSE_WORDS: Readonly<Record<Cause, string>> = {
  'not-textable': 'No texts reach this line: a landline, or no line at all.',
  'out-of-service': 'The carrier says for good that nobody is there.',
  'refused-by-owner': 'Its owner opted out, here or at the carrier. Only they can lift that; nobody here can clear it.',
  'passing-fault': 'Texts failed for a reason that may pass, or the line did not answer when asked about.',
};
