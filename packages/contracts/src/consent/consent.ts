import { CONSENT_EVENT_KINDS, CONSENT_ROUTES, PURPOSES } from '@long-gate/core';
import * as z from 'zod';
import {
  BusinessPath,
  DayShape,
  endpoint,
  Moment,
  ObjectPath,
  page,
  PageQuery,
  PurposeShape,
  SEARCH_MOST,
} from '../endpoint.js';

export const ConsentEventShape = z.object({
  id: z.string(),
  seq: z.number(),
  e164: z.string(),
  contactName: z.string(),
  contactId: z.string().nullable(),
  purposes: z.array(PurposeShape),
  kind: z.enum(CONSENT_EVENT_KINDS),
  awaitsConfirmation: z.boolean(),
  happenedAt: Moment,
  recordedAt: Moment,
  how: z.enum(CONSENT_ROUTES),
  disclosure: z.string(),
  disclosureVersion: z.string(),
  evidence: z.record(z.string(), z.string()),
  recordedBy: z.string(),
  prevHash: z.string(),
  hash: z.string(),
});
export type ConsentEventView = z.infer<typeof ConsentEventShape>;
/** What of the ledger is meant. */
export const LedgerFilter = z.object({
  e164: z.string().max(20).optional(),
  kind: z.string().max(60).optional(),
  how: z.string().max(60).optional(),
  /** Any part of a name, an e-mail or a number of somebody who is a contact. */
  q: z.string().trim().min(3, 'Three letters or digits at least.').max(SEARCH_MOST).optional(),
  purpose: z.enum(PURPOSES).optional(),
  /** Words that were shown, by their version, as events name it. */
  words: z.string().max(200).optional(),
  /** The page, keyword, form or list whose words were shown, whatever version of them. */
  source: z.string().max(200).optional(),
  /** A list or tag whose people are meant. */
  list: z.string().max(60).optional(),
  /** The days on which it happened, where the business is. */
  from: DayShape.optional(),
  to: DayShape.optional(),
});
export const LedgerQuery = PageQuery.extend(LedgerFilter.shape).extend({
  /** In the order of the chain; the newest first where it does not say. */
  sort: z.enum(['happened', '-happened']).optional(),
});
export const listLedger = endpoint({
  id: 'consent.ledger',
  summary: 'The ledger, a page of it',
  method: 'GET',
  path: '/businesses/:businessId/ledger',
  access: 'viewer',
  params: BusinessPath,
  query: LedgerQuery,
  answer: page(ConsentEventShape).omit({ total: true }),
});
export const countLedger = endpoint({
  id: 'consent.count',
  summary: 'How many events of the ledger the filters leave',
  method: 'GET',
  path: '/businesses/:businessId/ledger-count',
  access: 'viewer',
  params: BusinessPath,
  query: LedgerFilter,
  /** At least `total` where there may be `more` than are counted while somebody waits. */
  answer: z.object({ total: z.number().int(), more: z.boolean() }),
});
export const exportLedgerEvents = endpoint({
  id: 'consent.events',
  summary: 'Events of the ledger as CSV, as the filters leave them',
  method: 'GET',
  path: '/businesses/:businessId/ledger.csv',
  access: 'viewer',
  params: BusinessPath,
  query: LedgerFilter,
  answer: z.string(),
});
export const ledgerWords = endpoint({
  id: 'consent.words',
  summary: 'Which words people were shown, by their version, as events name them',
  method: 'GET',
  path: '/businesses/:businessId/ledger-words',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({
    items: z.array(z.string()),
    /** Whose words they are, with what each is called. */
    sources: z.array(z.object({ source: z.string(), name: z.string() })),
  }),
});
/** What an event rests on, beside what stands in it. */
export const EventBasisShape = z.object({
  /** The event itself, for whoever comes to it by its address. */
  event: ConsentEventShape,
  /** Texts it names: what was sent to us, and what that answered. */
  texts: z.array(z.object({ id: z.string(), direction: z.enum(['in', 'out']), text: z.string(), at: Moment })),
  /** The document it names by its digest, where it is kept here; null for none. */
  document: z.object({ name: z.string(), size: z.number().int() }).nullable(),
  /** The e-mail by whose link the person came, as they got it but for that; null for none. Empty words were not kept then. */
  letter: z.object({ to: z.string(), at: Moment, by: z.string(), subject: z.string(), text: z.string() }).nullable(),
  /** The keyword programme and the filed form it came by, with what they are called; null for none. */
  programme: z.object({ id: z.string(), title: z.string() }).nullable(),
  form: z.object({ id: z.string(), title: z.string() }).nullable(),
  /** The list of people who had opted out that says it. */
  optOutList: z.object({ id: z.string(), title: z.string() }).nullable(),
  /** The intake of contacts that claimed or proved it. */
  intake: z.object({ id: z.string(), title: z.string() }).nullable(),
  /** Who recorded it, by name where it was one of the staff. */
  recordedBy: z.string(),
});
export type EventBasis = z.infer<typeof EventBasisShape>;
export const readEventBasis = endpoint({
  id: 'consent.basis',
  summary: 'What one event of the ledger rests on: the texts, the document, who recorded it',
  method: 'GET',
  path: '/businesses/:businessId/ledger/:id/basis',
  access: 'viewer',
  params: ObjectPath,
  answer: EventBasisShape,
});
export const readEventDocument = endpoint({
  id: 'consent.document',
  summary: 'The document that one event of the ledger names by its digest',
  method: 'GET',
  path: '/businesses/:businessId/ledger/:id/document',
  access: 'viewer',
  params: ObjectPath,
  answer: z.string(),
});
export const exportLedger = endpoint({
  id: 'consent.export',
  summary: 'The whole ledger as JSON lines, with its proof chain',
  method: 'GET',
  path: '/businesses/:businessId/ledger.jsonl',
  access: 'viewer',
  params: BusinessPath,
  answer: z.string(),
});
export const exportHeads = endpoint({
  id: 'consent.heads',
  summary: 'The signed heads of the proof chain, and the key by which anybody can check them',
  method: 'GET',
  path: '/businesses/:businessId/ledger-heads.json',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({
    publicKey: z.string(),
    heads: z.array(
      z.object({ chain: z.string(), count: z.number(), head: z.string(), at: Moment, signature: z.string() }),
    ),
  }),
});
export const LedgerVerdictShape = z.object({
  ok: z.boolean(),
  count: z.number(),
  head: z.string(),
  brokenAt: z.number().nullable(),
  message: z.string(),
  projection: z.object({ ok: z.boolean(), differing: z.number(), keptStrict: z.number() }),
});
export const verifyLedgerNow = endpoint({
  id: 'consent.verify',
  summary: 'Verify the proof chain, and that the state of now follows from it',
  method: 'POST',
  path: '/businesses/:businessId/ledger/verification',
  access: 'viewer',
  params: BusinessPath,
  answer: LedgerVerdictShape,
});
/** How a person may have told a member of staff that they want no more. */
export const WISH_WAYS = ['phone call', 'in person', 'e-mail', 'paper form'] as const;
export const recordWish = endpoint({
  id: 'consent.recordWish',
  summary: 'Record that a contact asked to stop, by call, mail or in person',
  method: 'POST',
  path: '/businesses/:businessId/revocations',
  access: 'coordinator',
  params: BusinessPath,
  body: z.object({
    e164: z.string().max(40),
    purposes: z.array(PurposeShape).min(1),
    how: z.enum(WISH_WAYS),
    /** The day on which they said it, in the business's zone; empty for today. */
    saidOn: z.union([z.literal(''), DayShape]).default(''),
    words: z.string().trim().min(3, 'Write what the person said.').max(500),
  }),
  answer: ConsentEventShape,
});

