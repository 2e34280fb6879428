import { RESULTS } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, page, PageQuery } from '../endpoint.js';

const CoveredShape = z.object({
  /** May be texted for this, as far as it is theirs to say. */
  may: z.number().int(),
  /** What keeps the rest, in the order of the gate; each counted where the gate would decide it. */
  kept: z.array(
    z.object({ post: z.number().int(), result: z.enum(RESULTS), reason: z.string(), count: z.number().int() }),
  ),
});
const CoverageShape = z.object({
  /** Null: all contacts of the business. */
  listId: z.string().nullable(),
  name: z.string(),
  kind: z.enum(['all', 'list', 'tag']),
  people: z.number().int(),
  informational: CoveredShape,
  promotional: CoveredShape,
});
export type CoverageRow = z.infer<typeof CoverageShape>;
export const readCoverage = endpoint({
  id: 'consent.coverage',
  summary: 'How many may be texted for what, of all and of each list, and what keeps the rest',
  method: 'GET',
  path: '/businesses/:businessId/coverage',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(CoverageShape) }),
});
export const CoveredPersonShape = z.object({
  contactId: z.string(),
  name: z.string(),
  e164: z.string(),
  email: z.string(),
});
export type CoveredPerson = z.infer<typeof CoveredPersonShape>;
export const listCovered = endpoint({
  id: 'consent.covered',
  summary: 'Who is behind one count of the coverage',
  method: 'GET',
  path: '/businesses/:businessId/coverage/people',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery.extend({
    listId: z.string().max(80).optional(),
    purpose: z.enum(['informational', 'promotional']),
    /** What keeps them, as the gate names it; left out: those who may be texted. */
    reason: z.string().max(60).optional(),
  }),
  answer: page(CoveredPersonShape),
});
