import * as z from 'zod';
import { BusinessPath, endpoint, Moment } from '../endpoint.js';

export const MatterShape = z.object({
  area: z.string(),
  weight: z.enum(['stop', 'hold', 'note']),
  title: z.string(),
  detail: z.string(),
  link: z.string(),
  count: z.number(),
  at: Moment.nullable(),
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
  query: z.object({ q: z.string().min(1).max(80) }),
  answer: z.object({ items: z.array(FoundShape) }),
});
