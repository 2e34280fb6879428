import { OPT_OUT_ORIGINS } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, DayShape, endpoint, Moment, ObjectPath, page, PageOrOne } from '../endpoint.js';
import { RefusedLineShape } from './suppression.js';

const Words = z.object({
  /** Who kept it. */
  origin: z.enum(OPT_OUT_ORIGINS),
  source: z.string().trim().min(3, 'Say where it is from.').max(200),
  /** The day it is of: whoever is on it had opted out by then. */
  datedOn: DayShape,
});
const Count = z.number().int();
export const OptOutListShape = Words.extend({
  id: z.string(),
  name: z.string(),
  size: Count,
  /** SHA-256 of the file as it was handed in. */
  sha256: z.string(),
  lines: Count,
  /** Lines that are no numbers, and the first of them. */
  refused: Count,
  refusals: z.array(RefusedLineShape),
  /** Whose no was recorded so far; of these who agreed after it and stays in; and who was out already. */
  people: Count,
  agreedSince: Count,
  already: Count,
  done: z.boolean(),
  broughtBy: z.string(),
  broughtAt: Moment,
});
export type OptOutList = z.output<typeof OptOutListShape>;

export const listOptOuts = endpoint({
  id: 'opt-outs.list',
  summary: 'Lists of people who had opted out before, as they were brought in, the last first',
  method: 'GET',
  path: '/businesses/:businessId/opt-out-lists',
  access: 'viewer',
  params: BusinessPath,
  query: PageOrOne,
  answer: page(OptOutListShape),
});
export const OptOutListWishShape = Words.extend({
  name: z.string().trim().min(1).max(200),
  base64: z.string().min(1, 'The file is empty.'),
});
export type OptOutListWish = z.output<typeof OptOutListWishShape>;
export const bringOptOuts = endpoint({
  id: 'opt-outs.bring',
  summary:
    'Bring in people who had opted out: text or CSV up to 10 MB. Each is a no for all texts; only they come back',
  method: 'POST',
  path: '/businesses/:businessId/opt-out-lists',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: OptOutListWishShape,
  answer: OptOutListShape,
});
export const readOptOuts = endpoint({
  id: 'opt-outs.document',
  summary: 'The file of a list; each look is audited',
  method: 'GET',
  path: '/businesses/:businessId/opt-out-lists/:id/document',
  access: 'viewer',
  params: ObjectPath,
  answer: z.string(),
});
