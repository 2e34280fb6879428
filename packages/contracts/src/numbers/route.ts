import * as z from 'zod';
import { BusinessPath, endpoint } from '../endpoint.js';

const OwnWayShape = z.object({
  is: z.enum(['in the inventory', 'being ported in', 'being text-enabled']),
  link: z.string(),
});
export type OwnWay = z.infer<typeof OwnWayShape>;

export const testForRoute = endpoint({
  id: 'numbers.route',
  summary: 'What a number is that one has: line, carrier, whether it can be ported, who texts for it',
  method: 'GET',
  path: '/businesses/:businessId/route',
  access: 'viewer',
  params: BusinessPath,
  query: z.object({ number: z.string().trim().min(1, 'Write the number.').max(40) }),
  answer: z.object({
    e164: z.string(),
    /** What it is here already; null where it is nothing of this business. */
    ours: OwnWayShape.nullable(),
    kind: z.enum(['wireless', 'landline', 'toll-free']),
    carrier: z.string(),
    portable: z.boolean(),
    whyNotPortable: z.string(),
    enabledElsewhere: z.string(),
  }),
});
