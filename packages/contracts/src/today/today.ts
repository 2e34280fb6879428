import * as z from 'zod';
import { BusinessPath, endpoint, Moment, SEARCH_MOST } from '../endpoint.js';

export const MatterShape = z.object({
  area: z.string(),
  weight: z.enum(['stop', 'hold', 'note']),
  title: z.string(),
  detail: z.string(),
  link: z.string(),
  /** How many things it speaks of. */
  count: z.number(),
  /** By when something has to be done; what is first is shown first. */
  due: Moment.nullable(),
  /** Since when it stands. */
  since: Moment.nullable(),
  /** Matters of one group are one line that opens out: its words, with `#` for how many. Empty for one that stands alone. */
  group: z.string(),
});
export type Matter = z.infer<typeof MatterShape>;
/** What is open at each area: the number and the shape of the worst. */
export const CourseShape = z.record(
  z.string(),
  z.object({ open: z.number(), worst: z.enum(['stop', 'hold', 'none']) }),
);
export const getToday = endpoint({
  id: 'today.get',
  summary: 'What is open, due or wrong',
  method: 'GET',
  path: '/businesses/:businessId/today',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ matters: z.array(MatterShape), course: CourseShape }),
});

export const FoundShape = z.object({ kind: z.string(), title: z.string(), detail: z.string(), link: z.string() });
export const find = endpoint({
  id: 'find',
  summary: 'Find numbers, ports, contacts, campaigns, dispatches and pages by words or digits',
  method: 'GET',
  path: '/businesses/:businessId/find',
  access: 'viewer',
  params: BusinessPath,
  query: z.object({ q: z.string().min(1).max(SEARCH_MOST) }),
  answer: z.object({ items: z.array(FoundShape) }),
});
