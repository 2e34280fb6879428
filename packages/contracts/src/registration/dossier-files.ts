import { LEGAL_FORMS } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, Moment, ReasonShape } from '../endpoint.js';
import { BrandBody } from './brand.js';
import { CampaignBody } from './campaign.js';
import { RegistrationState } from './states.js';
import { TollFreeBody } from './toll-free.js';

const Filed = z.object({
  state: RegistrationState,
  attempt: z.number().int(),
  submittedAt: Moment.nullable(),
  decidedAt: Moment.nullable(),
  reasons: z.array(ReasonShape),
});
/** A whole dossier in a file. The tax number is never in it, but for its last signs. */
export const DossierFile = z.object({
  format: z.literal('long-gate dossier'),
  version: z.literal(1),
  writtenAt: Moment,
  nameLine: z.string(),
  brand: Filed.extend({ body: BrandBody, taxNumberMasked: z.string(), score: z.number().nullable() }),
  campaigns: z.array(
    Filed.extend({
      name: z.string().trim().min(1).max(60),
      body: CampaignBody,
      numbers: z.array(z.string()),
      tries: z.array(Filed.extend({ body: CampaignBody })),
    }),
  ),
  tollFree: z.array(Filed.extend({ e164: z.string(), body: TollFreeBody })),
});
export type DossierFileValue = z.infer<typeof DossierFile>;

export const exportDossier = endpoint({
  id: 'registration.export',
  summary: 'The whole dossier as JSON, which can be read in again',
  method: 'GET',
  path: '/businesses/:businessId/registration/dossier.json',
  access: 'viewer',
  params: BusinessPath,
  answer: z.string(),
});
export const printDossier = endpoint({
  id: 'registration.print',
  summary: 'The whole dossier as PDF, to be kept or handed on',
  method: 'GET',
  path: '/businesses/:businessId/registration/dossier.pdf',
  access: 'viewer',
  params: BusinessPath,
  answer: z.string(),
});

export const ImportAnswer = z.object({
  /** What becomes of each thing in the file, in its order. */
  items: z.array(z.object({ what: z.string(), taken: z.boolean(), words: z.string() })),
});
export type ImportAnswer = z.infer<typeof ImportAnswer>;
export const importDossier = endpoint({
  id: 'registration.import',
  summary: 'Read a dossier’s JSON in as drafts; without `sure` it is only said what would become of it',
  method: 'POST',
  path: '/businesses/:businessId/registration/imports',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z.object({ text: z.string().max(2_000_000, 'The file is larger than 2 MB.'), sure: z.boolean() }),
  answer: ImportAnswer,
});

export const StartedShape = z.object({
  /** Of the file, the heading being the first. */
  line: z.number().int(),
  legalName: z.string(),
  form: z.union([z.literal(''), z.enum(LEGAL_FORMS)]),
  result: z.enum(['new', 'there', 'wrong']),
  words: z.string(),
});
export type Started = z.infer<typeof StartedShape>;
export const startDossiers = endpoint({
  id: 'registration.start',
  summary: 'Begin the dossiers of many businesses from a CSV; without `sure` it is only said what would become of each',
  method: 'POST',
  path: '/dossiers',
  access: 'administrator',
  costs: true,
  body: z.object({ csv: z.string().max(1_000_000, 'The file is larger than 1 MB.'), sure: z.boolean() }),
  answer: z.object({ items: z.array(StartedShape) }),
});
