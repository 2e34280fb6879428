import * as z from 'zod';
import { endpoint, ObjectPath } from '../endpoint.js';

/** How calls to a texting number are met. */
export const CallHandlingShape = z
  .object({
    way: z.enum(['none', 'forward', 'greet']),
    forwardTo: z.string().trim().max(20).default(''),
    /** The spoken words; with an invitation they are the disclosure, to the letter. */
    greeting: z.string().trim().max(600).default(''),
    /** Sent to the caller after the greeting; empty for none. */
    textBack: z.string().trim().max(480).default(''),
    /** Pressing 1 joins this list and agrees to informational texts. */
    invites: z.boolean().default(false),
    list: z.string().trim().max(60).default(''),
  })
  .superRefine((c, ctx) => {
    const wrong = (path: string, message: string): void => ctx.addIssue({ code: 'custom', path: [path], message });
    if (c.way === 'forward' && c.forwardTo === '') wrong('forwardTo', 'Say where calls go.');
    if (c.way === 'greet' && c.greeting.length < 10) wrong('greeting', 'Write what the caller hears.');
    if (c.way === 'greet' && c.invites) {
      if (c.list === '') wrong('list', 'Name the list they join.');
      if (!/\b(?:press|drücken)\b.{0,12}\b(?:1|one)\b/i.test(c.greeting))
        wrong('greeting', 'An invitation has to say “press 1” and what for.');
    }
  });
export type CallHandling = z.infer<typeof CallHandlingShape>;

export const getCallHandling = endpoint({
  id: 'calls.get',
  summary: 'How calls to a number are met',
  method: 'GET',
  path: '/businesses/:businessId/numbers/:id/calls',
  access: 'viewer',
  params: ObjectPath,
  answer: CallHandlingShape,
});
export const setCallHandling = endpoint({
  id: 'calls.set',
  summary: 'Forward calls, or answer with a greeting and a text back',
  method: 'PUT',
  path: '/businesses/:businessId/numbers/:id/calls',
  access: 'administrator',
  params: ObjectPath,
  body: CallHandlingShape,
  answer: CallHandlingShape,
});
