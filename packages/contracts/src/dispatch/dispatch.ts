import * as z from 'zod';
import {
  Amount,
  AnswerShape,
  BusinessPath,
  Done,
  endpoint,
  FindingShape,
  Moment,
  ObjectPath,
  page,
  PageQuery,
  PurposeShape,
  ResultShape,
} from '../endpoint.js';

/** Who a dispatch goes to: everyone in any of the included lists and tags, less everyone in an excluded one. */
export const AudienceShape = z.object({ include: z.array(z.string()).max(50), exclude: z.array(z.string()).max(50) });
export type Audience = z.infer<typeof AudienceShape>;

export const DispatchShape = z.object({
  id: z.string(),
  title: z.string(),
  text: z.string(),
  purpose: PurposeShape.nullable(),
  transactional: z.boolean(),
  stopLine: z.boolean(),
  numberId: z.string().nullable(),
  audience: AudienceShape,
  /** An administrator's reason to let words go with another purpose than they read as; empty for none. */
  override: z.string(),
  overrideBy: z.string(),
  state: z.enum(['draft', 'sending', 'done', 'cancelled']),
  createdBy: z.string(),
  createdAt: Moment,
  sentAt: Moment.nullable(),
  endsAt: Moment.nullable(),
  counts: z.record(z.string(), z.number()),
  version: z.number(),
});
export type DispatchView = z.infer<typeof DispatchShape>;
/** A dispatch is never conversational: nobody wrote first. */
export const DispatchPurposeShape = z.enum(['informational', 'promotional'], {
  error: 'A dispatch is informational or promotional.',
});
const DraftShape = z.object({
  title: z.string().trim().min(1, 'Give the dispatch a title.').max(100),
  text: z.string().max(2000, 'Longer than 2,000 characters.'),
  purpose: DispatchPurposeShape.nullable(),
  transactional: z.boolean(),
  stopLine: z.boolean(),
  numberId: z.string().nullable(),
  audience: AudienceShape,
  override: z.string().trim().max(500, 'Longer than 500 characters.').default(''),
});
/** A promotional text is never transactional (rules.md, consent). */
const neverBoth = (d: { purpose: string | null; transactional: boolean }): boolean =>
  !(d.purpose === 'promotional' && d.transactional);
const NEVER_BOTH = {
  path: ['transactional'],
  error: 'A promotional text is never called for by a booking, order or case.',
};
const REASON_LONG_ENOUGH = {
  path: ['override'],
  error: 'Write the reason in at least 20 characters; it is kept with the dispatch.',
};
const reasonLongEnough = (d: { override: string }): boolean => d.override === '' || d.override.length >= 20;
export const DispatchEdit = DraftShape.refine(neverBoth, NEVER_BOTH).refine(reasonLongEnough, REASON_LONG_ENOUGH);
/** As it is written so far: for previews. */
const DraftSoFar = DraftShape.extend({ title: z.string().max(100) }).refine(neverBoth, NEVER_BOTH);
/** What dispatches are sorted by; with a minus before it the other way round. */
const DISPATCH_SORTS = ['title', 'state', 'sent', 'purpose'] as const;
const DispatchSort = z.enum([...DISPATCH_SORTS, ...DISPATCH_SORTS.map((s) => `-${s}` as const)]);
export type DispatchSort = z.infer<typeof DispatchSort>;

