import { CONTACT_COUNTS, CONTACT_KINDS, EXPIRY_LIMITS } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, Moment, page, PageQuery } from '../endpoint.js';

const { months, askDays } = EXPIRY_LIMITS;
const whole = (of: string, { least, most }: { least: number; most: number }) =>
  z
    .number(`A whole number of ${of}.`)
    .int(`A whole number of ${of}.`)
    .min(least, `${least} ${of} at least.`)
    .max(most, `${most} ${of} at most.`);

/** When consent ends that nobody stood by, and how its people are asked again in time. */
export const ExpiryPolicyShape = z.object({
  /** Consent ends by itself at all. */
  on: z.boolean(),
  /** After so many calendar months without contact. */
  months: whole('months', months),
  counts: z.enum(CONTACT_COUNTS),
  /** The kinds of text it is about. */
  purposes: z.array(z.enum(['informational', 'promotional'])).min(1, 'Choose at least one kind of text.'),
  /** They are asked so many days before. */
  askDays: whole('days', askDays),
  /** The invitation whose letter asks them; empty where none does. */
  invitationId: z.string().max(80),
});
export type ExpiryPolicyView = z.infer<typeof ExpiryPolicyShape>;

const Counted = z.object({
  /** Whose consent ends within the days for asking, and how many of them were asked, or cannot be by e-mail. */
  ending: z.number().int(),
  asked: z.number().int(),
  notAsked: z.number().int(),
});
const OutlookShape = z.object({
  /** Numbers with consent in force of which it speaks. */
  inForce: z.number().int(),
  /** By the month in which it ends, of the business, `2030-04`; those in contact after that are left out. */
  months: z.array(z.object({ month: z.string(), n: z.number().int() })),
});
export const readExpiry = endpoint({
  id: 'expiry.get',
  summary: 'When consent ends that nobody stood by, and how many it is about',
  method: 'GET',
  path: '/businesses/:businessId/consent-expiry',
  access: 'viewer',
  params: BusinessPath,
  answer: ExpiryPolicyShape.extend({
    version: z.number().int(),
    ...Counted.shape,
    /** When it was last gone through; null where it never was. */
    lookedAt: Moment.nullable(),
    /** What was counted then. */
    outlook: OutlookShape.nullable(),
    /** Letters that can ask. */
    letters: z.array(z.object({ id: z.string(), title: z.string() })),
  }),
});
export type ExpiryRead = z.infer<typeof readExpiry.answer>;
export const previewExpiry = endpoint({
  id: 'expiry.preview',
  summary: 'Whose consent a policy would end and when, month by month',
  method: 'POST',
  path: '/businesses/:businessId/consent-expiry/preview',
  access: 'viewer',
  params: BusinessPath,
  body: ExpiryPolicyShape,
  answer: OutlookShape.extend({
    /** Who would be asked at once. */
    ending: z.number().int(),
  }),
});
export type ExpiryPreview = z.infer<typeof previewExpiry.answer>;
export const saveExpiry = endpoint({
  id: 'expiry.save',
  summary: 'Change when consent ends that nobody stood by; it is gone through at once and once a day',
  method: 'PUT',
  path: '/businesses/:businessId/consent-expiry',
  access: 'administrator',
  versioned: true,
  params: BusinessPath,
  body: ExpiryPolicyShape,
  answer: readExpiry.answer,
});

export const ExpiringShape = z.object({
  contactId: z.string(),
  name: z.string(),
  e164: z.string(),
  lastAt: Moment,
  lastHow: z.enum(CONTACT_KINDS),
  endsAt: Moment,
  askedAt: Moment.nullable(),
  /** Why they were not asked; empty where they were, or are with the next turn. */
  why: z.string(),
});
export type Expiring = z.infer<typeof ExpiringShape>;
export const listExpiring = endpoint({
  id: 'expiry.people',
  summary: 'Whose consent ends next, unless they are in contact',
  method: 'GET',
  path: '/businesses/:businessId/consent-expiry/people',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery.extend({ asked: z.enum(['yes', 'no']).optional() }),
  answer: page(ExpiringShape),
});
export const expiringFile = endpoint({
  id: 'expiry.people-file',
  summary: 'Whose consent ends next, as CSV',
  method: 'GET',
  path: '/businesses/:businessId/consent-expiry/people.csv',
  access: 'viewer',
  params: BusinessPath,
  query: z.object({ asked: z.enum(['yes', 'no']).optional() }),
  answer: z.string(),
});
