import { namedIn } from '../../platform/objects.js';
import type { Platform } from '../../platform/platform.js';
import { brandTable, campaignTable } from './model.js';

/** What the trail calls brands and campaigns. */
export function nameRegistration({ objects }: Platform): void {
  objects.name(
    'brand',
    namedIn(brandTable, (brand) => brand.body.legalName),
  );
  objects.name(
    'campaign',
    namedIn(campaignTable, (campaign) => campaign.name),
  );
}
