import { CONSENT_EVENT_KINDS, CONSENT_ROUTES } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, DayShape, endpoint, Moment, ObjectPath, page, PageOrOne } from '../endpoint.js';

/** So many numbers are answered for in one request. */
export const MOST_ASKED_ABOUT = 2000;

export const ASKERS = ['carrier', 'regulator', 'lawyer', 'the person', 'our own file'] as const;
/** Who asks for the proof; “our own file” is asked for by nobody and has no deadline. */
export type Asker = (typeof ASKERS)[number];

/** The pasted numbers as they stand, one or many; what cannot be read as a number is told with its reason. */
const Pasted = z.string().trim().min(1, 'Paste the numbers that are asked about.').max(100_000);

export const EvidenceWish = z
  .object({
    asker: z.enum(ASKERS),
    /** Name of the carrier, authority or firm. */
    who: z.string().trim().max(120).default(''),
    /** What they call the matter. */
    reference: z.string().trim().max(120).default(''),
    question: z.string().trim().max(1000).default(''),
    dueOn: DayShape.nullable().default(null),
    numbers: Pasted,
  })
  .refine((w) => w.asker === 'our own file' || w.asker === 'the person' || w.who !== '', {
    error: 'Say who asks.',
    path: ['who'],
  });
export type EvidenceWish = z.output<typeof EvidenceWish>;

const Stands = z.object({
  state: z.string(),
  /** Whether texts of this purpose may rest on it. */
  proven: z.boolean(),
  /** What it rests on: the deciding event; null where there is none. */
  by: z
    .object({
      seq: z.number(),
      kind: z.enum(CONSENT_EVENT_KINDS),
      how: z.enum(CONSENT_ROUTES),
      happenedAt: Moment,
      disclosed: z.boolean(),
    })
    .nullable(),
});
/** What is on file about one number that is asked about. */
export const EvidenceOnFile = z.object({
  e164: z.string(),
  name: z.string(),
  contactId: z.string().nullable(),
  informational: Stands,
  promotional: Stands,
  events: z.number(),
  texts: z.number(),
});
export type EvidenceOnFile = z.output<typeof EvidenceOnFile>;

export const EvidencePackShape = z.object({
  id: z.string(),
  state: z.enum(['making', 'ready', 'failed', 'gone']),
  madeBy: z.string(),
  /** As of this moment. */
  madeAt: Moment,
  /** Bytes; 0 until it is ready. */
  size: z.number(),
  /** SHA-256 of the archive, hex; empty until it is ready. */
  sha256: z.string(),
  events: z.number(),
  texts: z.number(),
  /** Until when it can be fetched; after that it is made anew. */
  keptUntil: Moment,
  jobId: z.string(),
});
export type EvidencePack = z.output<typeof EvidencePackShape>;
export const EvidenceRequestShape = z.object({
  id: z.string(),
  asker: z.enum(ASKERS),
  who: z.string(),
  reference: z.string(),
  question: z.string(),
  dueOn: z.string().nullable(),
  e164s: z.array(z.string()),
  /** The contact, where one number is asked about and it is known whose it is. */
  name: z.string(),
  askedAt: Moment,
  askedBy: z.string(),
  answeredAt: Moment.nullable(),
  answeredBy: z.string(),
  /** How it was handed over, in the words of who did. */
  answer: z.string(),
  /** The last first. */
  packs: z.array(EvidencePackShape),
  version: z.number(),
});
export type EvidenceRequest = z.output<typeof EvidenceRequestShape>;

export const reviewEvidence = endpoint({
  id: 'evidence.review',
  summary: 'What is on file about numbers that are asked about, and what is proven',
  method: 'POST',
  path: '/businesses/:businessId/evidence-requests/review',
  access: 'viewer',
  params: BusinessPath,
  body: z.object({ numbers: Pasted }),
  answer: z.object({
    items: z.array(EvidenceOnFile),
    /** What stands there and is no number, with the reason. */
    unread: z.array(z.object({ raw: z.string(), why: z.string() })),
  }),
});
export const listEvidence = endpoint({
  id: 'evidence.list',
  summary: 'Who asked for proof of consent, what was asked, and the evidence packs that were made; the last first',
  method: 'GET',
  path: '/businesses/:businessId/evidence-requests',
  access: 'viewer',
  params: BusinessPath,
  query: PageOrOne.extend({ state: z.enum(['open', 'answered']).optional() }),
  answer: page(EvidenceRequestShape).extend({
    /** Of the key that signs packs, as people read it to one another. */
    fingerprint: z.string(),
  }),
});
export const askEvidence = endpoint({
  id: 'evidence.ask',
  summary: 'Note that somebody asks for proof about some numbers, and make the pack; under one key it is noted once',
  method: 'POST',
  path: '/businesses/:businessId/evidence-requests',
  access: 'viewer',
  costs: true,
  params: BusinessPath,
  body: EvidenceWish,
  answer: EvidenceRequestShape,
});
export const makePack = endpoint({
  id: 'evidence.pack',
  summary: 'Make the pack of a request anew, as everything stands now',
  method: 'POST',
  path: '/businesses/:businessId/evidence-requests/:id/packs',
  access: 'viewer',
  costs: true,
  params: ObjectPath,
  answer: EvidenceRequestShape,
});
export const answerEvidence = endpoint({
  id: 'evidence.answer',
  summary: 'Note that a request was answered, and how',
  method: 'POST',
  path: '/businesses/:businessId/evidence-requests/:id/answer',
  access: 'coordinator',
  versioned: true,
  params: ObjectPath,
  body: z.object({ answer: z.string().trim().min(3, 'Say how it was handed over, and to whom.').max(500) }),
  answer: EvidenceRequestShape,
});
export const readPack = endpoint({
  id: 'evidence.archive',
  summary: 'An evidence pack, as the archive that anybody can check; each time it is fetched is audited',
  method: 'GET',
  path: '/businesses/:businessId/evidence-packs/:id/pack.zip',
  access: 'viewer',
  params: ObjectPath,
  answer: z.string(),
});

/** A version of an opt-in page, as it was published or seen. */
export const PageVersionShape = z.object({
  sha256: z.string(),
  pageVersion: z.number(),
  title: z.string(),
  firstAt: Moment,
});
export const listPageVersions = endpoint({
  id: 'pages.versions',
  summary: 'The versions of an opt-in page that were kept, the last first',
  method: 'GET',
  path: '/businesses/:businessId/pages/:id/versions',
  access: 'viewer',
  params: ObjectPath,
  answer: z.object({ items: z.array(PageVersionShape) }),
});
export const readPageVersion = endpoint({
  id: 'pages.version',
  summary: 'A page as it was, by its digest: a document that needs nothing else',
  method: 'GET',
  path: '/businesses/:businessId/page-versions/:sha256',
  access: 'viewer',
  params: BusinessPath.extend({ sha256: z.string().regex(/^[0-9a-f]{64}$/, 'Not a digest.') }),
  answer: z.string(),
});
