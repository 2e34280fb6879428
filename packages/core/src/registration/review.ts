import type { Finding } from '../finding/finding.js';
import { reviewBrand, type BrandDraft } from './review-brand.js';
import { reviewCampaign, type CampaignDraft } from './review-campaign.js';

/** A business's registration bundle as the rules read it. */
export interface DossierDraft {
  nameLine: string;
  brand: BrandDraft;
  campaigns: CampaignDraft[];
}

/** Everything reviewers would decline or frown at, found first. Field paths begin with `brand.` or `campaigns.N.`. */
export function reviewRegistration(dossier: DossierDraft): Finding[] {
  const under = (prefix: string, list: Finding[]): Finding[] =>
    list.map((f) => ({ ...f, field: `${prefix}${f.field}` }));
  return [
    ...under('brand.', reviewBrand(dossier.brand)),
    ...dossier.campaigns.flatMap((c, i) =>
      under(`campaigns.${i}.`, reviewCampaign(c, { nameLine: dossier.nameLine, legalName: dossier.brand.legalName })),
    ),
  ];
}
