import * as z from 'zod';
import { BusinessPath, endpoint } from '../endpoint.js';

export const RateShape = z
  .object({ k: z.number(), n: z.number(), rate: z.number(), low: z.number(), high: z.number() })
  .nullable();
export const NumberWatchShape = z.object({
  numberId: z.string(),
  e164: z.string(),
  label: z.string(),
  sent: z.number(),
  pending: z.number(),
  delivered: RateShape,
  filtered: RateShape,
  failed: RateShape,
  optOuts: RateShape,
  replies: z.number(),
  medianSeconds: z.number().nullable(),
  level: z.enum(['quiet', 'watch', 'stop and look']),
  because: z.string(),
});
export type NumberWatch = z.infer<typeof NumberWatchShape>;
export const BreakdownShape = z.object({ key: z.string(), final: z.number(), count: z.number(), rate: RateShape });
export const getWatch = endpoint({
  id: 'watch.get',
  summary: 'Delivery by number, reason and carrier, with intervals, and by day',
  method: 'GET',
  path: '/businesses/:businessId/watch',
  access: 'viewer',
  params: BusinessPath,
  query: z.object({
    numberId: z.string().max(60).optional(),
    days: z.coerce.number().int().min(1).max(400).default(90),
  }),
  answer: z.object({
    numbers: z.array(NumberWatchShape),
    reasons: z.array(BreakdownShape),
    carriers: z.array(z.object({ carrier: z.string(), delivered: RateShape, filtered: RateShape, failed: RateShape })),
    days: z.array(
      z.object({
        day: z.string(),
        delivered: z.number(),
        filtered: z.number(),
        failed: z.number(),
        optOuts: z.number(),
      }),
    ),
  }),
});

/** What each number carried, day by day: for a small picture beside it. Days are those of the business’s time zone, the last one is today. */
export const getCarried = endpoint({
  id: 'watch.carried',
  summary: 'Texts that left and came in, by number and day',
  method: 'GET',
  path: '/businesses/:businessId/watch/carried',
  access: 'viewer',
  params: BusinessPath,
  query: z.object({ days: z.coerce.number().int().min(1).max(90).default(30) }),
  answer: z.object({
    from: z.string(),
    items: z.array(
      z.object({ numberId: z.string(), sent: z.array(z.number().int()), received: z.array(z.number().int()) }),
    ),
  }),
});
export type Carried = z.infer<typeof getCarried.answer>;
