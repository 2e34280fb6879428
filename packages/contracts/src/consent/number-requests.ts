import * as z from 'zod';
import { WhomShape } from '../contacts/contacts.js';
import { BusinessPath, endpoint, Moment, PageQuery } from '../endpoint.js';
import { LetterSample, LetterShape } from './letters.js';

/** Where people are asked by e-mail for a number that texts reach. */
const RequestBody = LetterShape.extend({
  whom: WhomShape,
  /** The opt-in page whose words they agree to and whose number texts them. */
  pageId: z.string().max(80),
});
const Counts = z.object({
  /** Who is written to. */
  asked: z.number().int(),
  /** Of whom no e-mail is known. */
  noEmail: z.number().int(),
  /** Their address came back, complained, or was unsubscribed. */
  noMore: z.number().int(),
  /** Who were asked in the last 30 days already. */
  already: z.number().int(),
});
export const previewNumberRequest = endpoint({
  id: 'numberRequests.preview',
  summary: 'Who would be asked for a better number, and what they would read',
  method: 'POST',
  path: '/businesses/:businessId/number-requests/preview',
  access: 'coordinator',
  params: BusinessPath,
  body: RequestBody,
  answer: Counts.extend({
    sample: LetterSample,
  }),
});
export const startNumberRequests = endpoint({
  id: 'numberRequests.start',
  summary: 'Ask people by e-mail for a better number, as a job',
  method: 'POST',
  path: '/businesses/:businessId/number-requests',
  access: 'coordinator',
  costs: true,
  params: BusinessPath,
  body: RequestBody.extend({
    /** How many were to be asked when this was confirmed; refused where it is another number now. */
    seen: z.number().int().min(1),
  }),
  answer: z.object({ jobId: z.string(), asked: z.number().int() }),
});
export const NUMBER_REQUEST_STATES = [
  'sent',
  'held back',
  'came back',
  'complained',
  'answered',
  'confirmed',
  'lapsed',
] as const;
export const NumberRequestShape = z.object({
  id: z.string(),
  contactId: z.string(),
  name: z.string(),
  email: z.string(),
  oldE164: z.string(),
  newE164: z.string().nullable(),
  state: z.enum(NUMBER_REQUEST_STATES),
  /** Why the letter did not leave, or came back; empty where it did neither. */
  why: z.string(),
  /** Why the number they gave was not taken; empty where it was, or none was given. */
  refused: z.string(),
  askedBy: z.string(),
  askedAt: Moment,
  answeredAt: Moment.nullable(),
  confirmedAt: Moment.nullable(),
});
export type NumberRequest = z.infer<typeof NumberRequestShape>;
export const listNumberRequests = endpoint({
  id: 'numberRequests.list',
  summary: 'Who was asked for a better number, and what came of it',
  method: 'GET',
  path: '/businesses/:businessId/number-requests',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery,
  answer: z.object({ items: z.array(NumberRequestShape), next: z.string().nullable(), total: z.number().int() }),
});
