import { INDUSTRIES, LEGAL_FORMS, RELATIONS } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, FindingShape, Moment, ReasonShape } from '../endpoint.js';
import { RegistrationState, StageShape, Statement, text, tryOf } from './states.js';

export const OtherAddressShape = z.object({
  what: text(40),
  street: text(200),
  city: text(100),
  state: text(30),
  postalCode: text(20),
});
export type OtherAddress = z.infer<typeof OtherAddressShape>;
/** Somebody who may speak for the business. */
export const RepresentativeShape = z.object({ name: text(120), title: text(80), phone: text(40), email: text(200) });
export type Representative = z.infer<typeof RepresentativeShape>;
/** What the registrar's identity check found of one field. */
export const FieldResultShape = z.object({
  field: z.string(),
  result: z.enum(['matches', 'differs', 'not checked']),
  note: z.string(),
});
/** One vetting: ordered for its fee, or a score that was objected to. */
export const VettingShape = z.object({
  id: z.string(),
  objection: z.string(),
  orderedAt: Moment,
  decidedAt: Moment.nullable(),
  score: z.number().nullable(),
  failure: z.string(),
});
export type Vetting = z.infer<typeof VettingShape>;

export const BrandBody = z.object({
  form: z.enum(LEGAL_FORMS),
  legalName: text(200),
  street: text(200),
  city: text(100),
  state: text(30),
  postalCode: text(20),
  website: text(300),
  email: text(200),
  mobile: text(40),
  exchange: text(40),
  ticker: text(12),
  /** The name people know it by, where it is another. */
  tradingName: text(200).default(''),
  relation: z.enum(RELATIONS).default('own business'),
  country: text(2).default('US'),
  /** Where it is active, as two-letter states. */
  regions: z.array(text(2)).max(60).default([]),
  industry: z.enum(['', ...INDUSTRIES]).default(''),
  /** Addresses beside the physical one. */
  moreAddresses: z.array(OtherAddressShape).max(5).default([]),
  representatives: z.array(RepresentativeShape).max(2).default([]),
  /** Where the registrar writes to about the state of the filing; the contact e-mail where it is empty. */
  statusEmail: text(200).default(''),
});
/** A brand in which nothing is written yet, but for what is known of every business. */
export const EMPTY_BRAND: Omit<z.infer<typeof BrandBody>, 'form' | 'legalName'> = {
  street: '',
  city: '',
  state: '',
  postalCode: '',
  website: '',
  email: '',
  mobile: '',
  exchange: '',
  ticker: '',
  tradingName: '',
  relation: 'own business',
  country: 'US',
  regions: [],
  industry: '',
  moreAddresses: [],
  representatives: [],
  statusEmail: '',
};
export const BrandShape = z.object({
  id: z.string(),
  body: BrandBody,
  taxNumberMasked: z.string(),
  state: RegistrationState,
  score: z.number().nullable(),
  attempt: z.number(),
  submittedAt: Moment.nullable(),
  decidedAt: Moment.nullable(),
  reasons: z.array(ReasonShape),
  results: z.array(FieldResultShape),
  stages: z.array(StageShape),
  /** The owner of a sole proprietor is asked on the mobile; null where nobody is. */
  confirmation: z.object({ until: Moment, lapsed: z.boolean(), asks: z.number() }).nullable(),
  /** A listed company's e-mail has yet to be confirmed before campaigns; whether a code is on its way. */
  emailMissing: z.boolean(),
  emailCodeMailed: z.boolean(),
  /** Until when a decision can be objected to; null where there is none. */
  appealUntil: Moment.nullable(),
  appeal: z.object({ text: z.string(), at: Moment }).nullable(),
  vettings: z.array(VettingShape),
  findings: z.array(FindingShape),
  version: z.number(),
});
export type BrandView = z.infer<typeof BrandShape>;

export const saveBrand = endpoint({
  id: 'registration.saveBrand',
  summary: 'Save the brand draft',
  method: 'PUT',
  path: '/businesses/:businessId/registration/brand',
  access: 'administrator',
  versioned: true,
  params: BusinessPath,
  /** `taxNumber` is only given when it was typed anew. */
  body: z.object({
    body: BrandBody.extend({
      regions: z
        .array(z.string().regex(/^[A-Z]{2}$/, 'Write each state by its two letters, such as NJ.'))
        .max(60, 'There are no more than sixty states and territories.')
        .default([]),
    }),
    taxNumber: text(20).optional(),
  }),
  answer: BrandShape,
});
export const submitBrand = endpoint({
  id: 'registration.submitBrand',
  summary: 'Submit the brand to the registrar',
  method: 'POST',
  path: '/businesses/:businessId/registration/brand/submissions',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  answer: BrandShape,
});

export const appealBrand = endpoint({
  id: 'registration.appealBrand',
  summary: 'Object to the registrar’s decision on the brand, within 45 days',
  method: 'POST',
  path: '/businesses/:businessId/registration/brand/appeals',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z.object({ text: Statement }),
  answer: BrandShape,
});
export const askConfirmation = endpoint({
  id: 'registration.askConfirmation',
  summary: 'Have the owner of a sole proprietor asked once more on the mobile',
  method: 'POST',
  path: '/businesses/:businessId/registration/brand/confirmations',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z.object({ mobile: text(40) }),
  answer: BrandShape,
});
export const mailBrandCode = endpoint({
  id: 'registration.mailBrandCode',
  summary: 'Mail a code to a listed company’s business e-mail, which confirms it',
  method: 'POST',
  path: '/businesses/:businessId/registration/brand/email-code',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  answer: BrandShape,
});
export const confirmBrandEmail = endpoint({
  id: 'registration.confirmBrandEmail',
  summary: 'Give the code of that mail back',
  method: 'POST',
  path: '/businesses/:businessId/registration/brand/email-confirmation',
  access: 'administrator',
  params: BusinessPath,
  body: z.object({ code: z.string().trim().min(1, 'Write the code.').max(20) }),
  answer: BrandShape,
});
export const orderVetting = endpoint({
  id: 'registration.orderVetting',
  summary: 'Have the brand vetted for a fee, or object to its last score',
  method: 'POST',
  path: '/businesses/:businessId/registration/brand/vettings',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  /** Why the last score is too low; empty for a vetting that is paid. */
  body: z.object({ objection: z.union([z.literal(''), Statement]) }),
  answer: BrandShape,
});

export const BrandTryShape = tryOf(BrandBody);
export type BrandTry = z.infer<typeof BrandTryShape>;
export const listBrandTries = endpoint({
  id: 'registration.brandTries',
  summary: 'Every version of the brand that was submitted, with what was decided of it',
  method: 'GET',
  path: '/businesses/:businessId/registration/brand/tries',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(BrandTryShape) }),
});
