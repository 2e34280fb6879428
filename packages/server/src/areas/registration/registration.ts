import {
  BrandBody,
  CampaignBody,
  TollFreeBody,
  type CampaignBodyValue,
  type Dossier,
  type SentText,
} from '@long-gate/contracts';
import type { LegalForm } from '@long-gate/core';
import type { Reader } from '../../platform/db.js';
import { Documents } from '../../platform/documents.js';
import type { Platform } from '../../platform/platform.js';
import type { Stood } from '../../platform/stood-store.js';
import { fromJson } from '../../platform/table.js';
import type { Businesses, StandingFees } from '../settings/index.js';
import { BrandEmail } from './brand-email.js';
import { Brands } from './brands.js';
import { CampaignFees } from './campaign-fees.js';
import { CampaignStanding } from './campaign-standing.js';
import { Campaigns, type NumbersOf } from './campaigns.js';
import { changed, stateOf, withStage } from './filings.js';
import type { CampaignModel } from './model.js';
import { OwnerConfirmation } from './owner-confirmation.js';
import {
  brandById,
  brandOf,
  campaignById,
  campaignsOf,
  tollFreeById,
  tollFreeOf,
  vettingsOf,
} from './registration-store.js';
import { TollFree, type TollFreeNumbersOf } from './toll-free.js';
import { Vettings } from './vettings.js';

/** A campaign as whoever sends under it needs it. */
export interface StandingCampaign {
  id: string;
  name: string;
  state: string;
  attempt: number;
  body: CampaignBodyValue;
}
/** What was sent last, the last first; given by the dispatch area. */
export type SentTexts = (
  r: Reader,
  businessId: string,
  limit: number,
) => Promise<{ text: string; at: number; numberId: string }[]>;
/** So many are looked at. */
const SENT_SHOWN = 30;

/** How a business stands with the registrar. */
export interface Standing {
  brand: { state: string; form: LegalForm; score: number | null } | null;
  /** By id. */
  campaigns: ReadonlyMap<string, StandingCampaign>;
  /** What toll-free numbers are verified for, by the number's id. */
  tollFree: ReadonlyMap<string, StandingVerification>;
}
/** How the verification of a toll-free number stands. */
export interface StandingVerification {
  state: string;
  useCase: string;
}

const asNumber = (kept: string | null | undefined): number | null =>
  kept === null || kept === undefined ? null : Number(kept);

/** What brands, campaigns and verifications have in common on their way to a decision. */
type Filing = Pick<CampaignModel, 'businessId' | 'state' | 'attempt' | 'stages'> & {
  update(change: Pick<CampaignModel, 'stages'>): Promise<unknown>;
};

