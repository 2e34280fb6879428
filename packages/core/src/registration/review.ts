import type { Finding } from '../finding/finding.js';
import { reviewBrand, type BrandDraft } from './review-brand.js';
import type { CampaignDraft } from './campaign-draft.js';
import { reviewCampaign } from './review-campaign.js';
import { reviewTollFree, type TollFreeDraft } from './review-toll-free.js';

/** A business's registration bundle as the rules read it. */
export interface DossierDraft {
  nameLine: string;
  brand: BrandDraft;
  campaigns: CampaignDraft[];
  /** What toll-free numbers are verified for. */
  tollFree?: TollFreeDraft[];
}

/** Everything reviewers would decline or frown at, found first. Field paths begin with `brand.`, `campaigns.N.` or `tollFree.N.`. */
export function reviewRegistration(dossier: DossierDraft): Finding[] {
  const under = (prefix: string, list: Finding[]): Finding[] =>
    list.map((f) => ({ ...f, field: `${prefix}${f.field}` }));
  const { form, legalName, website } = dossier.brand;
  const about = { nameLine: dossier.nameLine, legalName, form, website };
  return [
    ...under('brand.', reviewBrand(dossier.brand)),
    ...dossier.campaigns.flatMap((c, i) =>
      under(`campaigns.${i}.`, reviewCampaign(c, { ...about, others: dossier.campaigns.slice(0, i) })),
    ),
    ...(dossier.tollFree ?? []).flatMap((v, i) => under(`tollFree.${i}.`, reviewTollFree(v, about))),
  ];
}
