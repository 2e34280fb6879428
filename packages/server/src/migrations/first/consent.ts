import type { QueryInterface } from 'sequelize';
import { createTable, big, flag, key, maybe, once, refers, text, whole, index } from '../../platform/table.js';

export async function consent(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'consent_event', {
    businessId: key(text()),
    seq: key(big()),
    id: once(text()),
    e164: text(),
    purposes: text(),
    kind: text(),
    awaitsConfirmation: flag(),
    happenedAt: big(),
    recordedAt: big(),
    how: text(),
    disclosure: text(),
    disclosureVersion: text(),
    evidence: text(),
    recordedBy: text(),
    prevHash: text(),
    hash: text(),
  });
  await index(qi, 'consent_event', 'consent_event_number', ['business_id', 'e164', 'seq']);
  await index(qi, 'consent_event', 'consent_event_kind', ['business_id', 'kind', 'seq']);
  await index(qi, 'consent_event', 'consent_event_how', ['business_id', 'how', 'seq']);
  await createTable(qi, 'consent_state', {
    businessId: key(text()),
    e164: key(text()),
    conversational: text(),
    informational: text(),
    promotional: text(),
    asOf: big(),
    lapsesAt: maybe(big()),
  });
  await createTable(qi, 'optin_page', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    slug: once(text()),
    title: text(),
    intro: text(),
    purposes: text(),
    numberId: text(),
    privacyUrl: text(),
    termsUrl: text(),
    published: flag(true),
    optIns: whole(0),
    pageVersion: whole(1),
    createdAt: big(),
    version: whole(1),
  });
  await createTable(qi, 'reply_review', {
    id: key(text()),
    businessId: text(),
    e164: text(),
    messageId: text(),
    reading: text(),
    state: text('open'),
    at: big(),
    about: text('stop'),
    decidedAt: maybe(big()),
  });
  await index(qi, 'reply_review', 'reply_review_open', ['business_id', 'at'], { where: "state = 'open'" });
  await index(qi, 'reply_review', 'reply_review_number', ['business_id', 'e164'], { where: "state = 'open'" });
  await createTable(qi, 'opt_in_request', {
    messageId: key(text()),
    businessId: text(),
    e164: text(),
    programmes: text(),
    askedAt: big(),
  });
  await index(qi, 'opt_in_request', 'opt_in_request_number', ['business_id', 'e164', 'asked_at']);
  await createTable(qi, 'consent_count', {
    businessId: key(text()),
    kind: key(text()),
    how: key(text()),
    n: whole(),
  });
}
