import { COMPARED_FIELDS, isDay, PORT_STATES } from '@long-gate/core';
import * as z from 'zod';
import {
  Amount,
  BusinessPath,
  DayShape,
  Done,
  endpoint,
  FindingShape,
  Moment,
  ObjectPath,
  ReasonShape,
} from '../endpoint.js';

const DayOrNone = z.union([z.literal(''), DayShape]);
const Text = (max: number) => z.string().trim().max(max, `At most ${max} characters.`).default('');

/** The facts of a request. An empty PIN or account number in an edit leaves what is stored. */
export const PortFactsShape = z.object({
  accountNumber: Text(40),
  pin: Text(20),
  pinExpires: DayOrNone.default(''),
  holderKind: z.enum(['business', 'residential']).default('business'),
  holderName: Text(120),
  authorisedName: Text(80),
  street: Text(120),
  unit: Text(40),
  city: Text(80),
  state: Text(2),
  postalCode: Text(10),
  billingNumber: Text(20),
  linesStay: z.boolean().default(false),
  newBillingNumber: Text(20),
  responsibleOrganisation: Text(5),
  oldServiceEnds: DayOrNone.default(''),
});

export const PortNumberShape = z.object({
  e164: z.string(),
  kind: z.enum(['wireless', 'landline', 'toll-free']).nullable(),
  losingCarrier: z.string(),
  portable: z.boolean().nullable(),
  whyNot: z.string(),
  /** Prepared for the day it lands. */
  label: z.string(),
  campaignId: z.string().nullable(),
  /** Where calls are put through once it has landed; empty for nowhere. */
  forwardTo: z.string(),
  /** The number in the inventory, once it has landed. */
  numberId: z.string().nullable(),
});

const SpanShape = z.object({ start: z.number(), end: z.number() });
export const ComparisonShape = z.object({
  field: z.enum(COMPARED_FIELDS),
  ours: z.string(),
  theirs: z.string(),
  likeness: z.enum(['same', 'doubtful', 'will be rejected']),
  why: z.string(),
  oursDiffer: z.array(SpanShape),
  theirsDiffer: z.array(SpanShape),
});

export const DocumentShape = z.object({
  id: z.string(),
  what: z.enum(['letter', 'bill']),
  name: z.string(),
  type: z.string(),
  size: z.number(),
  sha256: z.string(),
  by: z.string(),
  at: Moment,
});

export const PortShape = z.object({
  id: z.string(),
  state: z.enum(PORT_STATES),
  losingCarrier: z.string(),
  numbers: z.array(PortNumberShape),
  /** Account number and PIN are masked. */
  facts: PortFactsShape,
  acknowledged: z.array(z.string()),
  needed: z.array(z.string()),
  findings: z.array(FindingShape),
  /** What the losing carrier gave as reasons, tied to fields. */
  reasons: z.array(ReasonShape),
  changedSince: z.array(z.object({ field: z.string(), before: z.string(), after: z.string() })),
  record: z.object({
    state: z.enum(['not asked', 'answered', 'none']),
    askedAt: Moment.nullable(),
    fields: z.array(ComparisonShape),
  }),
  letter: z.object({
    /** `link ended`: what it says was changed after the link was made; the holder has to read again. */
    state: z.enum(['none', 'link out', 'link ended', 'signed', 'uploaded']),
    signedBy: z.string(),
    signedOn: z.string(),
    ip: z.string(),
    linkExpiresAt: Moment.nullable(),
  }),
  billDated: z.string(),
  documents: z.array(DocumentShape),
  attempt: z.number(),
  focAt: Moment.nullable(),
  focOn: z.string(),
  lastDayToChange: z.string(),
  askedDate: z.string(),
  /** Whether another date, or the end of it, can still be granted. */
  mayMoveDate: z.boolean(),
  mayCancel: z.boolean(),
  timeline: z.array(
    z.object({
      step: z.string(),
      state: z.enum(['done', 'now', 'expected', 'late', 'ahead', 'failed']),
      day: z.string(),
      note: z.string(),
    }),
  ),
  runbook: z.array(
    z.object({
      what: z.string(),
      test: z.string(),
      done: z.boolean(),
      at: Moment.nullable(),
      /** When it was tried and failed, as it has not passed since. */
      failedAt: Moment.nullable(),
    }),
  ),
  /** Numbers on their way whose calls are put through to no line yet. */
  callsNowhere: z.array(z.string()),
  /** What is paid with the next submission; below nothing where more comes back. */
  costNow: Amount,
  costMonthly: Amount,
  begunAt: Moment,
  submittedAt: Moment.nullable(),
  answeredAt: Moment.nullable(),
  completedAt: Moment.nullable(),
  snapBackUntil: Moment.nullable(),
  /** Facts that stand as the business's profile has them: nobody has compared them with the carrier's record yet. */
  fromProfile: z.array(z.string()),
  nextStep: z.object({ title: z.string(), why: z.string() }),
  late: z.boolean(),
  version: z.number(),
});
export type PortView = z.infer<typeof PortShape>;

