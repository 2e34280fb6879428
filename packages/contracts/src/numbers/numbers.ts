import { z } from 'zod';
import { Amount, AnswerShape, BusinessPath, endpoint, Moment, ObjectPath } from '../endpoint.js';

export const NumberShape = z.object({
  id: z.string(),
  e164: z.string(),
  label: z.string(),
  description: z.string(),
  kind: z.string(),
  capabilities: z.array(z.string()),
  source: z.string(),
  state: z.enum(['ordered', 'active', 'failed', 'paused', 'released']),
  note: z.string(),
  monthly: Amount,
  campaignId: z.string().nullable(),
  campaignName: z.string().nullable(),
  campaignState: z.string().nullable(),
  tieState: z.enum(['none', 'attaching', 'attached']),
  clearance: z.string(),
  orderedAt: Moment,
  activeAt: Moment.nullable(),
  version: z.number(),
  /** The gate's answer about the number by itself. */
  answers: z.array(AnswerShape),
  deciding: z.object({ result: z.string(), why: z.string(), lift: z.string() }).nullable(),
  nextStep: z.object({
    title: z.string(),
    why: z.string(),
    action: z.enum(['tie', 'wait', 'register', 'account', 'acquire', 'sender', 'none']),
  }),
});
export type NumberView = z.infer<typeof NumberShape>;

export const listNumbers = endpoint({
  id: 'numbers.list',
  summary: 'All numbers of the business',
  method: 'GET',
  path: '/businesses/:businessId/numbers',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(NumberShape) }),
});
export const getNumber = endpoint({
  id: 'numbers.get',
  summary: 'One number',
  method: 'GET',
  path: '/businesses/:businessId/numbers/:id',
  access: 'viewer',
  params: ObjectPath,
  answer: NumberShape,
});

export const OfferShape = z.object({
  e164: z.string(),
  setup: Amount,
  monthly: Amount,
  capabilities: z.array(z.string()),
});
export const searchNumbers = endpoint({
  id: 'numbers.search',
  summary: 'Free local numbers at the exchange',
  method: 'GET',
  path: '/businesses/:businessId/exchange',
  access: 'viewer',
  params: BusinessPath,
  query: z.object({
    areaCode: z
      .string()
      .trim()
      .regex(/^[2-9]\d{2}$/, 'An area code has three digits and begins with 2 to 9.'),
  }),
  answer: z.object({
    areaCode: z.string(),
    place: z.string(),
    offers: z.array(OfferShape),
    neighbours: z.array(z.object({ code: z.string(), state: z.string(), km: z.number(), count: z.number() })),
  }),
});
export const orderNumber = endpoint({
  id: 'numbers.order',
  summary: 'Buy a number',
  method: 'POST',
  path: '/businesses/:businessId/numbers',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z.object({ e164: z.string(), label: z.string().trim().max(60).default('') }),
  answer: NumberShape,
});
export const editNumber = endpoint({
  id: 'numbers.edit',
  summary: 'Label and description',
  method: 'PUT',
  path: '/businesses/:businessId/numbers/:id',
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  body: z.object({ label: z.string().trim().max(60), description: z.string().trim().max(300) }),
  answer: NumberShape,
});
export const tieNumber = endpoint({
  id: 'numbers.tie',
  summary: 'Tie a number to a campaign, or take it out (null)',
  method: 'PUT',
  path: '/businesses/:businessId/numbers/:id/campaign',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ campaignId: z.string().nullable() }),
  answer: NumberShape,
});
