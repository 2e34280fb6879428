import { HANDLED_AS, STANDINGS } from '@long-gate/core';
import * as z from 'zod';
import { AnswerShape, BusinessPath, endpoint, Moment, page, PageQuery, ResultShape } from '../endpoint.js';
import { MessageShape } from '../dispatch/dispatch.js';

export const ThreadShape = z.object({
  e164: z.string(),
  name: z.string(),
  contactId: z.string().nullable(),
  numberId: z.string(),
  lastAt: Moment,
  lastText: z.string(),
  unread: z.number(),
  standing: z.enum(STANDINGS),
  /** Until when what was asked may be answered; null where nothing waits. */
  waitsUntil: Moment.nullable(),
  /** What carried the last word out by itself. */
  handled: z.enum(HANDLED_AS),
});
export type Thread = z.infer<typeof ThreadShape>;
const ThreadPath = z.object({ businessId: z.string(), e164: z.string().max(20) });
export const listThreads = endpoint({
  id: 'inbox.threads',
  summary:
    'Conversations: those that wait for an answer with the least time left first, all others with the newest first',
  method: 'GET',
  path: '/businesses/:businessId/threads',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery.extend({ standing: z.enum(STANDINGS).optional() }),
  answer: page(ThreadShape).extend({ counts: z.record(z.enum(STANDINGS), z.number()) }),
});
export const getThread = endpoint({
  id: 'inbox.thread',
  summary: 'One conversation, and whether it may be answered now',
  method: 'GET',
  path: '/businesses/:businessId/threads/:e164',
  access: 'viewer',
  params: ThreadPath,
  answer: z.object({
    thread: ThreadShape,
    messages: z.array(MessageShape),
    gate: z.object({
      result: ResultShape,
      answers: z.array(AnswerShape),
      why: z.string(),
      lift: z.string(),
      answerUntil: Moment.nullable(),
    }),
    /** The link to their own page as an answer can carry it, its key hidden; empty where none is set up. */
    ownPage: z.string(),
  }),
});
export const markRead = endpoint({
  id: 'inbox.read',
  summary: 'Mark a conversation as read or unread',
  method: 'PUT',
  path: '/businesses/:businessId/threads/:e164/read',
  access: 'coordinator',
  params: ThreadPath,
  body: z.object({ read: z.boolean() }),
  answer: ThreadShape,
});
export const setWaiting = endpoint({
  id: 'inbox.waiting',
  summary: 'Say that a conversation needs no answer, or that it waits for one after all',
  method: 'PUT',
  path: '/businesses/:businessId/threads/:e164/waiting',
  access: 'coordinator',
  params: ThreadPath,
  body: z.object({ waits: z.boolean() }),
  answer: ThreadShape,
});
export const answerThread = endpoint({
  id: 'inbox.answer',
  summary: 'Answer, through the gate',
  method: 'POST',
  path: '/businesses/:businessId/threads/:e164/answers',
  access: 'coordinator',
  costs: true,
  params: ThreadPath,
  body: z.object({ text: z.string().trim().min(1, 'Write an answer.').max(1600) }),
  answer: MessageShape,
});
