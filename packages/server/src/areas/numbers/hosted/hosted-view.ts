import type { HostedView } from '@long-gate/contracts';
import { DEFAULT_PRICES, reviewHosted, type Finding, type HostedState } from '@long-gate/core';
import type { Letter, LinkState } from '../letters/index.js';
import { portDay } from '../porting/index.js';
import type { HostedModel } from './model.js';

/** What texting for a hosted number costs a month. */
export const MONTHLY = DEFAULT_PRICES.hostedMonthly;

export function isOpen(row: Pick<HostedModel, 'state'>): boolean {
  return row.state === 'draft' || row.state === 'refused';
}

/** Whose line it is, and where. */
export function holderOf(row: HostedModel) {
  const { holderName, authorisedName, street, city, stateCode: state, postalCode } = row;
  return { holderName, authorisedName, street, city, state, postalCode };
}

/** What still stands against filing it; nothing once it is filed. @param now scenario time. */
export function findingsOf(row: HostedModel, now: number): Finding[] {
  if (!isOpen(row)) return [];
  return reviewHosted(
    {
      e164: row.e164,
      kind: row.kind,
      enabledElsewhere: row.enabledElsewhere,
      ...holderOf(row),
      letter: row.letter,
      codeConfirmed: row.codeConfirmed,
    },
    portDay(now),
  );
}

/** A set-up as its page shows it. @param link where the holder can sign, if one was made. */
export function showHosted(row: HostedModel, link: LinkState | null | undefined, now: number): HostedView {
  const out = link?.used_at === null && link.ended === '' && link.expires_at > now;
  const letter = row.letter;
  const findings = findingsOf(row, now);
  return {
    id: row.id,
    e164: row.e164,
    kind: row.kind,
    voiceCarrier: row.voiceCarrier,
    state: row.state,
    facts: {
      ...holderOf(row),
      label: row.label,
      campaignId: row.campaignId,
    },
    letter: {
      signedBy: letter?.signedBy ?? '',
      signedOn: letter?.signedOn ?? '',
      linkExpiresAt: out ? link.expires_at : null,
      linkEnded: letter === null && link?.ended === 'changed',
    },
    calledAt: row.calledAt,
    codeConfirmed: row.codeConfirmed,
    findings,
    reasons: row.reasons,
    numberId: row.numberId,
    costNow: row.charged > 0 ? 0 : MONTHLY,
    costMonthly: MONTHLY,
    submittedAt: row.submittedAt,
    answeredAt: row.answeredAt,
    nextStep: nextStep(row, findings),
    version: row.version,
  };
}

/** The letter of authorisation as it would be signed now. */
export function letterFor(row: HostedModel, business: string, now: number): Letter {
  return {
    subtitle: 'to add texting to a telephone number',
    business,
    holderName: row.holderName,
    authorisedName: row.authorisedName,
    address: [row.street, row.city, `${row.stateCode} ${row.postalCode}`.trim()].filter((t) => t !== '').join(', '),
    carrier: row.voiceCarrier,
    numbers: [row.e164],
    paragraphs: [
      `I am the account holder, or may decide for the account holder, of the telephone number named here, whose voice service is with ${row.voiceCarrier || 'the present carrier'} under the name ${row.holderName || '…'}.`,
      `I authorise ${business} and the provider it uses to send and receive texts on this number. The voice service stays where it is and is not touched.`,
      'Texting can be taken off at any time. Only one provider can text for a number; I know of no other that does.',
    ],
    day: portDay(now),
  };
}

function nextStep(row: { state: HostedState }, findings: readonly Finding[]): HostedView['nextStep'] {
  const [first] = findings;
  switch (row.state) {
    case 'draft':
    case 'refused':
      if (first?.code === 'hosted-mobile' || first?.code === 'hosted-elsewhere')
        return { title: 'This way is closed.', why: `${first.message} ${first.fix}` };
      if (first) return { title: first.fix, why: first.message };
      return { title: row.state === 'refused' ? 'Resubmit.' : 'Submit.', why: 'Everything that is asked for is here.' };
    case 'submitted':
      return { title: 'Wait for the approval.', why: 'It takes one to three days. Calls go on as before.' };
    case 'on':
      return { title: 'Nothing to do.', why: 'The number sends and receives texts; calls stay with its carrier.' };
    case 'off':
      return { title: 'Nothing to do.', why: 'Texting is off. Calls were never touched.' };
    case 'cancelled':
      return { title: 'Nothing to do.', why: 'The set-up was given up.' };
  }
}
