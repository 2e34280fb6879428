import { REASSIGNED_ANSWERS } from '@long-gate/core';
import * as z from 'zod';
import { LookupEstimate, LookupStarted, WhomShape } from '../contacts/contacts.js';
import { BehindShape } from '../dispatch/preview.js';
import { BusinessPath, DayShape, endpoint, Moment } from '../endpoint.js';

/** Whose numbers are asked about; all whose owners agreed where nothing is said. */
export const ReassignedWhom = WhomShape.extend({
  behind: BehindShape.nullable().default(null),
  /** Also those whose consent or last answer is still fresh. */
  again: z.boolean().default(false),
}).refine((w) => [w.listId, w.filter, w.e164s, w.behind].filter((x) => x !== null).length <= 1, {
  error: 'Name a list, a filter, numbers or a count, and not several of them.',
  path: ['listId'],
});
export type ReassignedWhom = z.output<typeof ReassignedWhom>;

export const estimateReassigned = endpoint({
  id: 'reassigned.estimate',
  summary: 'How many numbers would be asked about, whether they changed hands, and what it costs',
  method: 'POST',
  path: '/businesses/:businessId/reassigned/estimate',
  access: 'viewer',
  params: BusinessPath,
  body: ReassignedWhom,
  answer: LookupEstimate,
});
export const startReassigned = endpoint({
  id: 'reassigned.start',
  summary: 'Ask whether numbers changed hands since their owners agreed, as a job',
  method: 'POST',
  path: '/businesses/:businessId/reassigned',
  access: 'coordinator',
  costs: true,
  params: BusinessPath,
  body: ReassignedWhom,
  answer: LookupStarted,
});

export const ReassignedAnswerShape = z.object({
  id: z.string(),
  /** The day of the last consent that was asked about. */
  day: DayShape,
  answer: z.enum(REASSIGNED_ANSWERS),
  askedAt: Moment,
});
export type ReassignedAnswerView = z.infer<typeof ReassignedAnswerShape>;
export const listReassigned = endpoint({
  id: 'reassigned.answers',
  summary: 'What was answered about one number, the last first',
  method: 'GET',
  path: '/businesses/:businessId/reassigned',
  access: 'viewer',
  params: BusinessPath,
  query: z.object({ e164: z.string().max(20) }),
  answer: z.array(ReassignedAnswerShape),
});
