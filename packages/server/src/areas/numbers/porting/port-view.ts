import type { PortView } from '@long-gate/contracts';
import {
  blocks,
  compareRecord,
  daysBetween,
  DEFAULT_PRICES,
  factsNeeded,
  isEditable,
  isSimplePort,
  lastDayToChange,
  portAfter,
  portTimeline,
  reviewPort,
  SNAPBACK_MS,
  type Finding,
  type PortFacts,
  type PortState,
  type PortKind,
} from '@long-gate/core';
import type { DocumentRow } from '../../../platform/documents.js';
import { mask } from '../../../platform/mask.js';
import type { LinkState } from '../letters/signing.js';
import { numbersOf, portDay, requestOf, type Port, type PortRow } from './port-row.js';

/** What a month of these numbers costs once they are here; the first is paid at submission. */
export function monthlyOf(port: Port): number {
  return port.numbers.reduce(
    (sum, n) => sum + (n.kind === 'toll-free' ? DEFAULT_PRICES.tollFreeMonthly : DEFAULT_PRICES.localMonthly),
    0,
  );
}

/** The first month of all numbers, less what was paid of it already; below nothing where numbers were taken off. */
export function costNow(port: Port): number {
  return monthlyOf(port) - port.row.charged;
}

export function findingsOf(port: Port, now: number): Finding[] {
  return reviewPort(requestOf(port), { csr: port.record, submitOn: portDay(now) });
}

/** What differs from what was submitted last; account number and PIN only as such. */
export function changedSince(port: Port): PortView['changedSince'] {
  if (port.row.lastSubmitted === null || !isEditable(port.row.state)) return [];
  const before = port.row.lastSubmitted;
  const now = submittedShape(port);
  const changed = Object.keys(now)
    .filter((k) => JSON.stringify(before[k]) !== JSON.stringify(now[k]))
    .map((field) => ({ field, before: String(before[field] ?? ''), after: String(now[field]) }));
  const kept = port.lastSecrets;
  const secrets = (['accountNumber', 'pin'] as const)
    .filter((field) => kept !== null && kept[field] !== port.facts[field])
    .map((field) => ({
      field,
      before: kept?.[field] ? 'the earlier one' : '',
      after: port.facts[field] ? 'another one' : '',
    }));
  return [...changed, ...secrets];
}

/** What is kept of a submission to say later what changed. Account number and PIN are kept sealed, apart from it. */
export function submittedShape(port: Port): Record<string, string | boolean> {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  const { accountNumber, pin, ...plain } = port.facts;
  return {
    ...plain,
    numbers: port.numbers.map((n) => n.e164).join(', '),
    billDated: port.row.billDated,
    letterSignedOn: port.letter?.signedOn ?? '',
  };
}

const RUNBOOK = [
  { test: 'text-in', what: 'A text to the number arrives in the Inbox.' },
  { test: 'text-out', what: 'A text from the number is delivered.' },
  { test: 'call', what: 'A call to the number is answered as it should be.' },
] as const;
export const RUNBOOK_TESTS = RUNBOOK.map((r) => r.test as string);
/** Kept beside the tests: when a call came that nobody and nothing took. */
export const CALL_FAILED = 'call-failed';

/** What is still to be tried, in words. */
export function testsLeft(row: Pick<PortRow, 'runbook'>): string[] {
  return RUNBOOK.filter((r) => !(r.test in row.runbook)).map((r) => r.what);
}

/** What the losing carrier gave as reasons, as one text. */
export function reasonsOf(row: Pick<PortRow, 'reasons'>): string {
  return row.reasons.map((r) => r.message).join(' ');
}

/**
 * A request as the port desk shows it.
 * @param open whether the reader may see the account number; the PIN is shown to nobody.
 * @param profile what the business says of itself, for facts that still stand as they came from there.
 */
