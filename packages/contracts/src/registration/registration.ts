import { LEGAL_FORMS, USE_CASES } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, FindingShape, Moment, ObjectPath, ReasonShape } from '../endpoint.js';

const text = (max: number) => z.string().max(max, `Longer than ${max} characters.`);
export const RegistrationState = z.enum(['draft', 'in review', 'registered', 'declined']);

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
  findings: z.array(FindingShape),
  version: z.number(),
});
export type BrandView = z.infer<typeof BrandShape>;

export const CampaignBody = z.object({
  useCase: z.enum(USE_CASES.map((u) => u.code) as [string, ...string[]]),
  description: text(4000),
  agreement: text(4000),
  samples: z.array(text(2000)).max(6),
  subUses: z.array(text(60)).max(6),
  hasLinks: z.boolean(),
  hasPhones: z.boolean(),
  ageRestricted: z.boolean(),
  lending: z.boolean(),
  optInMessage: text(1000),
  optOutMessage: text(1000),
  helpMessage: text(1000),
  privacyUrl: text(300),
  termsUrl: text(300),
});
export type CampaignBodyValue = z.infer<typeof CampaignBody>;
/** A campaign in which nothing is written yet, but for its use. */
export const EMPTY_CAMPAIGN: Omit<CampaignBodyValue, 'useCase'> = {
  description: '',
  agreement: '',
  samples: ['', ''],
  subUses: [],
  hasLinks: false,
  hasPhones: false,
  ageRestricted: false,
  lending: false,
  optInMessage: '',
  optOutMessage: '',
  helpMessage: '',
  privacyUrl: '',
  termsUrl: '',
};
export const CampaignShape = z.object({
  id: z.string(),
  name: z.string(),
  body: CampaignBody,
  state: RegistrationState,
  attempt: z.number(),
  submittedAt: Moment.nullable(),
  decidedAt: Moment.nullable(),
  reasons: z.array(ReasonShape),
  findings: z.array(FindingShape),
  lastSubmitted: CampaignBody.nullable(),
  numbers: z.array(z.object({ id: z.string(), e164: z.string(), label: z.string(), tieState: z.string() })),
  throughput: z.object({ campaignPerSecond: z.number(), brandPerDay: z.number(), numberPerSecond: z.number() }),
  version: z.number(),
});
export type CampaignView = z.infer<typeof CampaignShape>;

export const DossierShape = z.object({
  nameLine: z.string(),
  accountState: z.string(),
  brand: BrandShape,
  campaigns: z.array(CampaignShape),
});
export type Dossier = z.infer<typeof DossierShape>;

export const getDossier = endpoint({
  id: 'registration.get',
  summary: 'The dossier: brand, campaigns, findings',
  method: 'GET',
  path: '/businesses/:businessId/registration',
  access: 'viewer',
  params: BusinessPath,
  answer: DossierShape,
});
export const saveBrand = endpoint({
  id: 'registration.saveBrand',
  summary: 'Save the brand draft',
  method: 'PUT',
  path: '/businesses/:businessId/registration/brand',
  access: 'administrator',
  versioned: true,
  params: BusinessPath,
  /** `taxNumber` is only given when it was typed anew. */
  body: z.object({ body: BrandBody, taxNumber: text(20).optional() }),
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
export const addCampaign = endpoint({
  id: 'registration.addCampaign',
  summary: 'Begin a campaign',
  method: 'POST',
  path: '/businesses/:businessId/registration/campaigns',
  access: 'administrator',
  params: BusinessPath,
  body: z.object({
    name: z.string().trim().min(1, 'Give the campaign a name.').max(60),
    useCase: CampaignBody.shape.useCase,
  }),
  answer: CampaignShape,
});
export const saveCampaign = endpoint({
  id: 'registration.saveCampaign',
  summary: 'Save a campaign draft',
  method: 'PUT',
  path: '/businesses/:businessId/registration/campaigns/:id',
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  body: z.object({ name: z.string().trim().min(1, 'Give the campaign a name.').max(60), body: CampaignBody }),
  answer: CampaignShape,
});
export const submitCampaign = endpoint({
  id: 'registration.submitCampaign',
  summary: 'Submit a campaign for review',
  method: 'POST',
  path: '/businesses/:businessId/registration/campaigns/:id/submissions',
  access: 'administrator',
  costs: true,
  params: ObjectPath,
  answer: CampaignShape,
});

export const CampaignTryShape = z.object({
  attempt: z.number().int(),
  body: CampaignBody,
  submittedAt: Moment,
  state: z.enum(['in review', 'registered', 'declined']),
  decidedAt: Moment.nullable(),
  reasons: z.array(ReasonShape),
});
export type CampaignTry = z.infer<typeof CampaignTryShape>;
export const listTries = endpoint({
  id: 'registration.tries',
  summary: 'Every version of a campaign that was submitted, with what was decided of it',
  method: 'GET',
  path: '/businesses/:businessId/registration/campaigns/:id/tries',
  access: 'viewer',
  params: ObjectPath,
  answer: z.object({ items: z.array(CampaignTryShape) }),
});