const Versioned = { versioned: true, access: 'administrator', params: ObjectPath, answer: PortShape } as const;

export const listPorts = endpoint({
  id: 'ports.list',
  summary: 'All port requests of the business',
  method: 'GET',
  path: '/businesses/:businessId/ports',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(PortShape), calendarPath: z.string() }),
});

export const getPort = endpoint({
  id: 'ports.get',
  summary: 'One port request',
  method: 'GET',
  path: '/businesses/:businessId/ports/:id',
  access: 'viewer',
  params: ObjectPath,
  answer: PortShape,
});

export const beginPorts = endpoint({
  id: 'ports.begin',
  summary: 'Begin port requests for numbers: looked up, tested, grouped by losing carrier',
  method: 'POST',
  path: '/businesses/:businessId/ports',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z.object({ numbers: z.string().trim().min(1, 'Write at least one number.').max(4000) }),
  answer: z.object({
    ports: z.array(PortShape),
    refused: z.array(z.object({ raw: z.string(), why: z.string() })),
    /** What was read otherwise than it was written, such as an extension. */
    remarks: z.array(z.object({ raw: z.string(), why: z.string() })),
  }),
});

export const savePort = endpoint({
  id: 'ports.save',
  summary: 'Edit the facts of a request',
  method: 'PUT',
  path: '/businesses/:businessId/ports/:id',
  ...Versioned,
  body: z.object({
    facts: PortFactsShape,
    acknowledged: z.array(z.string().max(40)).max(10),
    billDated: DayOrNone.default(''),
  }),
});

export const changePortNumbers = endpoint({
  id: 'ports.numbers',
  summary: 'Add numbers to a request or take them out',
  method: 'PUT',
  path: '/businesses/:businessId/ports/:id/numbers',
  ...Versioned,
  body: z.object({ add: z.string().trim().max(2000).default(''), remove: z.array(z.string()).max(100).default([]) }),
});

export const preparePortNumber = endpoint({
  id: 'ports.prepare',
  summary: 'Label and campaign for the day a number lands',
  method: 'PUT',
  path: '/businesses/:businessId/ports/:id/preparation',
  ...Versioned,
  body: z.object({ e164: z.string(), label: Text(60), campaignId: z.string().nullable(), forwardTo: Text(20) }),
});

export const askForRecord = endpoint({
  id: 'ports.record',
  summary: 'Ask the losing carrier for its record (CSR)',
  method: 'POST',
  path: '/businesses/:businessId/ports/:id/record',
  access: 'administrator',
  params: ObjectPath,
  answer: PortShape,
});

export const submitPort = endpoint({
  id: 'ports.submit',
  summary: 'Submit, or resubmit, a request',
  method: 'POST',
  path: '/businesses/:businessId/ports/:id/submission',
  access: 'administrator',
  costs: true,
  params: ObjectPath,
  body: z.object({
    /** What was rejected goes again although nothing of it was changed. */
    sameAgain: z.boolean().default(false),
  }),
  answer: PortShape,
});

export const cancelPort = endpoint({
  id: 'ports.cancel',
  summary: 'Cancel a request; the first month is refunded',
  method: 'POST',
  path: '/businesses/:businessId/ports/:id/cancellation',
  access: 'administrator',
  params: ObjectPath,
  answer: PortShape,
});

export const movePortDate = endpoint({
  id: 'ports.date',
  summary: 'Ask for another FOC date',
  method: 'POST',
  path: '/businesses/:businessId/ports/:id/date',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ day: z.string().refine(isDay, { message: 'Choose a day.' }) }),
  answer: PortShape,
});

export const snapBackPort = endpoint({
  id: 'ports.snap-back',
  summary: 'Have landed numbers go back to the old carrier',
  method: 'POST',
  path: '/businesses/:businessId/ports/:id/snap-back',
  access: 'administrator',
  costs: true,
  params: ObjectPath,
  answer: PortShape,
});

