import { USE_CASES } from '@long-gate/core';
import * as z from 'zod';
import { endpoint, FindingShape, Moment, ObjectPath, ReasonShape } from '../endpoint.js';
import { RegistrationState, StageShape, text, tryOf } from './states.js';

/** What a toll-free number is verified for. */
export const TollFreeBody = z.object({
  useCase: z.enum(['', ...USE_CASES.map((u) => u.code)] as [string, ...string[]]),
  /** Texts a month, at most; 0 where it was not said yet. */
  volume: z.number().int().min(0).max(100_000_000),
  description: text(4000),
  agreement: text(4000),
  samples: z.array(text(2000)).max(3),
  /** A page that shows where people agree; empty where a picture does. */
  proofUrl: text(300),
});
export type TollFreeBodyValue = z.infer<typeof TollFreeBody>;
export const EMPTY_TOLL_FREE: TollFreeBodyValue = {
  useCase: '',
  volume: 0,
  description: '',
  agreement: '',
  samples: [''],
  proofUrl: '',
};
export const ProofShape = z.object({ id: z.string(), name: z.string(), size: z.number(), sha256: z.string() });
export const TollFreeShape = z.object({
  numberId: z.string(),
  e164: z.string(),
  label: z.string(),
  body: TollFreeBody,
  state: RegistrationState,
  attempt: z.number(),
  submittedAt: Moment.nullable(),
  decidedAt: Moment.nullable(),
  reasons: z.array(ReasonShape),
  stages: z.array(StageShape),
  findings: z.array(FindingShape),
  lastSubmitted: TollFreeBody.nullable(),
  /** A picture of where people agree. */
  proof: ProofShape.nullable(),
  version: z.number(),
});
export type TollFreeView = z.infer<typeof TollFreeShape>;

const at = '/businesses/:businessId/registration/toll-free/:id';
export const saveTollFree = endpoint({
  id: 'registration.saveTollFree',
  summary: 'Save what a toll-free number is to be verified for; the id is the number’s',
  method: 'PUT',
  path: at,
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  body: TollFreeBody,
  answer: TollFreeShape,
});
export const submitTollFree = endpoint({
  id: 'registration.submitTollFree',
  summary: 'Submit a toll-free number for verification',
  method: 'POST',
  path: `${at}/submissions`,
  access: 'administrator',
  costs: true,
  params: ObjectPath,
  answer: TollFreeShape,
});
export const uploadProof = endpoint({
  id: 'registration.uploadProof',
  summary: 'Hand in a picture of where people agree; it takes the place of the one before',
  method: 'POST',
  path: `${at}/proof`,
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ name: text(200), base64: z.string().min(1, 'The file is empty.') }),
  answer: TollFreeShape,
});
export const readProof = endpoint({
  id: 'registration.proof',
  summary: 'The picture of where people agree; each look is audited',
  method: 'GET',
  path: `${at}/proof`,
  access: 'viewer',
  params: ObjectPath,
  answer: z.string(),
});

export const TollFreeTryShape = tryOf(TollFreeBody);
export type TollFreeTry = z.infer<typeof TollFreeTryShape>;
export const listTollFreeTries = endpoint({
  id: 'registration.tollFreeTries',
  summary: 'Every version of a verification that was submitted, with what was decided of it',
  method: 'GET',
  path: `${at}/tries`,
  access: 'viewer',
  params: ObjectPath,
  answer: z.object({ items: z.array(TollFreeTryShape) }),
});
