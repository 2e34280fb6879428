import { USE_CASES } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, FindingShape, Moment, ObjectPath, ReasonShape } from '../endpoint.js';
import { RegistrationState, StageShape, Statement, text, tryOf } from './states.js';

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
  /** What the privacy page says of sharing numbers, copied from it; empty where it was not. */
  privacyWords: text(20_000).default(''),
  termsUrl: text(300),
  /** “How people agree” as it was drafted from the opt-in pages; empty where it was not. */
  agreementDrafted: text(4000).default(''),
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
  privacyWords: '',
  termsUrl: '',
  agreementDrafted: '',
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
  /** Registered, but closed for now: since when and why, and what was answered. */
  halt: z
    .object({ since: Moment, reasons: z.array(ReasonShape), answer: z.string(), answeredAt: Moment.nullable() })
    .nullable(),
  stages: z.array(StageShape),
  /** Registered until this moment; null where it is not registered. */
  renewsAt: Moment.nullable(),
  renewalAskedAt: Moment.nullable(),
  numbers: z.array(z.object({ id: z.string(), e164: z.string(), label: z.string(), tieState: z.string() })),
  throughput: z.object({ campaignPerSecond: z.number(), brandPerDay: z.number(), numberPerSecond: z.number() }),
  version: z.number(),
});
export type CampaignView = z.infer<typeof CampaignShape>;

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
    /** The uses a mixed one names. */
    subUses: CampaignBody.shape.subUses.default([]),
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

export const CampaignTryShape = tryOf(CampaignBody);
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

export const answerSuspension = endpoint({
  id: 'registration.answerSuspension',
  summary: 'Say what was changed, so that a suspension is lifted',
  method: 'POST',
  path: '/businesses/:businessId/registration/campaigns/:id/answers',
  access: 'administrator',
  costs: true,
  params: ObjectPath,
  body: z.object({ text: Statement }),
  answer: CampaignShape,
});
export const renewCampaign = endpoint({
  id: 'registration.renewCampaign',
  summary: 'Confirm a campaign for another year',
  method: 'POST',
  path: '/businesses/:businessId/registration/campaigns/:id/renewals',
  access: 'administrator',
  costs: true,
  params: ObjectPath,
  answer: CampaignShape,
});

export const SentTextShape = z.object({ text: z.string(), at: Moment, campaignId: z.string().nullable() });
export type SentText = z.infer<typeof SentTextShape>;
export const listSentTexts = endpoint({
  id: 'registration.sent',
  summary: 'The last texts that were sent, to be taken as samples and held against them',
  method: 'GET',
  path: '/businesses/:businessId/registration/sent-texts',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(SentTextShape) }),
});