export const tickRunbook = endpoint({
  id: 'ports.runbook',
  summary: 'Note a test of the day as passed, or take that back',
  method: 'PUT',
  path: '/businesses/:businessId/ports/:id/runbook',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ test: z.string().max(40), done: z.boolean() }),
  answer: PortShape,
});

export const uploadPortDocument = endpoint({
  id: 'ports.upload',
  summary: 'Upload the latest bill or a signed letter: PDF, PNG or JPEG up to 10 MB',
  method: 'POST',
  path: '/businesses/:businessId/ports/:id/documents',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({
    what: z.enum(['letter', 'bill']),
    name: z.string().trim().min(1).max(200),
    base64: z.string().min(1, 'The file is empty.'),
    /** The day printed on the bill, or the day of the signature. */
    dated: z.string().refine(isDay, { message: 'Give the day that stands on it.' }),
    /** Who signed an uploaded letter. */
    signedBy: Text(80),
  }),
  answer: PortShape,
});

export const dropPortDocument = endpoint({
  id: 'ports.drop-document',
  summary: 'Take a paper away that was uploaded by mistake',
  method: 'DELETE',
  path: '/businesses/:businessId/ports/:id/documents/:documentId',
  access: 'administrator',
  params: ObjectPath.extend({ documentId: z.string() }),
  answer: PortShape,
});
export const readPortDocument = endpoint({
  id: 'ports.document',
  summary: 'A document of a request; each look is audited',
  method: 'GET',
  path: '/businesses/:businessId/ports/:id/documents/:documentId',
  access: 'viewer',
  params: ObjectPath.extend({ documentId: z.string() }),
  answer: z.string(),
});

export const portLetter = endpoint({
  id: 'ports.letter',
  summary: 'The letter of authorisation as a PDF, as it would be signed now',
  method: 'GET',
  path: '/businesses/:businessId/ports/:id/letter.pdf',
  access: 'viewer',
  params: ObjectPath,
  answer: z.string(),
});

export const makeSigningLink = endpoint({
  id: 'ports.signing-link',
  summary: 'A link for the account holder to sign the letter; an earlier one ends',
  method: 'POST',
  path: '/businesses/:businessId/ports/:id/signing-link',
  access: 'administrator',
  params: ObjectPath,
  answer: z.object({ path: z.string(), expiresAt: Moment }),
});

export const portCalendar = endpoint({
  id: 'ports.calendar',
  summary: 'FOC dates and deadlines as an iCalendar file',
  method: 'GET',
  path: '/businesses/:businessId/ports.ics',
  access: 'viewer',
  params: BusinessPath,
  answer: z.string(),
});

export const renewCalendar = endpoint({
  id: 'ports.renew-calendar',
  summary: 'A new secret address for one’s own calendar feed; the earlier one ends',
  method: 'POST',
  path: '/businesses/:businessId/calendar-feed',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ calendarPath: z.string() }),
});

export const publicCalendar = endpoint({
  id: 'public.calendar',
  summary: 'The same as a feed for a calendar program',
  method: 'GET',
  path: '/public/calendars/:token',
  access: 'public',
  params: z.object({ token: z.string().max(80) }),
  answer: z.string(),
});

export const getLetterToSign = endpoint({
  id: 'public.letter',
  summary: 'What the account holder reads before signing',
  method: 'GET',
  path: '/public/letters/:token',
  access: 'public',
  params: z.object({ token: z.string().max(80) }),
  answer: z.object({
    business: z.string(),
    holderName: z.string(),
    authorisedName: z.string(),
    losingCarrier: z.string(),
    address: z.string(),
    numbers: z.array(z.string()),
    paragraphs: z.array(z.string()),
    signed: z.boolean(),
    signedBy: z.string(),
    today: z.string(),
  }),
});

export const signLetter = endpoint({
  id: 'public.sign',
  summary: 'The account holder signs, typed or drawn',
  method: 'POST',
  path: '/public/letters/:token',
  access: 'public',
  params: z.object({ token: z.string().max(80) }),
  body: z.object({
    name: z.string().trim().min(2, 'Write your full name.').max(80),
    agreed: z.literal(true, { error: 'Tick that you may decide about this account.' }),
    /** A drawn signature as a PNG data address; empty where the typed name stands for it. */
    drawn: z
      .string()
      .max(200_000, 'The drawing is too large; draw it again.')
      .refine((d) => d === '' || d.startsWith('data:image/png;base64,'), { message: 'The drawing could not be read.' })
      .default(''),
  }),
  answer: Done,
});
