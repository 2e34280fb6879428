import * as z from 'zod';
import { BusinessPath, endpoint } from '../endpoint.js';

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
    kind: z.enum(['wireless', 'landline', 'toll-free']),
    carrier: z.string(),
    portable: z.boolean(),
    whyNotPortable: z.string(),
    enabledElsewhere: z.string(),
  }),
});
