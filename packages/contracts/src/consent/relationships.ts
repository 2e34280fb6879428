import { REFERENCE_LENGTH, RELATIONSHIP_KINDS } from '@long-gate/core';
import * as z from 'zod';
import {
  BusinessPath,
  DayShape,
  Done,
  endpoint,
  Moment,
  ObjectPath,
  page,
  PageOrOne,
  SEARCH_MOST,
} from '../endpoint.js';
import { RefusedLineShape, SUPPRESSION_PART } from './suppression.js';

export const RELATIONSHIP_STANDINGS = ['stands', 'over', 'broken', 'withdrawn'] as const;
const Count = z.number().int();

export const RelationshipShape = z.object({
  id: z.string(),
  e164: z.string(),
  name: z.string(),
  /** Null where no contact has the number. */
  contactId: z.string().nullable(),
  kind: z.enum(RELATIONSHIP_KINDS),
  /** `YYYY-MM-DD`, where the business is. */
  happenedOn: z.string(),
  reference: z.string(),
  /** When it excepts its number no longer. */
  endsAt: Moment,
  /** Over: its time has gone by. Broken: they left since, or the number is somebody else’s. */
  standing: z.enum(RELATIONSHIP_STANDINGS),
  brokenAt: Moment.nullable(),
  /** The file that said it; empty where a person recorded it. */
  file: z.string(),
  recordedBy: z.string(),
  recordedAt: Moment,
  withdrawn: z.object({ at: Moment, by: z.string(), why: z.string() }).nullable(),
});
export type Relationship = z.output<typeof RelationshipShape>;

const Filter = z.object({
  /** Part of a number, or of what it was about. */
  q: z.string().max(SEARCH_MOST).optional(),
  kind: z.enum(RELATIONSHIP_KINDS).optional(),
  standing: z.enum(RELATIONSHIP_STANDINGS).optional(),
});
export const listRelationships = endpoint({
  id: 'relationships.list',
  summary: 'Purchases and inquiries on record, which except their numbers from do-not-call registries for a time',
  method: 'GET',
  path: '/businesses/:businessId/relationships',
  access: 'viewer',
  params: BusinessPath,
  query: PageOrOne.extend(Filter.shape),
  answer: page(RelationshipShape),
});
export const exportRelationships = endpoint({
  id: 'relationships.file',
  summary: 'The same as CSV',
  method: 'GET',
  path: '/businesses/:businessId/relationships.csv',
  access: 'viewer',
  params: BusinessPath,
  query: Filter,
  answer: z.string(),
});

export const RelationshipWishShape = z.object({
  phone: z.string().trim().min(1, 'Write the number.').max(40),
  kind: z.enum(RELATIONSHIP_KINDS, 'Say whether it was a purchase or an inquiry.'),
  happenedOn: DayShape,
  reference: z.string().trim().max(REFERENCE_LENGTH).default(''),
});
export type RelationshipWish = z.output<typeof RelationshipWishShape>;
export const recordRelationship = endpoint({
  id: 'relationships.record',
  summary: 'Record a purchase or an inquiry; the same once more changes nothing',
  method: 'POST',
  path: '/businesses/:businessId/relationships',
  // It changes who may be texted.
  access: 'administrator',
  params: BusinessPath,
  body: RelationshipWishShape,
  answer: RelationshipShape,
});

export const RelationshipPartShape = z.object({
  /** The same for all parts of one file, and for no other. */
  file: z.string().min(8).max(64),
  name: z.string().trim().min(1).max(200),
  /** From 0. */
  part: z.number().int().min(0),
  lines: z.array(z.string().max(400)).min(1).max(SUPPRESSION_PART),
});
export type RelationshipPart = z.output<typeof RelationshipPartShape>;
export const BroughtRelationshipsShape = z.object({
  parts: Count,
  lines: Count,
  taken: Count,
  /** Lines that say what was on record already, or had been withdrawn. */
  known: Count,
  refused: Count,
  refusals: z.array(RefusedLineShape),
});
export type BroughtRelationships = z.output<typeof BroughtRelationshipsShape>;
export const takeRelationships = endpoint({
  id: 'relationships.take',
  summary: 'Hand in the next part of a file of purchases and inquiries; a part that has come already changes nothing',
  method: 'POST',
  path: '/businesses/:businessId/relationships/files',
  access: 'administrator',
  params: BusinessPath,
  body: RelationshipPartShape,
  answer: BroughtRelationshipsShape,
});
export const withdrawRelationship = endpoint({
  id: 'relationships.withdraw',
  summary: 'Take back a purchase or an inquiry that was recorded in error; it stays on record with the reason',
  method: 'POST',
  path: '/businesses/:businessId/relationships/:id/withdraw',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ why: z.string().trim().min(3, 'Say why.').max(200) }),
  answer: Done,
});
