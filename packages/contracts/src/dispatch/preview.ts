import { REASONS, REMEDIES, type ReasonCode } from '@long-gate/core';
import * as z from 'zod';
import { LookupEstimate, LookupStarted } from '../contacts/contacts.js';
import {
  Amount,
  AnswerShape,
  BusinessPath,
  endpoint,
  FindingShape,
  Moment,
  page,
  PageQuery,
  ResultShape,
} from '../endpoint.js';
import { DraftSoFar, WhenShape } from './dispatch.js';

export const PostCountShape = z.object({
  post: z.number(),
  pass: z.number(),
  hold: z.number(),
  stop: z.number(),
  reasons: z.array(
    z.object({ reason: z.string(), result: ResultShape, count: z.number(), until: z.number().nullable() }),
  ),
});
export const GateCountsShape = z.object({
  audience: z.number(),
  pass: z.number(),
  hold: z.number(),
  stop: z.number(),
  posts: z.array(PostCountShape),
  nextAt: z.number().nullable(),
  goodUntil: z.number().nullable(),
});
export const PreviewShape = z.object({
  counts: GateCountsShape,
  repeats: z.number(),
  findings: z.array(FindingShape),
  example: z.string(),
  encoding: z.string(),
  segmentsTypical: z.number(),
  segmentsWorst: z.number(),
  unitsWorst: z.number(),
  cost: Amount,
  balance: Amount,
  lastAt: Moment,
  perSecond: z.number(),
  perDay: z.number(),
  judgedAt: Moment,
  /**
   * Of those nothing but time can hold, how many the permitted hours leave in each of the coming hours, the one that runs
   * first; empty where the hours are not asked.
   */
  hours: z.array(z.number()),
  classes: z.number(),
  /** Whoever is asked about first, whether their number changed hands: what that costs and takes; null for nobody. */
  askedFirst: z.object({ numbers: z.number(), cost: Amount, seconds: z.number() }).nullable(),
  /** Whom it would reach, those held included, and what that costs at most. */
  reach: z.number(),
  costAtMost: Amount,
  /** Of a chosen time: the moment it begins, how many it would hold by hours, until when, and a better time; null for now. */
  later: z
    .object({
      at: Moment,
      held: z.number(),
      heldUntil: Moment.nullable(),
      better: z.object({ at: Moment, local: z.string(), held: z.number() }).nullable(),
    })
    .nullable(),
});
export type Preview = z.infer<typeof PreviewShape>;
export const previewDispatch = endpoint({
  id: 'dispatches.preview',
  summary: 'The gate preview of a dispatch as it is written',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/preview',
  access: 'viewer',
  params: BusinessPath,
  body: DraftSoFar.extend({ when: WhenShape.nullable().default(null) }),
  answer: PreviewShape,
});

const Reason = z.enum(Object.keys(REASONS) as [ReasonCode, ...ReasonCode[]]);

/** A count of the preview: who is behind it. */
export const BehindShape = z.object({
  dispatch: DraftSoFar.safeExtend({ when: WhenShape.nullable().default(null) }),
  post: z.number().int().min(0).max(11),
  result: ResultShape,
  /** Only those of one reason. */
  reason: Reason.nullable().default(null),
});
export type Behind = z.output<typeof BehindShape>;

export const RecipientShape = z.object({
  contactId: z.string(),
  name: z.string(),
  e164: z.string(),
  result: ResultShape,
  post: z.number().nullable(),
  reason: Reason.nullable(),
  why: z.string(),
  lift: z.string(),
  until: Moment.nullable(),
  answers: z.array(AnswerShape),
  onFile: z.string(),
});
export type Recipient = z.infer<typeof RecipientShape>;
export const previewPeople = endpoint({
  id: 'dispatches.people',
  summary: 'Who is behind a count of the preview, reason by reason, the most frequent first',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/preview/people',
  access: 'viewer',
  params: BusinessPath,
  body: BehindShape.extend(PageQuery.shape),
  answer: page(RecipientShape).extend({
    reasons: z.array(
      z.object({
        reason: Reason,
        why: z.string(),
        lift: z.string(),
        n: z.number(),
        remedies: z.array(z.enum(REMEDIES)),
      }),
    ),
  }),
});
export const previewPeopleFile = endpoint({
  id: 'dispatches.peopleFile',
  summary: 'Everybody behind a count of the preview, as CSV',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/preview/people.csv',
  access: 'viewer',
  params: BusinessPath,
  body: BehindShape,
  answer: z.string(),
});
export const estimateBehind = endpoint({
  id: 'dispatches.estimateLookups',
  summary: 'What it costs to ask about the numbers behind a count',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/preview/people/lookups/estimate',
  access: 'viewer',
  params: BusinessPath,
  body: BehindShape,
  answer: LookupEstimate,
});
export const lookUpBehind = endpoint({
  id: 'dispatches.lookUp',
  summary: 'Ask about the numbers behind a count, as a job',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/preview/people/lookups',
  access: 'coordinator',
  costs: true,
  params: BusinessPath,
  body: BehindShape,
  answer: LookupStarted,
});
export const tagBehind = endpoint({
  id: 'dispatches.tag',
  summary: 'Put everybody behind a count on a tag',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/preview/people/tagged',
  access: 'coordinator',
  params: BusinessPath,
  body: BehindShape.extend({ tag: z.string().trim().min(1, 'Name the tag.').max(60) }),
  answer: z.object({ listId: z.string(), added: z.number(), people: z.number() }),
});
