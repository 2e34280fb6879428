import type { ContactRow } from '@long-gate/contracts';
import { DEFAULT_HOURS, judge, NO_TEXT, postNo, REASONS } from '@long-gate/core';
import type { FullRow } from './contact-store.js';
import { refusedPurposes } from './refusals-store.js';
import { subjectOf } from './subjects.js';

/** The posts that ask about the person; the others ask about a text or its sender, and here there is none. */
const ABOUT_PERSON = (
  ['well-formed', 'country', 'textable', 'reachable', 'not-opted-out', 'consent', 'frequency', 'hours'] as const
).map(postNo);

/** How the gate answers a text of a purpose to one contact, by what concerns the contact alone. */
function verdictOf(
  row: FullRow,
  purpose: 'informational' | 'promotional',
  o: { openCountries: string[]; now: number },
): ContactRow['verdicts']['informational'] {
  const verdict = judge(
    { ...subjectOf(row), firstText: false, stopLineDue: false },
    { ...NO_TEXT, purpose },
    {
      at: o.now,
      hours: DEFAULT_HOURS,
      openCountries: o.openCountries,
      transactionalAnyHour: false,
      segmentPrice: 0,
    },
    { balance: 0, dailySegments: 1 },
  );
  const reason = verdict.reason ? REASONS[verdict.reason] : null;
  return {
    result: verdict.result,
    answers: verdict.answers.map((a) =>
      ABOUT_PERSON.includes(a.post) ? a : { post: a.post, result: 'not asked' as const },
    ),
    why: reason?.why ?? 'passes',
    lift: reason?.lift ?? '',
  };
}

/** A contact with its number as lists show it, judged by itself at a moment for each kind of text, without a sender. */
export function showContact(row: FullRow, o: { openCountries: string[]; lists: string[]; now: number }): ContactRow {
  return {
    id: row.contact_id,
    firstName: row.first_name,
    lastName: row.last_name,
    email: row.email,
    stateCode: row.state_code,
    version: row.version,
    further: row.further,
    number: {
      id: row.number_row,
      label: row.label,
      lastReplyAt: row.last_reply_at,
      refusedElsewhere: refusedPurposes(row.refused_elsewhere),
      e164: row.e164,
      country: row.country,
      zones: row.zones,
      states: row.states,
      lineType: row.line_type,
      carrier: row.carrier,
      reachable: Boolean(row.reachable),
      lookedUpAt: row.looked_up_at,
      textable: row.textable,
      trouble: row.trouble,
      faultsInReview: Boolean(row.faults_in_review),
      consent: {
        conversational: row.consent_conversational,
        informational: row.consent_informational,
        promotional: row.consent_promotional,
      },
    },
    lists: o.lists,
    verdicts: { informational: verdictOf(row, 'informational', o), promotional: verdictOf(row, 'promotional', o) },
  };
}
