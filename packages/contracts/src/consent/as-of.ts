import { CONSENT_EVENT_KINDS, CONSENT_ROUTES, TEXT_KINDS } from '@long-gate/core';
import * as z from 'zod';
import { Amount, AnswerShape, BusinessPath, endpoint, Moment, PurposeShape, ResultShape } from '../endpoint.js';

const ConsentThen = z.object({
  state: z.string(),
  since: Moment.nullable(),
  /** The event of the ledger that decided it. */
  eventId: z.string().nullable(),
});
const StoodShape = z.object({
  /** Whether the number was a contact's here. */
  contact: z.boolean(),
  lineType: z.string(),
  carrier: z.string(),
  lookedUpAt: Moment.nullable(),
  textable: z.string(),
  reachable: z.boolean(),
  trouble: z.string(),
  /** Until when a purchase or an inquiry on record excepted them from registries; null where nothing did. */
  relatedUntil: Moment.nullable(),
  suppression: z.string(),
  wishInReview: z.boolean(),
  reassignment: z.string(),
  consent: z.object({ conversational: ConsentThen, informational: ConsentThen, promotional: ConsentThen }),
  /** Purposes the same person had refused on another of their numbers. */
  refusedElsewhere: z.array(PurposeShape),
  /** Until when their last word could be answered. */
  answerableUntil: Moment.nullable(),
  /** Until when three offers within a day were too many already. */
  solicitedUntil: Moment.nullable(),
  firstText: z.boolean(),
  /** Our number had not shown them the way out for 30 days. */
  stopLineDue: z.boolean(),
  country: z.string(),
  zones: z.array(z.string()),
  states: z.array(z.string()),
  accountState: z.string(),
  textsOff: z.boolean(),
  clearance: z.string(),
  /** The campaign our number was in; empty for none. */
  campaign: z.string(),
  balance: Amount,
  /** Segments left that day on networks that cap a brand. */
  dailySegments: z.number(),
});
export type StoodThen = z.infer<typeof StoodShape>;

const VerdictShape = z.object({
  result: ResultShape,
  post: z.number().nullable(),
  reason: z.string().nullable(),
  why: z.string(),
  lift: z.string(),
  until: Moment.nullable(),
});
const JudgedShape = VerdictShape.extend({ at: Moment, answers: z.array(AnswerShape), stood: StoodShape });
export type JudgedThen = z.infer<typeof JudgedShape>;

const TextShape = z.object({
  id: z.string(),
  at: Moment,
  kind: z.string(),
  purpose: z.string(),
  words: z.string(),
  state: z.string(),
  why: z.string(),
});
export type TextThen = z.infer<typeof TextShape>;
const LaterShape = z.object({
  id: z.string(),
  kind: z.enum(CONSENT_EVENT_KINDS),
  how: z.enum(CONSENT_ROUTES),
  purposes: z.array(PurposeShape),
  happenedAt: Moment,
  recordedAt: Moment,
});

const AskedShape = z.object({
  text: z.object({
    /** Null for words that were not sent. */
    id: z.string().nullable(),
    kind: z.enum(TEXT_KINDS),
    purpose: PurposeShape,
    words: z.string(),
    numberId: z.string(),
    /** The number of ours it is from; empty for none. */
    from: z.string(),
    dispatch: z.object({ id: z.string(), title: z.string() }).nullable(),
  }),
  /** What the gate said when the text was judged last, as it was kept with it. */
  kept: z
    .object({
      at: Moment,
      left: z.boolean(),
      post: z.number().nullable(),
      reason: z.string().nullable(),
      why: z.string(),
    })
    .nullable(),
  then: JudgedShape,
  now: JudgedShape,
  /** What happened before the moment and was recorded after it, and what the gate would have said had it known. */
  later: z.object({ events: z.array(LaterShape), verdict: VerdictShape }).nullable(),
  /** Of which the rules read other data now than then, by name (`hours`, `countries`, …). */
  rulesChanged: z.array(z.string()),
  /** What is not known of that moment, and what is taken instead. */
  unknown: z.array(z.string()),
});
export type AskedThen = z.infer<typeof AskedShape>;

const AsOfQuery = z.object({
  /** The contact's number, as people write it. */
  e164: z.string().trim().min(1, 'Write a number.').max(40),
  /** One of the texts to them. */
  text: z.string().max(200).optional(),
  /** Left out with a text: when it was judged last. */
  at: z.coerce.number().int().min(0).max(8.64e15).optional(),
  /** Other words. */
  words: z.string().max(2000).optional(),
  kind: z.enum(['dispatch', 'answer']).default('dispatch'),
  purpose: z.enum(['informational', 'promotional']).default('informational'),
  transactional: z.enum(['yes']).optional(),
  numberId: z.string().max(60).optional(),
  /** `no` for a dispatch whose text carries no stop line. */
  stopLine: z.enum(['no']).optional(),
});
export type AsOfQuestion = z.input<typeof AsOfQuery>;

export const askAsOf = endpoint({
  id: 'consent.as-of',
  summary: 'Whether a text would have passed the gate at a moment, and why; and whether it would now',
  method: 'GET',
  path: '/businesses/:businessId/as-of',
  access: 'viewer',
  params: BusinessPath,
  query: AsOfQuery,
  answer: z.object({
    e164: z.string(),
    name: z.string(),
    /** Null where no contact has the number now. */
    contactId: z.string().nullable(),
    /** The zone of the business. */
    zone: z.string(),
    /** The last texts to them, the last first, for choosing one. */
    texts: z.array(TextShape),
    /** Null where neither a text nor other words were named. */
    asked: AskedShape.nullable(),
  }),
});
export type AsOfAnswer = z.infer<typeof askAsOf.answer>;