export const listDispatches = endpoint({
  id: 'dispatches.list',
  summary: 'Dispatches, the newest first or as sorted',
  method: 'GET',
  path: '/businesses/:businessId/dispatches',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery.extend({ sort: DispatchSort.optional() }),
  answer: page(DispatchShape),
});
export const getDispatch = endpoint({
  id: 'dispatches.get',
  summary: 'One dispatch',
  method: 'GET',
  path: '/businesses/:businessId/dispatches/:id',
  access: 'viewer',
  params: ObjectPath,
  answer: DispatchShape,
});
export const addDispatch = endpoint({
  id: 'dispatches.add',
  summary: 'Begin a dispatch',
  method: 'POST',
  path: '/businesses/:businessId/dispatches',
  access: 'coordinator',
  params: BusinessPath,
  body: DispatchEdit,
  answer: DispatchShape,
});
export const saveDispatch = endpoint({
  id: 'dispatches.save',
  summary: 'Save a draft',
  method: 'PUT',
  path: '/businesses/:businessId/dispatches/:id',
  access: 'coordinator',
  versioned: true,
  params: ObjectPath,
  body: DispatchEdit,
  answer: DispatchShape,
});
export const deleteDraft = endpoint({
  id: 'dispatches.delete',
  summary: 'Throw a draft away',
  method: 'DELETE',
  path: '/businesses/:businessId/dispatches/:id',
  access: 'coordinator',
  params: ObjectPath,
  answer: Done,
});

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
});
export type Preview = z.infer<typeof PreviewShape>;
export const previewDispatch = endpoint({
  id: 'dispatches.preview',
  summary: 'The gate preview of a dispatch as it is written',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/preview',
  access: 'viewer',
  params: BusinessPath,
  body: DraftSoFar,
  answer: PreviewShape,
});

export const RecipientShape = z.object({
  contactId: z.string().nullable(),
  name: z.string(),
  e164: z.string(),
  result: z.string(),
  post: z.number().nullable(),
  why: z.string(),
  lift: z.string(),
  until: Moment.nullable(),
  answers: z.array(AnswerShape),
  onFile: z.string(),
});
export type Recipient = z.infer<typeof RecipientShape>;
export const previewPeople = endpoint({
  id: 'dispatches.people',
  summary: 'Who is behind a count of the preview',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/preview/people',
  access: 'viewer',
  params: BusinessPath,
  body: z.object({
    dispatch: DraftSoFar,
    post: z.number().int().min(0).max(11),
    result: ResultShape,
    limit: z.number().int().min(1).max(5000).default(200),
  }),
  answer: z.object({ items: z.array(RecipientShape), more: z.boolean() }),
});
export const sendTest = endpoint({
  id: 'dispatches.test',
  summary: 'Send a test to one’s own mobile',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/:id/tests',
  access: 'coordinator',
  costs: true,
  params: ObjectPath,
  answer: z.object({ messageId: z.string(), to: z.string() }),
});
export const sendDispatch = endpoint({
  id: 'dispatches.send',
  summary: 'Send; asked twice it sends once',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/:id/sending',
  access: 'coordinator',
  costs: true,
  versioned: true,
  params: ObjectPath,
  answer: DispatchShape,
});
export const cancelDispatch = endpoint({
  id: 'dispatches.cancel',
  summary: 'Stop what has not left',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/:id/cancel',
  access: 'coordinator',
  params: ObjectPath,
  answer: DispatchShape,
});
export const MessageShape = z.object({
  id: z.string(),
  direction: z.enum(['out', 'in']),
  kind: z.string(),
  e164: z.string(),
  name: z.string(),
  text: z.string(),
  segments: z.number(),
  state: z.string(),
  post: z.number().nullable(),
  why: z.string(),
  lift: z.string(),
  holdUntil: Moment.nullable(),
  cost: Amount,
  carrier: z.string(),
  failure: z.string(),
  at: Moment,
  sentAt: Moment.nullable(),
  finalAt: Moment.nullable(),
});
export type MessageView = z.infer<typeof MessageShape>;
export const listMessages = endpoint({
  id: 'dispatches.messages',
  summary: 'The texts of a dispatch by state',
  method: 'GET',
  path: '/businesses/:businessId/dispatches/:id/messages',
  access: 'viewer',
  params: ObjectPath,
  query: PageQuery.extend({ state: z.string().max(20).optional() }),
  answer: page(MessageShape),
});
