import { finding, type Finding } from '../finding/finding.js';
import { daysBetween, type IsoDay } from './business-days.js';
import type { SignedLetter } from './port-request.js';
import { DOCUMENT_DAYS, nameKey, numbersMissing } from './review-port.js';

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
  else out.push(...reviewLetter(r, r.letter, submitOn));
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

/** The letter, checked as that of a port is. */
function reviewLetter(r: HostedRequest, letter: SignedLetter, submitOn: IsoDay): Finding[] {
  const out: Finding[] = [];
  const find = (code: Parameters<typeof finding>[0], message: string, fix: string): void =>
    void out.push(finding(code, 'letter', message, fix));
  if (letter.signedOn > submitOn)
    find(
      'hosted-letter-future',
      `The letter is dated ${letter.signedOn}, which has not come yet.`,
      'Have it signed again with the right date.',
    );
  else if (daysBetween(letter.signedOn, submitOn) > DOCUMENT_DAYS)
    find(
      'hosted-letter-old',
      `The letter is dated ${letter.signedOn}; it must be at most ${DOCUMENT_DAYS} days old.`,
      'Have it signed again.',
    );
  if (numbersMissing(letter, [r.e164]).length > 0)
    find(
      'hosted-letter-number-missing',
      `The letter does not name ${r.e164}.`,
      'Have it signed again with this number.',
    );
  if (nameKey(letter.holderName) !== nameKey(r.holderName))
    find(
      'hosted-letter-holder-differs',
      `The letter was signed for “${letter.holderName}”, the set-up says “${r.holderName}”.`,
      'Have it signed again under the holder’s name.',
    );
  if (r.authorisedName !== '' && nameKey(letter.signedBy) !== nameKey(r.authorisedName))
    find(
      'hosted-letter-signer-differs',
      `“${letter.signedBy}” signed; the set-up names “${r.authorisedName}”.`,
      'Name the person who signed, if they may decide about the line.',
    );
  return out;
}
