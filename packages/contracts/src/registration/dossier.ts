import * as z from 'zod';
import { BusinessPath, endpoint } from '../endpoint.js';
import { BrandShape } from './brand.js';
import { CampaignShape } from './campaign.js';
import { TollFreeShape } from './toll-free.js';

export const DossierShape = z.object({
  nameLine: z.string(),
  accountState: z.string(),
  brand: BrandShape,
  campaigns: z.array(CampaignShape),
  tollFree: z.array(TollFreeShape),
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
