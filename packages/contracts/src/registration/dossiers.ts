import { LEGAL_FORMS, RELATIONS, STEPS } from '@long-gate/core';
import * as z from 'zod';
import { endpoint, Moment } from '../endpoint.js';

export const DossierStepShape = z.object({
  step: z.enum(STEPS),
  weight: z.enum(['pass', 'hold', 'stop', 'note', 'none']),
  words: z.string(),
  since: Moment.nullable(),
  waitsOn: z.enum(['', 'you', 'the provider', 'the registrar', 'the networks']),
});
export const DossierRowShape = z.object({
  businessId: z.string(),
  legalName: z.string(),
  nameLine: z.string(),
  form: z.enum(LEGAL_FORMS),
  relation: z.enum(RELATIONS),
  /** Its administrators, by name: who works for it. */
  people: z.array(z.string()),
  steps: z.array(DossierStepShape),
});
export type DossierRow = z.infer<typeof DossierRowShape>;
export const listDossiers = endpoint({
  id: 'registration.dossiers',
  summary: 'All businesses one works for, against the steps of their registration',
  method: 'GET',
  path: '/dossiers',
  access: 'signed in',
  answer: z.object({ items: z.array(DossierRowShape) }),
});
