import type { PortView } from '@long-gate/contracts';
import {
  blocks,
  compareRecord,
  DEFAULT_PRICES,
  factsNeeded,
  isEditable,
  isSimplePort,
  lastDayToChange,
  portTimeline,
  reviewPort,
  SNAPBACK_MS,
  type Finding,
  type PortFacts,
  type PortKind,
} from '@long-gate/core';
import type { DocumentRow } from '../../../platform/documents.js';
import { mask } from '../../../platform/mask.js';
import type { LinkState } from '../letters/signing.js';
import { numbersOf, portDay, requestOf, type Port } from './port-row.js';

/** What a month of these numbers costs once they are here; the first is paid at submission. */
export function monthlyOf(port: Port): number {
  return port.numbers.reduce(
    (sum, n) => sum + (n.kind === 'toll-free' ? DEFAULT_PRICES.tollFreeMonthly : DEFAULT_PRICES.localMonthly),
    0,
  );
}

export function findingsOf(port: Port, now: number): Finding[] {
  return reviewPort(requestOf(port), { csr: port.record, submitOn: portDay(now) });
}

/** What differs from what was submitted last; account number and PIN only as such. */
function changedSince(port: Port): PortView['changedSince'] {
  if (port.row.last_submitted === null || !isEditable(port.row.state)) return [];
  const before = JSON.parse(port.row.last_submitted) as Record<string, string | boolean>;
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
    billDated: port.row.bill_dated,
    letterSignedOn: port.letter?.signedOn ?? '',
  };
}

const RUNBOOK = [
  { test: 'text-in', what: 'A text to the number arrives in the Inbox.' },
  { test: 'text-out', what: 'A text from the number is delivered.' },
  { test: 'call', what: 'A call to the number is answered as it should be.' },
] as const;
export const RUNBOOK_TESTS = RUNBOOK.map((r) => r.test as string);

/**
 * A request as the port desk shows it.
 * @param open whether the reader may see the account number; the PIN is shown to nobody.
 */
export function showPort(
  port: Port,
  now: number,
  documents: readonly DocumentRow[],
  link: LinkState | undefined,
  open: boolean,
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
      begun: portDay(row.begun_at),
      submitted: day(row.submitted_at),
      answered: day(row.answered_at),
      foc: day(row.foc_at),
      completed: day(row.completed_at),
    },
    today,
  );
  const runbook = JSON.parse(row.runbook) as Record<string, number>;
  const monthly = monthlyOf(port);
  const linkOut = link && link.used_at === null && link.expires_at > now;
  const facts: PortFacts = {
    ...port.facts,
    pin: '',
    accountNumber: open ? port.facts.accountNumber : mask(port.facts.accountNumber),
  };
  const late = timeline.some((t) => t.state === 'late');
  return {
    id: row.id,
    state: row.state,
    losingCarrier: row.losing_carrier,
    numbers: port.numbers.map((n) => ({
      e164: n.e164,
      kind: n.kind,
      losingCarrier: n.losing_carrier,
      portable: n.portable === null ? null : Boolean(n.portable),
      whyNot: n.why_not,
      label: n.label,
      campaignId: n.campaign_id,
      forwardTo: n.forward_to,
      numberId: n.number_id,
    })),
    facts: { ...facts, pin: port.facts.pin === '' ? '' : '••••' },
    acknowledged: JSON.parse(row.acknowledged) as string[],
    needed: [...factsNeeded(kinds)],
    findings: open ? findings : findings.map(withoutRecord),
    reasons: JSON.parse(row.reasons) as PortView['reasons'],
    changedSince: changedSince(port),
    record: {
      state: row.record_state,
      askedAt: row.record_at,
      fields: port.record && open ? compareRecord(port.facts, port.record) : [],
    },
    letter: {
      state: port.letter ? port.letter.how : linkOut ? 'link out' : 'none',
      signedBy: port.letter?.signedBy ?? '',
      signedOn: port.letter?.signedOn ?? '',
      ip: port.letter?.ip ?? '',
      linkExpiresAt: linkOut ? link.expires_at : null,
    },
    billDated: row.bill_dated,
    documents: documents.map((d) => ({
      id: d.id,
      what: d.what as 'letter' | 'bill',
      name: d.name,
      type: d.type,
      size: d.size,
      sha256: d.sha256,
      by: d.uploaded_by,
      at: d.at,
    })),
    attempt: row.attempt,
    focAt: row.foc_at,
    focOn: day(row.foc_at),
    lastDayToChange: row.foc_at === null ? '' : lastDayToChange(portDay(row.foc_at)),
    askedDate: row.asked_date,
    timeline,
    runbook: RUNBOOK.map((r) => ({ ...r, done: r.test in runbook, at: runbook[r.test] ?? null })),
    costNow: row.charged > 0 ? 0 : monthly,
    costMonthly: monthly,
    begunAt: row.begun_at,
    submittedAt: row.submitted_at,
    answeredAt: row.answered_at,
    completedAt: row.completed_at,
    snapBackUntil: row.state === 'done' && row.completed_at !== null ? row.completed_at + SNAPBACK_MS : null,
    nextStep: nextStep(port, findings, late, now),
    late,
    version: row.version,
  };
}

/** A finding from the old carrier's record without the record's words, for those who may not see it. */
function withoutRecord(f: Finding): Finding {
  if (f.code !== 'port-record-differs' && f.code !== 'port-record-doubtful') return f;
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
  return port.numbers.filter((n) => n.campaign_id === null).map((n) => n.e164);
}

function nextStep(port: Port, findings: readonly Finding[], late: boolean, now: number): PortView['nextStep'] {
  const { row } = port;
  const missing = unprepared(port).length;
  const prepare =
    missing > 0 ? ` Give ${missing === 1 ? 'the number' : `${missing} numbers`} a campaign meanwhile.` : '';
  switch (row.state) {
    case 'draft':
    case 'rejected': {
      const mend = findings.filter((f) => f.severity === 'block').length;
      if (blocks(findings))
        return {
          title: row.state === 'rejected' ? 'Mend what was rejected.' : 'Put the request together.',
          why: `${mend} ${mend === 1 ? 'finding prevents' : 'findings prevent'} the submission; each stands beside its field.`,
        };
      return row.state === 'rejected'
        ? { title: 'Resubmit.', why: 'Check that what was rejected has been mended; the old carrier looks at it anew.' }
        : { title: 'Submit.', why: 'Nothing is found that would be rejected.' };
    }
    case 'submitted':
      return late
        ? { title: 'Ask the port bureau.', why: 'The answer is later than the rule allows.' }
        : { title: 'Wait for the losing carrier.', why: `Keep the old service running.${prepare}` };
    case 'accepted': {
      const days = row.foc_at === null ? 0 : Math.ceil((row.foc_at - now) / 86_400_000);
      if (missing > 0)
        return { title: 'Prepare the landing.', why: 'A number without a campaign cannot send on the day it lands.' };
      return {
        title: 'Keep the old service running.',
        why: `The numbers change over ${days <= 0 ? 'today' : days === 1 ? 'tomorrow' : `in ${days} days`}; ending the service before loses them.`,
      };
    }
    case 'cutting over':
      return { title: 'Follow the runbook.', why: 'The numbers are changing over; texts may pause.' };
    case 'done': {
      const tests = Object.keys(JSON.parse(row.runbook) as object).length;
      if (tests < RUNBOOK.length)
        return { title: 'Test the numbers.', why: `${tests} of ${RUNBOOK.length} tests have passed.` };
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
