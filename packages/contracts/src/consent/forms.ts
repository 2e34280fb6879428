import * as z from 'zod';
import { WhomShape } from '../contacts/contacts.js';
import { BehindShape } from '../dispatch/preview.js';
import { BusinessPath, DayShape, endpoint, FindingShape, Moment, ObjectPath, page, PageOrOne } from '../endpoint.js';

/**
 * A form is filed for people who are named, on a list, left by a filter, behind a count of a dispatch's gate preview, or
 * whose claim an intake brought and nothing proves yet.
 */
export const FormWhom = WhomShape.extend({
  behind: BehindShape.omit({ dispatch: true }).extend({ dispatchId: z.string() }).nullable().default(null),
  /** The intake. */
  claimedBy: z.string().max(60).nullable().default(null),
}).refine((w) => [w.listId, w.filter, w.e164s, w.behind, w.claimedBy].filter((x) => x !== null).length === 1, {
  error: 'Say whom it is filed for, in one way.',
  path: ['e164s'],
});
export type FormWhom = z.output<typeof FormWhom>;

const FormWords = z.object({
  purposes: z.array(z.enum(['informational', 'promotional'])).min(1, 'Say for which texts they signed.'),
  signedOn: DayShape,
  disclosure: z.string().trim().min(1, 'Write the words they were shown, to the letter.').max(4000),
});
export const FiledFormShape = FormWords.extend({
  id: z.string(),
  name: z.string(),
  size: z.number(),
  /** SHA-256 of the document as it was handed in. */
  sha256: z.string(),
  /** Of how many it is the proof, and how many were left as they are. */
  people: z.number(),
  leftOut: z.number(),
  done: z.boolean(),
  filedBy: z.string(),
  filedAt: Moment,
});
export type FiledForm = z.infer<typeof FiledFormShape>;

export const listForms = endpoint({
  id: 'forms.list',
  summary: 'Forms filed as proof of consent, the last first',
  method: 'GET',
  path: '/businesses/:businessId/forms',
  access: 'viewer',
  params: BusinessPath,
  query: PageOrOne,
  answer: page(FiledFormShape),
});
export const reviewFormFor = endpoint({
  id: 'forms.review',
  summary: 'Of how many a form would be the proof, and what keeps it from being one',
  method: 'POST',
  path: '/businesses/:businessId/forms/review',
  access: 'viewer',
  params: BusinessPath,
  body: z.object({ whom: FormWhom, form: FormWords.partial() }),
  answer: z.object({
    people: z.number(),
    /** They left, dispute it, or have another number now: only they can speak. */
    leftOut: z.number(),
    name: z.string(),
    findings: z.array(FindingShape),
    /** The words of the form that was filed last. */
    lastWords: z.string(),
  }),
});
export const fileForm = endpoint({
  id: 'forms.file',
  summary: 'File a form that people signed: PDF, PNG or JPEG up to 10 MB; filed twice under one key it is filed once',
  method: 'POST',
  path: '/businesses/:businessId/forms',
  // A coordinator cannot change consent.
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: FormWords.extend({
    whom: FormWhom,
    name: z.string().trim().min(1).max(200),
    base64: z.string().min(1, 'The file is empty.'),
  }),
  answer: FiledFormShape,
});
export const readForm = endpoint({
  id: 'forms.document',
  summary: 'The document of a form; each look is audited',
  method: 'GET',
  path: '/businesses/:businessId/forms/:id/document',
  access: 'viewer',
  params: ObjectPath,
  answer: z.string(),
});
