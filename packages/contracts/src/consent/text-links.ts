import * as z from 'zod';
import { BusinessPath, endpoint, Moment, page, PageQuery } from '../endpoint.js';

/** Where links in texts stand, and which opt-in page's kinds of text are offered behind them. */
export const TextLinkPolicyShape = z.object({
  /** A domain of the business, led to this server; empty where none was named yet. */
  domain: z.string().trim().min(1, 'Write a domain of your own, such as texts.ferries.example.').max(200),
  pageId: z.string().min(1, 'Choose a page.').max(80),
});
export type TextLinkPolicyView = z.infer<typeof TextLinkPolicyShape>;
export const readTextLinks = endpoint({
  id: 'textLinks.get',
  summary: 'Where links in texts stand and lead',
  method: 'GET',
  path: '/businesses/:businessId/text-links',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({
    domain: z.string(),
    pageId: z.string(),
    version: z.number().int(),
    /** Pages that can be offered behind them. */
    pages: z.array(z.object({ id: z.string(), title: z.string(), live: z.boolean() })),
  }),
});
export type TextLinksRead = z.infer<typeof readTextLinks.answer>;
export const saveTextLinks = endpoint({
  id: 'textLinks.save',
  summary: 'Change where links in texts stand and lead; texts that left keep the link they had',
  method: 'PUT',
  path: '/businesses/:businessId/text-links',
  access: 'administrator',
  versioned: true,
  params: BusinessPath,
  body: TextLinkPolicyShape,
  answer: readTextLinks.answer,
});

export const TextLinksOfDispatchShape = z.object({
  /** Empty for texts of no dispatch: answers and tests. */
  dispatchId: z.string(),
  title: z.string(),
  lastAt: Moment,
  sent: z.number().int(),
  opened: z.number().int(),
  /** By what was chosen last. */
  kept: z.number().int(),
  joined: z.number().int(),
  awaited: z.number().int(),
  ended: z.number().int(),
  /** Neither answered nor over: can be taken back. */
  open: z.number().int(),
});
export type TextLinksOfDispatch = z.infer<typeof TextLinksOfDispatchShape>;
export const listTextLinks = endpoint({
  id: 'textLinks.list',
  summary: 'What came of links in texts, by dispatch, the last first',
  method: 'GET',
  path: '/businesses/:businessId/text-links/dispatches',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery,
  answer: page(TextLinksOfDispatchShape),
});
export const withdrawTextLinks = endpoint({
  id: 'textLinks.withdraw',
  summary: 'Take back the links of a dispatch that nobody answered: they lead nowhere from now on',
  method: 'POST',
  path: '/businesses/:businessId/text-links/withdrawals',
  access: 'administrator',
  params: BusinessPath,
  body: z.object({ dispatchId: z.string().max(80) }),
  answer: z.object({ withdrawn: z.number().int() }),
});
