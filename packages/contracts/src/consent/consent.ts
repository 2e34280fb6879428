import { CONSENT_EVENT_KINDS, CONSENT_ROUTES, PURPOSES } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, DayShape, endpoint, Moment, ObjectPath, page, PageQuery, PurposeShape } from '../endpoint.js';

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
export const LedgerQuery = PageQuery.extend({
  e164: z.string().max(20).optional(),
  kind: z.string().max(60).optional(),
  how: z.string().max(60).optional(),
  /** Any part of a name, an e-mail or a number of somebody who is a contact. */
  q: z.string().trim().min(3, 'Three letters or digits at least.').max(80).optional(),
  purpose: z.enum(PURPOSES).optional(),
  /** Words that were shown, by their version, as events name it. */
  words: z.string().max(200).optional(),
  /** A list or tag whose people are meant. */
  list: z.string().max(60).optional(),
  /** The days on which it happened, where the business is. */
  from: DayShape.optional(),
  to: DayShape.optional(),
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
  /** `total` is null where there are more than are counted while somebody waits. */
  answer: page(ConsentEventShape).extend({ total: z.number().int().nullable() }),
});
export const ledgerWords = endpoint({
  id: 'consent.words',
  summary: 'Which words people were shown, by their version, as events name them',
  method: 'GET',
  path: '/businesses/:businessId/ledger-words',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(z.string()) }),
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
    how: z.enum(['phone call', 'e-mail', 'paper form']),
    words: z.string().trim().min(3, 'Write what the person said.').max(500),
  }),
  answer: ConsentEventShape,
});

export const PagePurpose = z.object({
  purpose: z.enum(['informational', 'promotional']),
  label: z.string().trim().min(10, 'Say what is sent.').max(400),
  /** The same words on the page, in the confirming and in the joining text. */
  frequency: z
    .string()
    .trim()
    .min(3, 'Say how often: “about four a month”, “as they happen”.')
    .max(80)
    .default('varies'),
});
/** Kinds of text agreed to on a page in a week that begins on this Monday (UTC), and how many were confirmed by YES or needed none. */
const PageWeek = z.object({ from: z.iso.date(), agreed: z.number(), confirmed: z.number() });
export const OptInPageShape = z.object({
  id: z.string(),
  slug: z.string(),
  title: z.string(),
  intro: z.string(),
  purposes: z.array(PagePurpose),
  numberId: z.string(),
  privacyUrl: z.string(),
  termsUrl: z.string(),
  published: z.boolean(),
  pageVersion: z.number(),
  optIns: z.number(),
  /** The last half year, the latest week last. */
  weeks: z.array(PageWeek),
  version: z.number(),
});
export type OptInPage = z.infer<typeof OptInPageShape>;
export const OptInPageEdit = z.object({
  slug: z
    .string()
    .trim()
    .toLowerCase()
    .regex(/^[a-z0-9][a-z0-9-]{2,40}$/, 'Three to 41 small letters, digits and dashes.'),
  title: z.string().trim().min(3, 'Give the page a title.').max(80),
  intro: z.string().trim().max(600),
  purposes: z.array(PagePurpose).min(1, 'Offer at least one kind of text.').max(2),
  numberId: z.string().min(1, 'Choose the number that confirms.'),
  privacyUrl: z.string().trim().min(4, 'Give the privacy page.').max(300),
  termsUrl: z.string().trim().min(4, 'Give the terms page.').max(300),
  published: z.boolean(),
});
export const listPages = endpoint({
  id: 'pages.list',
  summary: 'Opt-in pages',
  method: 'GET',
  path: '/businesses/:businessId/pages',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(OptInPageShape) }),
});
export const addPage = endpoint({
  id: 'pages.add',
  summary: 'Make an opt-in page',
  method: 'POST',
  path: '/businesses/:businessId/pages',
  access: 'administrator',
  params: BusinessPath,
  body: OptInPageEdit,
  answer: OptInPageShape,
});
export const editPage = endpoint({
  id: 'pages.edit',
  summary: 'Edit an opt-in page; its disclosure gets a new version',
  method: 'PUT',
  path: '/businesses/:businessId/pages/:id',
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  body: OptInPageEdit,
  answer: OptInPageShape,
});

export const pageCode = endpoint({
  id: 'pages.code',
  summary: 'The address of an opt-in page as a QR code, for print',
  method: 'GET',
  path: '/businesses/:businessId/pages/:id/qr-code',
  access: 'viewer',
  params: ObjectPath,
  query: z.object({ as: z.enum(['svg', 'png']).default('svg') }),
  answer: z.string(),
});

export const pagePaper = endpoint({
  id: 'pages.paper',
  summary: 'An opt-in page as a form for paper: PDF, US Letter, to be signed and filed by its scan',
  method: 'GET',
  path: '/businesses/:businessId/pages/:id/paper-form',
  access: 'viewer',
  params: ObjectPath,
  query: z.object({ sheets: z.coerce.number().int().min(1).max(200).default(1) }),
  answer: z.string(),
});

export const PublicPageShape = z.object({
  slug: z.string(),
  business: z.string(),
  nameLine: z.string(),
  title: z.string(),
  intro: z.string(),
  purposes: z.array(z.object({ purpose: z.enum(['informational', 'promotional']), disclosure: z.string() })),
  privacyUrl: z.string(),
  termsUrl: z.string(),
  /** Names exactly these words: handed back with what is filled in, so that nobody agrees to words they did not see. */
  words: z.string(),
  open: z.boolean(),
});
export type PublicPage = z.infer<typeof PublicPageShape>;
export const getPublicPage = endpoint({
  id: 'public.page',
  summary: 'An opt-in page, as the contact sees it',
  method: 'GET',
  path: '/public/pages/:slug',
  access: 'public',
  params: z.object({ slug: z.string().max(60) }),
  answer: PublicPageShape,
});
export const optIn = endpoint({
  id: 'public.optIn',
  summary: 'A contact opts in; a confirming text follows',
  method: 'POST',
  path: '/public/pages/:slug/opt-ins',
  access: 'public',
  params: z.object({ slug: z.string().max(60) }),
  body: z.object({
    phone: z.string().max(60),
    firstName: z.string().trim().max(80).default(''),
    purposes: z.array(z.enum(['informational', 'promotional'])).min(1, 'Choose at least one kind of text.'),
    words: z.string().max(100),
  }),
  answer: z.object({ shown: z.string(), from: z.string() }),
});
export const optOut = endpoint({
  id: 'public.optOut',
  summary: 'Somebody leaves for a number, at once and for all texts',
  method: 'POST',
  path: '/public/pages/:slug/opt-outs',
  access: 'public',
  params: z.object({ slug: z.string().max(60) }),
  body: z.object({ phone: z.string().max(60) }),
  answer: z.object({ shown: z.string() }),
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
