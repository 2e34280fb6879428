import { finding, type Finding } from '../finding/finding.js';
import { daysBetween, type IsoDay } from './business-days.js';
import type { SignedLetter } from './port-request.js';
import { DOCUMENT_DAYS } from './review-port.js';

/** Where a hosted set-up stands. */
export const HOSTED_STATES = ['draft', 'submitted', 'refused', 'on', 'off', 'cancelled'] as const;
export type HostedState = (typeof HOSTED_STATES)[number];
export type HostedEvent = 'submit' | 'approve' | 'refuse' | 'take off' | 'cancel';

const NEXT: Readonly<Record<HostedState, Partial<Record<HostedEvent, HostedState>>>> = {
  draft: { submit: 'submitted', cancel: 'cancelled' },
  submitted: { approve: 'on', refuse: 'refused' },
  refused: { submit: 'submitted', cancel: 'cancelled' },
  on: { 'take off': 'off' },
  off: {},
  cancelled: {},
};

/** The state after an event, or null where it cannot happen there. Voice is touched by none of them. */
export function hostedAfter(state: HostedState, event: HostedEvent): HostedState | null {
  return NEXT[state][event] ?? null;
}

export interface HostedRequest {
  e164: string;
  kind: 'wireless' | 'landline' | 'toll-free';
  /** Who texts for it already, empty where nobody. */
  enabledElsewhere: string;
  holderName: string;
  authorisedName: string;
  street: string;
  city: string;
  state: string;
  postalCode: string;
  letter: SignedLetter | null;
  /** The code read out in a call to the line has been given back. */
  codeConfirmed: boolean;
}

/** What would have a hosted set-up refused. source: rules.md, Hosted (text-enabled) numbers. */
export function reviewHosted(r: HostedRequest, submitOn: IsoDay): Finding[] {
  const out: Finding[] = [];
  if (r.kind === 'wireless')
    out.push(
      finding(
        'hosted-mobile',
        'e164',
        'This is a mobile in use: it has texting already, and nobody can add a second.',
        'Port it in, or take a new number.',
      ),
    );
  if (r.enabledElsewhere !== '')
    out.push(
      finding(
        'hosted-elsewhere',
        'e164',
        `${r.enabledElsewhere} texts for this number already; only one provider can.`,
        'Have texting taken off there first, then test again.',
      ),
    );
  for (const [field, words] of [
    ['holderName', 'The holder’s name is missing.'],
    ['authorisedName', 'Who signs for the holder is missing.'],
    ['street', 'The service address is missing.'],
    ['city', 'The city of the service address is missing.'],
    ['state', 'The state of the service address is missing.'],
    ['postalCode', 'The ZIP code of the service address is missing.'],
  ] as const)
    if (r[field] === '')
      out.push(finding('hosted-fact-missing', field, words, 'Write it as the voice carrier has it.'));
  if (!r.letter)
    out.push(
      finding(
        'hosted-letter-missing',
        'letter',
        'The letter is not signed yet.',
        'Hand the account holder the signing link.',
      ),
    );
  else if (r.letter.signedOn > submitOn || daysBetween(r.letter.signedOn, submitOn) > DOCUMENT_DAYS)
    out.push(
      finding(
        'hosted-letter-old',
        'letter',
        `The letter is dated ${r.letter.signedOn}; it must be at most ${DOCUMENT_DAYS} days old.`,
        'Have it signed again.',
      ),
    );
  else if (r.letter.holderName !== r.holderName)
    out.push(
      finding(
        'hosted-letter-holder-differs',
        'letter',
        `The letter was signed for “${r.letter.holderName}”.`,
        'Have it signed again under the holder’s name.',
      ),
    );
  if (!r.codeConfirmed)
    out.push(
      finding(
        'hosted-code-missing',
        'code',
        'Nobody has shown yet that the line can be answered.',
        'Have the line called, pick up, and write the code that is read out.',
      ),
    );
  return out;
}
