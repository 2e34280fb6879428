import { LOCAL_TIME } from '@long-gate/core';
import * as z from 'zod';
import {
  Amount,
  BusinessPath,
  DayShape,
  Done,
  endpoint,
  Moment,
  ObjectPath,
  page,
  PageQuery,
  PurposeShape,
} from '../endpoint.js';

/** Who a dispatch goes to: everyone in any of the included lists and tags, less everyone in an excluded one. */
export const AudienceShape = z.object({ include: z.array(z.string()).max(50), exclude: z.array(z.string()).max(50) });
export type Audience = z.infer<typeof AudienceShape>;

/** When a dispatch is to leave: a wall time in the business's zone, or in each recipient's own. */
export const WhenShape = z.object({
  local: z.string().regex(LOCAL_TIME, 'Choose a day and a time.'),
  zone: z.enum(['business', 'own']),
});
export type When = z.infer<typeof WhenShape>;

export const ScheduleShape = WhenShape.extend({
  /** The moment it begins to leave. */
  at: Moment,
  /** Whom it would reach and what it would cost at most, as it was confirmed. */
  reach: z.number().int(),
  cost: Amount,
  by: z.string(),
  /** Why it was held when its time came and waits for a yes; empty for one that was not. */
  held: z.string(),
});

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
  state: z.enum(['draft', 'scheduled', 'sending', 'done', 'cancelled']),
  /** When it is to leave; null for one that has left or has no time yet. */
  schedule: ScheduleShape.nullable(),
  /** For colleagues: a kind of dispatch, and the larger effort it belongs to. */
  category: z.string(),
  effort: z.string(),
  archivedAt: Moment.nullable(),
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
  category: z.string().trim().max(40).default(''),
  effort: z.string().trim().max(60).default(''),
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
export const DraftSoFar = DraftShape.extend({ title: z.string().max(100) }).refine(neverBoth, NEVER_BOTH);
/** What dispatches are sorted by; with a minus before it the other way round. */
const DISPATCH_SORTS = ['title', 'state', 'sent', 'purpose'] as const;
const DispatchSort = z.enum([...DISPATCH_SORTS, ...DISPATCH_SORTS.map((s) => `-${s}` as const)]);
export type DispatchSort = z.infer<typeof DispatchSort>;

/** What a list of dispatches shows. */
export const DISPATCH_SHOWS = ['drafts', 'scheduled', 'under way', 'sent', 'archived'] as const;
export const DispatchShow = z.enum(DISPATCH_SHOWS);
export type DispatchShow = z.infer<typeof DispatchShow>;

export const listDispatches = endpoint({
  id: 'dispatches.list',
  summary: 'Dispatches, the newest first or as sorted',
  method: 'GET',
  path: '/businesses/:businessId/dispatches',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery.extend({
    sort: DispatchSort.optional(),
    show: DispatchShow.optional(),
    category: z.string().max(40).optional(),
    effort: z.string().max(60).optional(),
  }),
  answer: page(DispatchShape),
});
export const countDispatches = endpoint({
  id: 'dispatches.counts',
  summary: 'How many dispatches there are of each kind, by category and by effort',
  method: 'GET',
  path: '/businesses/:businessId/dispatches/counts',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({
    shows: z.record(z.string(), z.number()),
    categories: z.array(z.object({ value: z.string(), n: z.number() })),
    efforts: z.array(z.object({ value: z.string(), n: z.number() })),
  }),
});
export const calendarOfDispatches = endpoint({
  id: 'dispatches.calendar',
  summary: 'What goes out and went out, from one day to another',
  method: 'GET',
  path: '/businesses/:businessId/dispatches/calendar',
  access: 'viewer',
  params: BusinessPath,
  query: z.object({ from: DayShape, to: DayShape }),
  answer: z.object({
    items: z.array(
      z.object({
        id: z.string(),
        title: z.string(),
        state: DispatchShape.shape.state,
        at: Moment,
        /** Whom it reaches or reached. */
        people: z.number(),
        held: z.string(),
        category: z.string(),
        effort: z.string(),
      }),
    ),
  }),
});
export const dispatchCalendarFile = endpoint({
  id: 'dispatches.ics',
  summary: 'What goes out, as a calendar file (RFC 5545)',
  method: 'GET',
  path: '/businesses/:businessId/dispatches.ics',
  access: 'viewer',
  params: BusinessPath,
  answer: z.string(),
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
  summary: 'Begin a dispatch; begun twice under one key it is one',
  method: 'POST',
  path: '/businesses/:businessId/dispatches',
  access: 'coordinator',
  costs: true,
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
export const scheduleDispatch = endpoint({
  id: 'dispatches.schedule',
  summary: 'Have it leave at a date and time; until it begins it can be changed or called off',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/:id/schedule',
  access: 'coordinator',
  costs: true,
  versioned: true,
  params: ObjectPath,
  body: WhenShape.extend({
    /** What the confirmation named: more than that asks again when its time comes. */
    reach: z.number().int().min(0),
    cost: Amount,
  }),
  answer: DispatchShape,
});
export const callOffDispatch = endpoint({
  id: 'dispatches.call-off',
  summary: 'Call a scheduled dispatch off: it is a draft again',
  method: 'DELETE',
  path: '/businesses/:businessId/dispatches/:id/schedule',
  access: 'coordinator',
  params: ObjectPath,
  answer: DispatchShape,
});
export const copyDispatch = endpoint({
  id: 'dispatches.copy',
  summary: 'A draft with the same text and audience, as a follow-up',
  method: 'POST',
  path: '/businesses/:businessId/dispatches/:id/copies',
  access: 'coordinator',
  params: ObjectPath,
  answer: DispatchShape,
});
export const archiveDispatch = endpoint({
  id: 'dispatches.archive',
  summary: 'Put a finished dispatch into the archive, or take it out',
  method: 'PUT',
  path: '/businesses/:businessId/dispatches/:id/archive',
  access: 'coordinator',
  params: ObjectPath,
  body: z.object({ archived: z.boolean() }),
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
/** What can become of the texts of a dispatch, in groups that people speak of, by the states that belong to each. */
export const TEXT_OUTCOMES = [
  { key: 'delivered', label: 'delivered', states: ['delivered'] },
  { key: 'moving', label: 'on its way', states: ['judging', 'waiting', 'leaving', 'unsure', 'sent'] },
  { key: 'failed', label: 'failed', states: ['failed'] },
  { key: 'held', label: 'held', states: ['held'] },
  { key: 'stopped', label: 'stopped', states: ['stopped'] },
  { key: 'cancelled', label: 'let go', states: ['cancelled'] },
] as const;
export type TextOutcome = (typeof TEXT_OUTCOMES)[number];
export const listMessagesFile = endpoint({
  id: 'dispatches.messages-file',
  summary: 'The recipients of a dispatch and what became of their texts, as CSV',
  method: 'GET',
  path: '/businesses/:businessId/dispatches/:id/recipients.csv',
  access: 'viewer',
  params: ObjectPath,
  /** `state`: several joined by commas; all where none is named. */
  query: z.object({ state: z.string().max(200).optional() }),
  answer: z.string(),
});
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
