import * as z from 'zod';
import { Done, endpoint } from '../endpoint.js';

/** The tables of the interface that a person can have their own way. */
export const TABLE_NAMES = [
  'contacts',
  'claimed',
  'claims',
  'countries',
  'coverage',
  'covered',
  'dispatches',
  'evidence',
  'expiring',
  'forms',
  'invitations',
  'invited',
  'unreached',
  'number-requests',
  'duplicates',
  'hosted',
  'keywords',
  'ledger',
  'numbers',
  'offers',
  'opt-out-lists',
  'pages',
  'ports',
  'relationships',
  'preview',
  'results',
  'sender-ids',
  'sources',
  'source-people',
  'suppression',
  'text-links',
] as const;
/** A table of the interface: columns put away or asked for, widths in pixels, and what it is sorted by. */
export const KeptTableShape = z.object({
  away: z.array(z.string().max(40)).max(60),
  asked: z.array(z.string().max(40)).max(60),
  widths: z.record(z.string().max(40), z.number().int().min(20).max(4000)),
  sort: z.object({ by: z.string().max(40), down: z.boolean() }).nullable(),
});
export type KeptTable = z.infer<typeof KeptTableShape>;
export type TableName = (typeof TABLE_NAMES)[number];

export const keepTable = endpoint({
  id: 'session.table',
  summary: 'Keep the columns, widths and order of a table for oneself',
  method: 'PUT',
  path: '/session/tables/:name',
  access: 'signed in',
  params: z.object({ name: z.enum(TABLE_NAMES, 'There is no such table.') }),
  body: KeptTableShape,
  answer: Done,
});
