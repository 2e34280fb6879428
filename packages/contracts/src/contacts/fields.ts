import * as z from 'zod';
import { BusinessPath, Done, endpoint, ObjectPath } from '../endpoint.js';

export const FIELD_KINDS = ['text', 'number', 'date', 'choice'] as const;
export const FieldShape = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(FIELD_KINDS),
  choices: z.array(z.string()),
  /** Whether it says how appointments or bookings fared: reachability is set against it. */
  outcome: z.boolean(),
});
export type ContactField = z.infer<typeof FieldShape>;
const FieldBody = z.object({
  name: z.string().trim().min(1, 'Give the field a name.').max(60),
  kind: z.enum(FIELD_KINDS),
  choices: z.array(z.string().trim().min(1, 'A choice has a name.').max(60)).max(40).default([]),
  outcome: z.boolean().default(false),
});
export const listFields = endpoint({
  id: 'fields.list',
  summary: 'The fields of its own a business keeps of contacts',
  method: 'GET',
  path: '/businesses/:businessId/contact-fields',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(FieldShape) }),
});
export const addField = endpoint({
  id: 'fields.add',
  summary: 'Add a field',
  method: 'POST',
  path: '/businesses/:businessId/contact-fields',
  access: 'coordinator',
  params: BusinessPath,
  body: FieldBody,
  answer: FieldShape,
});
export const editField = endpoint({
  id: 'fields.edit',
  summary: 'Rename a field, or change its choices; its kind stays',
  method: 'PUT',
  path: '/businesses/:businessId/contact-fields/:id',
  access: 'coordinator',
  params: ObjectPath,
  body: FieldBody.omit({ kind: true }),
  answer: FieldShape,
});
export const dropField = endpoint({
  id: 'fields.drop',
  summary: 'Take a field away; what stands in it goes with it',
  method: 'DELETE',
  path: '/businesses/:businessId/contact-fields/:id',
  access: 'administrator',
  params: ObjectPath,
  answer: Done,
});