export function showPort(
  port: Port,
  now: number,
  documents: readonly DocumentRow[],
  link: LinkState | undefined,
  open: boolean,
  profile: Partial<PortFacts>,
): PortView {
  const { row } = port;
  const today = portDay(now);
  const editable = isEditable(row.state);
  const findings = editable ? findingsOf(port, now) : [];
  const kinds = [...new Set(port.numbers.flatMap((n): PortKind[] => (n.kind ? [n.kind] : [])))];
  const day = (at: number | null): string => (at === null ? '' : portDay(at));
  const timeline = portTimeline(
    {
      state: row.state,
      simple: isSimplePort(numbersOf(port)),
      begun: portDay(row.begunAt),
      submitted: day(row.submittedAt),
      answered: day(row.answeredAt),
      foc: day(row.focAt),
      completed: day(row.completedAt),
    },
    today,
  );
  const runbook = row.runbook;
  const monthly = monthlyOf(port);
  const linkOut = link && link.used_at === null && link.ended === '' && link.expires_at > now;
  const movable = row.focAt === null || today <= lastDayToChange(portDay(row.focAt));
  const facts: PortFacts = {
    ...port.facts,
    pin: '',
    accountNumber: open ? port.facts.accountNumber : mask(port.facts.accountNumber),
  };
  const late = timeline.some((t) => t.state === 'late');
  return {
    id: row.id,
    state: row.state,
    losingCarrier: row.losingCarrier,
    numbers: port.numbers.map((n) => ({
      e164: n.e164,
      kind: n.kind,
      losingCarrier: n.losingCarrier,
      portable: n.portable,
      whyNot: n.whyNot,
      label: n.label,
      campaignId: n.campaignId,
      forwardTo: n.forwardTo,
      numberId: n.numberId,
    })),
    facts: { ...facts, pin: port.facts.pin === '' ? '' : '••••' },
    acknowledged: row.acknowledged,
    needed: [...factsNeeded(kinds)],
    findings: open ? findings : findings.map(withoutRecord),
    reasons: row.reasons,
    changedSince: changedSince(port),
    record: {
      state: row.recordState,
      askedAt: row.recordAt,
      fields: port.record && open ? compareRecord(port.facts, port.record) : [],
    },
    letter: {
      state: port.letter ? port.letter.how : linkOut ? 'link out' : link?.ended === 'changed' ? 'link ended' : 'none',
      signedBy: port.letter?.signedBy ?? '',
      signedOn: port.letter?.signedOn ?? '',
      ip: port.letter?.ip ?? '',
      linkExpiresAt: linkOut ? link.expires_at : null,
    },
    billDated: row.billDated,
    documents: documents.map((d) => ({
      id: d.id,
      what: d.what as 'letter' | 'bill',
      name: d.name,
      type: d.type,
      size: d.size,
      sha256: d.sha256,
      by: d.uploadedBy,
      at: d.at,
    })),
    attempt: row.attempt,
    focAt: row.focAt,
    focOn: day(row.focAt),
    lastDayToChange: row.focAt === null ? '' : lastDayToChange(portDay(row.focAt)),
    askedDate: row.askedDate,
    mayMoveDate: row.state === 'accepted' && movable && row.askedDate === '',
    mayCancel: portAfter(row.state, 'cancel') !== null && (row.state !== 'accepted' || movable),
    timeline,
    runbook: RUNBOOK.map((r) => ({
      ...r,
      done: r.test in runbook,
      at: runbook[r.test] ?? null,
      failedAt: r.test === 'call' && !('call' in runbook) ? (runbook[CALL_FAILED] ?? null) : null,
    })),
    callsNowhere: port.numbers.filter((n) => n.forwardTo === '' && n.numberId === null).map((n) => n.e164),
    // Nothing more is paid for what was submitted, or is over.
    costNow: editable ? costNow(port) : 0,
    costMonthly: monthly,
    begunAt: row.begunAt,
    submittedAt: row.submittedAt,
    answeredAt: row.answeredAt,
    completedAt: row.completedAt,
    snapBackUntil: row.state === 'done' && row.completedAt !== null ? row.completedAt + SNAPBACK_MS : null,
    fromProfile: editable && row.attempt === 0 && port.record === null ? asInProfile(port.facts, profile) : [],
    nextStep: nextStep(port, findings, late, now),
    late,
    version: row.version,
  };
}

