import { SUPPRESSION_KINDS } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, DayShape, endpoint, Moment, ObjectPath, page, PageQuery, PurposeShape } from '../endpoint.js';

/** Lines of a file that are handed in at once. */
export const SUPPRESSION_PART = 2000;

/** A line of a file that was not taken. */
export const RefusedLineShape = z.object({ line: z.number(), raw: z.string(), why: z.string() });

export const SuppressionListShape = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(SUPPRESSION_KINDS),
  state: z.enum(['reading', 'stands']),
  source: z.string(),
  datedOn: z.string(),
  /** Days since the day it is of. */
  daysOld: z.number(),
  /** A registry of more than 31 days: solicitations are not to be sent by it. */
  stale: z.boolean(),
  numbers: z.number(),
  /** The newer edition that is being read; null where none is. */
  reading: z
    .object({ edition: z.number(), source: z.string(), datedOn: z.string(), parts: z.number(), lines: z.number() })
    .nullable(),
  /** Lines of the last file that were no numbers, and the first of them. */
  refused: z.number(),
  refusals: z.array(RefusedLineShape),
  addedBy: z.string(),
  addedAt: Moment,
  broughtAt: Moment.nullable(),
  version: z.number(),
});
export type SuppressionList = z.output<typeof SuppressionListShape>;

const Edition = z.object({
  source: z.string().trim().min(3, 'Say where it is from.').max(200),
  datedOn: DayShape,
});
export const SuppressionWish = Edition.extend({
  name: z.string().trim().min(3, 'Give the list a name.').max(80),
  kind: z.enum(SUPPRESSION_KINDS),
});

export const listSuppression = endpoint({
  id: 'suppression.list',
  summary: 'Lists of numbers not to be texted',
  method: 'GET',
  path: '/businesses/:businessId/suppression-lists',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(SuppressionListShape) }),
});
export const addSuppression = endpoint({
  id: 'suppression.add',
  summary: 'Begin a list of numbers not to be texted; its numbers follow in parts',
  method: 'POST',
  path: '/businesses/:businessId/suppression-lists',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: SuppressionWish,
  answer: SuppressionListShape,
});
export const renewSuppression = endpoint({
  id: 'suppression.renew',
  summary: 'Begin a newer edition of a list; the one that stands stays until the newer was read to its end',
  method: 'POST',
  path: '/businesses/:businessId/suppression-lists/:id/editions',
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  body: Edition,
  answer: SuppressionListShape,
});
export const takeSuppression = endpoint({
  id: 'suppression.take',
  summary: 'Hand in the next part of a list’s file; a part that has come already changes nothing',
  method: 'POST',
  path: '/businesses/:businessId/suppression-lists/:id/parts',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({
    /** Of the edition that was begun for this file. */
    edition: z.number().int().min(1),
    /** From 0. */
    part: z.number().int().min(0),
    lines: z.array(z.string().max(400)).min(1).max(SUPPRESSION_PART),
  }),
  answer: z.object({ parts: z.number(), lines: z.number(), refused: z.number() }),
});
export const finishSuppression = endpoint({
  id: 'suppression.finish',
  summary: 'All parts have come: the edition stands, and the older one is let go',
  method: 'POST',
  path: '/businesses/:businessId/suppression-lists/:id/finish',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ edition: z.number().int().min(1), parts: z.number().int().min(1) }),
  answer: SuppressionListShape,
});
export const discardSuppression = endpoint({
  id: 'suppression.discard',
  summary: 'Leave the edition that is being read; what stood before stands',
  method: 'POST',
  path: '/businesses/:businessId/suppression-lists/:id/discard',
  access: 'administrator',
  params: ObjectPath,
  answer: z.object({ done: z.literal(true) }),
});
export const dropSuppression = endpoint({
  id: 'suppression.drop',
  summary: 'Take a list away; whom it alone kept off can be texted again',
  method: 'DELETE',
  path: '/businesses/:businessId/suppression-lists/:id',
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  answer: z.object({ done: z.literal(true) }),
});
export const SuppressedShape = z.object({
  e164: z.string(),
  name: z.string(),
  contactId: z.string().nullable(),
  /** The kinds of text that the list keeps from them. */
  kept: z.array(PurposeShape),
  /** Why it keeps nothing off, or not everything; empty where it does. */
  exception: z.string(),
  /** When what excepts them ends; null where nothing does, or its end is not known. */
  exceptionEndsAt: Moment.nullable(),
});
export const listSuppressed = endpoint({
  id: 'suppression.people',
  summary: 'Contacts on a list, with what it keeps from each and why',
  method: 'GET',
  path: '/businesses/:businessId/suppression-lists/:id/people',
  access: 'viewer',
  params: ObjectPath,
  query: PageQuery,
  answer: page(SuppressedShape),
});
export const exportSuppressed = endpoint({
  id: 'suppression.people-file',
  summary: 'Contacts on a list as CSV',
  method: 'GET',
  path: '/businesses/:businessId/suppression-lists/:id/people.csv',
  access: 'viewer',
  params: ObjectPath,
  answer: z.string(),
});
