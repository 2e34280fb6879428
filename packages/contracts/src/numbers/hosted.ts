import { HOSTED_STATES } from '@long-gate/core';
import * as z from 'zod';
import { Amount, BusinessPath, endpoint, FindingShape, Moment, ObjectPath, ReasonShape } from '../endpoint.js';

const Text = (max: number) => z.string().trim().max(max, `At most ${max} characters.`).default('');

export const HostedFactsShape = z.object({
  holderName: Text(120),
  authorisedName: Text(80),
  street: Text(120),
  city: Text(80),
  state: Text(2),
  postalCode: Text(10),
  label: Text(60),
  campaignId: z.string().nullable().default(null),
});

export const HostedShape = z.object({
  id: z.string(),
  e164: z.string(),
  kind: z.enum(['wireless', 'landline', 'toll-free']),
  voiceCarrier: z.string(),
  state: z.enum(HOSTED_STATES),
  facts: HostedFactsShape,
  letter: z.object({
    signedBy: z.string(),
    signedOn: z.string(),
    linkExpiresAt: Moment.nullable(),
    /** The link that was out has ended: what the letter says was changed after it was made. */
    linkEnded: z.boolean(),
  }),
  calledAt: Moment.nullable(),
  codeConfirmed: z.boolean(),
  findings: z.array(FindingShape),
  reasons: z.array(ReasonShape),
  numberId: z.string().nullable(),
  costNow: Amount,
  costMonthly: Amount,
  submittedAt: Moment.nullable(),
  answeredAt: Moment.nullable(),
  nextStep: z.object({ title: z.string(), why: z.string() }),
  version: z.number(),
});
export type HostedView = z.infer<typeof HostedShape>;

const One = { access: 'administrator', params: ObjectPath, answer: HostedShape } as const;
const at = '/businesses/:businessId/hosted/:id';

export const listHosted = endpoint({
  id: 'hosted.list',
  summary: 'Numbers that keep their voice service: set-ups and what became of them',
  method: 'GET',
  path: '/businesses/:businessId/hosted',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(HostedShape) }),
});
export const beginHosted = endpoint({
  id: 'hosted.begin',
  summary: 'Begin to text-enable a landline or toll-free number',
  method: 'POST',
  path: '/businesses/:businessId/hosted',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z.object({ number: z.string().trim().min(1, 'Write the number.').max(40) }),
  answer: HostedShape,
});
export const saveHosted = endpoint({
  id: 'hosted.save',
  summary: 'Edit holder, address, label and campaign',
  method: 'PUT',
  path: at,
  versioned: true,
  ...One,
  body: HostedFactsShape,
});
export const hostedLink = endpoint({
  id: 'hosted.signing-link',
  summary: 'A link for the account holder to sign the letter',
  method: 'POST',
  path: `${at}/signing-link`,
  access: 'administrator',
  params: ObjectPath,
  answer: z.object({ path: z.string(), expiresAt: Moment }),
});
export const callHosted = endpoint({
  id: 'hosted.call',
  summary: 'Have the line called and a code read out',
  method: 'POST',
  path: `${at}/call`,
  ...One,
  costs: true,
});
export const confirmHosted = endpoint({
  id: 'hosted.code',
  summary: 'Give back the code that was read out',
  method: 'POST',
  path: `${at}/code`,
  ...One,
  body: z.object({ code: z.string().trim().min(1, 'Write the code.').max(20) }),
});
export const submitHosted = endpoint({
  id: 'hosted.submit',
  summary: 'Submit the set-up; the first month is paid',
  method: 'POST',
  path: `${at}/submission`,
  costs: true,
  ...One,
});
export const endHosted = endpoint({
  id: 'hosted.end',
  summary: 'Take texting off, or give the set-up up; voice is never touched',
  method: 'POST',
  path: `${at}/end`,
  ...One,
});
