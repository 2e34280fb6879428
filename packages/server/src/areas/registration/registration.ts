import type { CampaignBodyValue, Dossier } from '@long-gate/contracts';
import type { LegalForm } from '@long-gate/core';
import type { Reader } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import type { Businesses, StandingFees } from '../settings/index.js';
import { Brands } from './brands.js';
import { Campaigns, type NumbersOf } from './campaigns.js';
import { brandOf, campaignById, campaignsOf } from './registration-store.js';

/** A campaign as whoever sends under it needs it. */
export interface StandingCampaign {
  id: string;
  name: string;
  state: string;
  attempt: number;
  body: CampaignBodyValue;
}
/** How a business stands with the registrar. */
export interface Standing {
  brand: { state: string; form: LegalForm; score: number | null } | null;
  /** By id. */
  campaigns: ReadonlyMap<string, StandingCampaign>;
}

/** The dossier: brand and campaigns, what would be declined, and what the registrar answered. */
export class Registration {
  readonly brands: Brands;
  readonly campaigns: Campaigns;

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    fees: StandingFees,
  ) {
    this.brands = new Brands(p, businesses);
    this.campaigns = new Campaigns(p, businesses, this.brands, fees);
  }

  /** Whoever has the numbers says which are tied to a campaign. */
  tiedNumbers(numbersOf: NumbersOf): void {
    this.campaigns.numbersOf = numbersOf;
  }

  async dossier(businessId: string): Promise<Dossier> {
    await this.brands.ensure(businessId);
    const r = this.p.db;
    const business = await this.businesses.row(r, businessId);
    const brand = await this.brands.row(r, businessId);
    return {
      nameLine: business.name_line,
      accountState: business.account_state,
      brand: this.brands.show(brand),
      campaigns: await this.campaigns.all(r, business, brand),
    };
  }

  /** How a business stands with the registrar, for whoever sends under it. */
  async standing(r: Reader, businessId: string): Promise<Standing> {
    const brand = await brandOf(r, businessId);
    return {
      brand: brand && { state: brand.state, form: brand.body.form, score: brand.score },
      campaigns: new Map((await campaignsOf(r, businessId)).map((c) => [c.id, standingOf(c)])),
    };
  }

  /** One campaign of a business as whoever sends under it needs it. */
  async campaignOf(r: Reader, businessId: string, id: string): Promise<StandingCampaign | null> {
    const campaign = await campaignById(r, id);
    return campaign?.businessId === businessId ? standingOf(campaign) : null;
  }
}

function standingOf({ id, name, state, attempt, body }: StandingCampaign): StandingCampaign {
  return { id, name, state, attempt, body };
}
