import * as z from 'zod';
import { BusinessPath, Done, endpoint, ObjectPath } from '../endpoint.js';

const Days = z.number().int().min(1, 'At least a day.').max(3650, 'At most ten years.');
/** What a business counts as textable, how long an answer stays good, and what is asked by itself. */
export const TextabilityPolicyShape = z.object({
  voip: z.boolean(),
  tollFree: z.boolean(),
  staleDays: Days,
  staleUnreachableDays: Days,
  /** Each new contact number is looked up by itself. */
  automatic: z.boolean(),
  /** What has gone stale is asked about again, once a day. */
  recheck: z.boolean(),
  /** Whether a number changed hands is asked where both consent and the last answer are older than so many days. */
  reassignedDays: Days,
  reassignedOnSchedule: z.boolean(),
  reassignedBeforeDispatch: z.boolean(),
  /** Another business that pays for lookups and queries; empty where this one pays itself. */
  paidBy: z.string().max(60),
});
const Kept = TextabilityPolicyShape.extend({
  version: z.number().int(),
  /** What the business that pays is called; empty where this one pays itself. */
  payer: z.string(),
  /** Businesses whose lookups and queries this one pays for. */
  paysFor: z.array(z.object({ id: z.string(), name: z.string() })),
});
export type TextabilityPolicyView = z.infer<typeof TextabilityPolicyShape>;
export const getTextability = endpoint({
  id: 'textability.get',
  summary: 'What counts as textable, and what is looked up by itself',
  method: 'GET',
  path: '/businesses/:businessId/textability',
  access: 'viewer',
  params: BusinessPath,
  answer: Kept,
});
export const endPaying = endpoint({
  id: 'textability.end-paying',
  summary: 'Pay no longer for the lookups and queries of another business',
  method: 'POST',
  path: '/businesses/:businessId/textability/paid/:id/end',
  access: 'administrator',
  params: ObjectPath,
  answer: Done,
});
export const previewTextability = endpoint({
  id: 'textability.preview',
  summary: 'How many contact numbers a policy would put on the other side',
  method: 'POST',
  path: '/businesses/:businessId/textability/preview',
  access: 'viewer',
  params: BusinessPath,
  body: TextabilityPolicyShape,
  answer: z.object({
    /** Numbers that become textable, and such that are no longer. */
    opens: z.number().int(),
    bars: z.number().int(),
    /** Numbers whose answer is stale under it, and what asking costs. */
    stale: z.number().int(),
    cost: z.number(),
    /** Numbers that are to be asked about whether they changed hands, and what that costs. */
    unasked: z.number().int(),
    unaskedCost: z.number(),
  }),
});
export const saveTextability = endpoint({
  id: 'textability.save',
  summary: 'Change what counts as textable; numbers follow as a job',
  method: 'PUT',
  path: '/businesses/:businessId/textability',
  access: 'administrator',
  versioned: true,
  params: BusinessPath,
  body: TextabilityPolicyShape,
  answer: Kept,
});