export const ReplyReviewShape = z.object({
  id: z.string(),
  e164: z.string(),
  contactName: z.string(),
  text: z.string(),
  matched: z.string(),
  confidence: z.number(),
  at: Moment,
  stopped: z.boolean(),
  /** What it may be: a wish to stop, or a YES that answers nothing we asked. */
  about: z.enum(['stop', 'yes']),
  /** The kinds of text it may speak of. */
  purposes: z.array(PurposeShape),
  /** The last texts before it, newest last. */
  before: z.array(z.object({ direction: z.enum(['in', 'out']), text: z.string(), at: Moment })),
  /** The law's outer limit: ten business days after it was written. */
  dueBy: Moment,
});
export const READ_AS = ['stop', 'offers', 'no wish'] as const;
export const listReviews = endpoint({
  id: 'reviews.list',
  summary: 'Replies that may be a wish to stop',
  method: 'GET',
  path: '/businesses/:businessId/reply-reviews',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({
    items: z.array(ReplyReviewShape),
    /** How often a person agreed with the reader, over all that were decided. */
    right: z.number(),
    decided: z.number(),
  }),
});
export const decideReview = endpoint({
  id: 'reviews.decide',
  summary: 'A person read it: a wish to stop, or not',
  method: 'POST',
  path: '/businesses/:businessId/reply-reviews/:id',
  access: 'coordinator',
  params: ObjectPath,
  body: z.object({ readAs: z.enum(READ_AS) }),
  stricter: {
    access: 'administrator',
    to: 'read a reply as no wish, which lifts a hold',
    when: (b) => b.readAs === 'no wish',
    example: { readAs: 'no wish' },
  },
  answer: z.object({ done: z.literal(true) }),
});
