import * as z from 'zod';
import { BusinessPath, DayShape, endpoint, Moment, page, PageQuery } from '../endpoint.js';

export const AuditShape = z.object({
  id: z.string(),
  at: Moment,
  actor: z.string(),
  action: z.string(),
  objectKind: z.string(),
  objectId: z.string(),
  /** What it is called now, or was where it is gone; empty where it has no name. */
  objectName: z.string(),
  before: z.unknown(),
  after: z.unknown(),
  /** How many entries in a row it stands for: saves of one thing by one person, from the first to the last. */
  saves: z.number().int(),
  /** When the first of them was. */
  since: Moment,
});
export type AuditEntry = z.infer<typeof AuditShape>;
/** What the trail is narrowed by. Days are those of the business's zone, both included. */
export const AuditFilter = z.object({
  objectKind: z.string().max(40).optional(),
  objectId: z.string().max(80).optional(),
  /** One thing together with what belongs to its history: a contact's numbers, conversations and intake. */
  whole: z.string().regex(/^yes$/).optional(),
  actor: z.string().max(120).optional(),
  /** Words of what was done. */
  action: z.string().trim().max(80).optional(),
  from: DayShape.optional(),
  to: DayShape.optional(),
});
export type AuditFilter = z.infer<typeof AuditFilter>;
export const listAudit = endpoint({
  id: 'audit.list',
  summary: 'Who did what, when, before and after',
  method: 'GET',
  path: '/businesses/:businessId/audit',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery.extend(AuditFilter.shape),
  answer: page(AuditShape),
});
export const auditFacets = endpoint({
  id: 'audit.facets',
  summary: 'Who is in the audit trail, and of what kinds of things it speaks',
  method: 'GET',
  path: '/businesses/:businessId/audit/facets',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ actors: z.array(z.string()), kinds: z.array(z.string()) }),
});
export const exportAudit = endpoint({
  id: 'audit.export',
  summary: 'The audit trail as CSV, as the filters leave it',
  method: 'GET',
  path: '/businesses/:businessId/audit.csv',
  access: 'viewer',
  params: BusinessPath,
  query: AuditFilter,
  answer: z.string(),
});
