import * as z from 'zod';
import { BusinessPath, endpoint, ObjectPath } from '../endpoint.js';
import { ContactFilter } from './contacts.js';

export const deleteContacts = endpoint({
  id: 'contacts.delete',
  summary: 'Delete contacts, as a job; the ledger keeps what they said',
  method: 'POST',
  path: '/businesses/:businessId/contacts/delete',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z
    .object({
      ids: z.array(z.string().max(80)).min(1).max(5000).nullable().default(null),
      filter: ContactFilter.omit({ sort: true }).nullable().default(null),
      /** How many matched when this was asked for; refused where it is another number now. */
      seen: z.number().int().min(1),
    })
    .refine((b) => (b.ids === null) !== (b.filter === null), {
      error: 'Name contacts or a filter, not both.',
      path: ['ids'],
    }),
  answer: z.object({ jobId: z.string(), contacts: z.number().int() }),
});
export const eraseContact = endpoint({
  id: 'contacts.erase',
  summary: 'Erase a person on their request: all but the proof goes',
  method: 'POST',
  path: '/businesses/:businessId/contacts/:id/erase',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ request: z.string().trim().min(5, 'Say who asked for it, when and how.').max(500) }),
  answer: z.object({
    /** What was taken away, in sentences. */
    gone: z.array(z.string()),
    kept: z.array(z.string()),
    digests: z.array(z.string()),
  }),
});
