import { CAUSES } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, Moment, PageQuery } from '../endpoint.js';

const Cause = z.enum(CAUSES as [string, ...string[]]);
export const UnreachedSummary = z.object({
  causes: z.array(
    z.object({
      cause: Cause,
      numbers: z.number().int(),
      /** How many of them had agreed to each kind of text. */
      informational: z.number().int(),
      promotional: z.number().int(),
      carriers: z.array(z.object({ carrier: z.string(), source: z.string(), n: z.number().int() })),
    }),
  ),
  all: z.number().int(),
  /** How what stands in fields about appointments or bookings fares by reachability. */
  outcomes: z.array(
    z.object({
      field: z.string(),
      values: z.array(z.object({ value: z.string(), reached: z.number().int(), unreached: z.number().int() })),
    }),
  ),
});
export type UnreachedSummary = z.infer<typeof UnreachedSummary>;
export const unreachedSummary = endpoint({
  id: 'unreached.summary',
  summary: 'How many numbers texts do not reach, by cause',
  method: 'GET',
  path: '/businesses/:businessId/unreached',
  access: 'viewer',
  params: BusinessPath,
  answer: UnreachedSummary,
});
export const UnreachedShape = z.object({
  id: z.number(),
  contactId: z.string(),
  name: z.string(),
  email: z.string(),
  e164: z.string(),
  lineType: z.string(),
  source: z.string(),
  carrier: z.string(),
  /** In the source's own words. */
  detail: z.string(),
  firstAt: Moment,
  lastAt: Moment,
  times: z.number().int(),
  informational: z.string(),
  promotional: z.string(),
  faultsInReview: z.boolean(),
});
export type Unreached = z.infer<typeof UnreachedShape>;
export const listUnreached = endpoint({
  id: 'unreached.list',
  summary: 'Numbers one cause keeps texts from, the last seen first',
  method: 'GET',
  path: '/businesses/:businessId/unreached/numbers',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery.extend({ cause: Cause }),
  answer: z.object({ items: z.array(UnreachedShape), next: z.string().nullable(), total: z.number().int() }),
});
export const exportUnreached = endpoint({
  id: 'unreached.export',
  summary: 'Numbers texts do not reach, as CSV',
  method: 'GET',
  path: '/businesses/:businessId/unreached.csv',
  access: 'viewer',
  params: BusinessPath,
  answer: z.string(),
});
