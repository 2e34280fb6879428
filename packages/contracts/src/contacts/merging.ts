import * as z from 'zod';
import { BusinessPath, endpoint, Moment, ObjectPath, PageQuery } from '../endpoint.js';
import { ContactDetailShape } from './contacts.js';

/** Contacts that share an e-mail. */
export const DuplicateShape = z.object({
  email: z.string(),
  contacts: z.array(z.object({ id: z.string(), name: z.string(), e164: z.string(), createdAt: Moment })),
});
export const listDuplicates = endpoint({
  id: 'contacts.duplicates',
  summary: 'Contacts that have one e-mail between them',
  method: 'GET',
  path: '/businesses/:businessId/contact-duplicates',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery,
  answer: z.object({ items: z.array(DuplicateShape), next: z.string().nullable() }),
});

/** One thing of the merged contact: what each has, and what it will be. */
const MergedFact = z.object({ what: z.string(), kept: z.string(), gone: z.string(), then: z.string() });
export const MergePreviewShape = z.object({
  keptId: z.string(),
  goneId: z.string(),
  keptVersion: z.number().int(),
  goneVersion: z.number().int(),
  facts: z.array(MergedFact),
  numbers: z.array(z.object({ e164: z.string(), preferred: z.boolean(), from: z.enum(['kept', 'gone']) })),
  lists: z.array(z.string()),
  /** What is barred after it that passed before, in sentences. */
  bars: z.array(z.string()),
});
export type MergePreview = z.infer<typeof MergePreviewShape>;
export const previewMerge = endpoint({
  id: 'contacts.previewMerge',
  summary: 'What merging another contact into this one would make of it',
  method: 'GET',
  path: '/businesses/:businessId/contacts/:id/merge',
  access: 'viewer',
  params: ObjectPath,
  query: z.object({ with: z.string().max(80) }),
  answer: MergePreviewShape,
});
export const mergeContacts = endpoint({
  id: 'contacts.merge',
  summary: 'Merge another contact into this one',
  method: 'POST',
  path: '/businesses/:businessId/contacts/:id/merge',
  access: 'coordinator',
  params: ObjectPath,
  /** The versions the preview showed; refused where either changed since. */
  body: z.object({ with: z.string().max(80), keptVersion: z.number().int(), goneVersion: z.number().int() }),
  answer: ContactDetailShape,
});
export const undoMerge = endpoint({
  id: 'contacts.undoMerge',
  summary: 'Take a merge back: both contacts are as they were',
  method: 'POST',
  path: '/businesses/:businessId/contact-merges/:id/undo',
  access: 'coordinator',
  params: ObjectPath,
  answer: z.object({ keptId: z.string(), goneId: z.string() }),
});