/** The dossier: brand and campaigns, what would be declined, and what the registrar answered. */
export class Registration {
  private sent: SentTexts = () => Promise.resolve([]);
  readonly brands: Brands;
  readonly confirmation: OwnerConfirmation;
  readonly brandEmail: BrandEmail;
  readonly vettings: Vettings;
  readonly campaigns: Campaigns;
  readonly campaignFees: CampaignFees;
  readonly campaignStanding: CampaignStanding;
  readonly tollFree: TollFree;

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    fees: StandingFees,
  ) {
    this.brands = new Brands(p, businesses);
    this.confirmation = new OwnerConfirmation(p);
    this.brandEmail = new BrandEmail(p);
    this.vettings = new Vettings(p, businesses);
    this.campaignFees = new CampaignFees(p, fees);
    this.campaigns = new Campaigns(p, businesses, this.brands, this.campaignFees);
    this.campaignStanding = new CampaignStanding(p);
    this.tollFree = new TollFree(p, businesses, this.brands, new Documents(p.vault, p.clock));
    p.feed.on('filing.stage', async (w, { what, key, stage, at }) => {
      const [id = '', attempt = '0'] = key.split(':');
      const find = { brand: brandById, campaign: campaignById, 'toll-free': tollFreeById }[what];
      const filing = (await find(w, id)) as Filing | null;
      if (filing?.state !== 'in review' || filing.attempt !== Number(attempt)) return;
      // Nothing anybody edits changes with it.
      await filing.update({ stages: withStage(filing.stages, stage, at) });
      changed(p, w, filing.businessId);
    });
  }

  /** Whoever has the numbers says which toll-free ones are in service. */
  tollFreeNumbers(numbersOf: TollFreeNumbersOf): void {
    this.tollFree.numbersOf = numbersOf;
  }

  /** Whoever sends says what was sent last. */
  askSent(sent: SentTexts): void {
    this.sent = sent;
  }

  /** What was sent last, as people read it, with the campaign its number is in now. @throws Problem 404 */
  async sentTexts(businessId: string): Promise<SentText[]> {
    const r = this.p.db;
    const campaigns = await campaignsOf(r, businessId);
    const of = new Map<string, string>();
    for (const c of campaigns) for (const n of await this.campaigns.numbersOf(r, c.id)) of.set(n.id, c.id);
    return (await this.sent(r, businessId, SENT_SHOWN)).map(({ text, at, numberId }) => ({
      text,
      at,
      campaignId: of.get(numberId) ?? null,
    }));
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
      brand: this.brands.show(brand, await vettingsOf(r, brand.id)),
      campaigns: await this.campaigns.all(r, business, brand),
      tollFree: await this.tollFree.all(r, businessId),
    };
  }

  /** How a business stands with the registrar, for whoever sends under it. */
  async standing(r: Reader, businessId: string): Promise<Standing> {
    const brand = await brandOf(r, businessId);
    return {
      brand: brand && { state: brand.state, form: brand.body.form, score: brand.score },
      campaigns: new Map((await campaignsOf(r, businessId)).map((c) => [c.id, this.standingOf(c)])),
      tollFree: new Map(
        (await tollFreeOf(r, businessId)).map((v) => [v.numberId, { state: v.state, useCase: v.body.useCase }]),
      ),
    };
  }

  /** The same as it stood at a moment; names are those of today. */
  async standingAt(r: Reader, businessId: string, then: Stood): Promise<Standing> {
    const names = new Map((await campaignsOf(r, businessId)).map((c) => [c.id, c.name]));
    const [brandId] = then.ids('brand');
    const of = (kind: string, id: string, fact: string): string => then.value(kind, id, fact) ?? '';
    const brand =
      brandId === undefined
        ? null
        : {
            state: of('brand', brandId, 'state'),
            form: fromJson(BrandBody, of('brand', brandId, 'body')).form,
            score: asNumber(then.value('brand', brandId, 'score')),
          };
    const campaigns = then.ids('campaign').map((id): [string, StandingCampaign] => [
      id,
      {
        id,
        name: names.get(id) ?? '',
        state: stateOf(
          {
            state: of('campaign', id, 'state') as CampaignModel['state'],
            halt: of('campaign', id, 'halt'),
            renewsAt: asNumber(then.value('campaign', id, 'renews_at')),
          },
          then.at,
        ),
        attempt: 0,
        body: fromJson(CampaignBody, of('campaign', id, 'body')),
      },
    ]);
    const tollFree = then.ids('toll_free_verification').map((id): [string, StandingVerification] => [
      id,
      {
        state: of('toll_free_verification', id, 'state'),
        useCase: fromJson(TollFreeBody, of('toll_free_verification', id, 'body')).useCase,
      },
    ]);
    return { brand, campaigns: new Map(campaigns), tollFree: new Map(tollFree) };
  }

  /** One campaign of a business as whoever sends under it needs it. */
  async campaignOf(r: Reader, businessId: string, id: string): Promise<StandingCampaign | null> {
    const campaign = await campaignById(r, id);
    return campaign?.businessId === businessId ? this.standingOf(campaign) : null;
  }

  private standingOf(c: CampaignModel): StandingCampaign {
    const { id, name, attempt, body } = c;
    return { id, name, state: stateOf(c, this.p.clock.now()), attempt, body };
  }
}