/** Facts that say what the profile of the business says. */
function asInProfile(facts: PortFacts, profile: Partial<PortFacts>): string[] {
  return (Object.keys(profile) as (keyof PortFacts)[]).filter((k) => facts[k] !== '' && facts[k] === profile[k]);
}

const FROM_RECORD = new Set<Finding['code']>([
  'port-record-differs',
  'port-record-doubtful',
  'port-signer-not-authorised',
  'port-signer-unknown-to-carrier',
  'port-new-billing-number-unknown',
]);

/** A finding from the old carrier's record without the record's words, for those who may not see it. */
function withoutRecord(f: Finding): Finding {
  if (!FROM_RECORD.has(f.code)) return f;
  return {
    code: f.code,
    severity: f.severity,
    field: f.field,
    message: 'Differs from the old carrier’s record.',
    fix: 'Administrators see how.',
  };
}

/** What a landed or landing number still needs before it can send; empty where everything is prepared. */
export function unprepared(port: Port): string[] {
  return port.numbers.filter((n) => n.campaignId === null).map((n) => n.e164);
}

function nextStep(port: Port, findings: readonly Finding[], late: boolean, now: number): PortView['nextStep'] {
  const { row } = port;
  const missing = unprepared(port).length;
  const prepare =
    missing > 0 ? ` Give ${missing === 1 ? 'the number' : `${missing} numbers`} a campaign meanwhile.` : '';
  const state: PortState = row.state;
  switch (state) {
    case 'draft':
    case 'rejected': {
      const mend = findings.filter((f) => f.severity === 'block').length;
      if (blocks(findings))
        return {
          title: row.state === 'rejected' ? 'Mend what was rejected.' : 'Put the request together.',
          why: `${row.state === 'rejected' ? `${row.losingCarrier}: ${reasonsOf(row)} ` : ''}${mend} ${mend === 1 ? 'finding prevents' : 'findings prevent'} the submission; each stands beside its field.`,
        };
      return row.state === 'rejected'
        ? changedSince(port).length === 0
          ? {
              title: 'Mend what was rejected.',
              why: `${row.losingCarrier}: ${reasonsOf(row)} Nothing was changed since.`,
            }
          : {
              title: 'Resubmit.',
              why: `${row.losingCarrier} said: ${reasonsOf(row)} Check that it is mended; it is looked at anew.`,
            }
        : { title: 'Submit.', why: 'Nothing is found that would be rejected.' };
    }
    case 'submitted':
      return late
        ? { title: 'Ask the port bureau.', why: 'The answer is later than the rule allows.' }
        : { title: 'Wait for the losing carrier.', why: `Keep the old service running.${prepare}` };
    case 'accepted': {
      const days = row.focAt === null ? 0 : daysBetween(portDay(now), portDay(row.focAt));
      if (missing > 0)
        return { title: 'Prepare the landing.', why: 'A number without a campaign cannot send on the day it lands.' };
      const nowhere = port.numbers.filter((n) => n.forwardTo === '').length;
      return {
        title: 'Keep the old service running.',
        why: `${nowhere > 0 ? 'Say where calls go, or they ring here and nobody answers. ' : ''}The numbers change over ${days <= 0 ? 'today' : days === 1 ? 'tomorrow' : `in ${days} days`}; ending the service before loses them.`,
      };
    }
    case 'cutting over':
      return { title: 'Follow the runbook.', why: 'The numbers are changing over; texts may pause.' };
    case 'done': {
      const left = testsLeft(row);
      if (left.length > 0)
        return {
          title: 'Test the numbers.',
          why: `${RUNBOOK.length - left.length} of ${RUNBOOK.length} tests have passed.${CALL_FAILED in row.runbook && !('call' in row.runbook) ? ' A call came, and nobody took it: that test has failed.' : ''}`,
        };
      return { title: 'Nothing to do.', why: 'The numbers have landed. The old service may end now.' };
    }
    case 'returning':
      return { title: 'Wait for the old carrier.', why: 'The numbers go back; here they send no more from then on.' };
    case 'returned':
      return { title: 'Nothing to do.', why: 'The numbers are with the old carrier again.' };
    case 'cancelled':
      return { title: 'Nothing to do.', why: 'The request was cancelled; the numbers stayed where they were.' };
  }
}
