import {
  CampaignBody,
  EMPTY_CAMPAIGN,
  type CampaignBodyValue,
  type CampaignTry,
  type CampaignView,
} from '@long-gate/contracts';
import {
  DEFAULT_PRICES,
  defaultReplies,
  mayHave,
  registeredUntil,
  reviewCampaign,
  throughputOf,
  useCase,
  whoMay,
  type Finding,
} from '@long-gate/core';
import { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom, newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound, refused } from '../../platform/problem.js';
import type { Businesses, BusinessRow } from '../settings/index.js';
import { BrandEmail } from './brand-email.js';
import type { Brands } from './brands.js';
import type { CampaignFees } from './campaign-fees.js';
import { NO_HALT } from './campaign-standing.js';
import { changed, noteAnswer, requireNoBlock, requireOpen, stateOf, type Answer } from './filings.js';
import type { BrandModel, CampaignModel } from './model.js';
import {
  addCampaign,
  addTry,
  campaignById,
  campaignsOf,
  decideTry,
  findCampaigns,
  saveCampaign,
  triesOf,
} from './registration-store.js';

/** The numbers tied to a campaign; given by the numbers area. */
export type NumbersOf = (r: Reader, campaignId: string) => Promise<CampaignView['numbers']>;

/** The campaigns under a brand: for what texts numbers are registered. */
export class Campaigns {
  /** Which numbers are tied to a campaign; said by whoever has them. */
  numbersOf: NumbersOf = () => Promise.resolve([]);

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly brands: Brands,
    private readonly fees: CampaignFees,
  ) {
    p.outbox.carry(
      'registrar.campaign',
      z.object({
        filing: CampaignBody.extend({ nameLine: z.string(), legalName: z.string(), brandKey: z.string() }),
      }),
      {
        deliver: (key, { filing }) => p.gateways.registrar.submitCampaign(key, filing),
        refused: (w, key, _b, error) =>
          this.decide(w, key, {
            state: 'declined',
            reasons: [{ field: 'description', code: error.code, message: error.message }],
          }),
      },
    );
    p.feed.on('campaign.registered', (w, e) => this.decide(w, e.key, { state: 'registered', reasons: [] }));
    p.feed.on('campaign.declined', (w, e) => this.decide(w, e.key, { state: 'declined', reasons: e.reasons }));
  }

  async find(r: Reader, businessId: string, words: string, limit: number): Promise<CampaignModel[]> {
    return findCampaigns(r, businessId, words, limit);
  }

  async row(r: Reader, businessId: string, id: string): Promise<CampaignModel> {
    const row = await campaignById(r, id);
    if (row?.businessId !== businessId) throw notFound('campaign');
    return row;
  }

  async add(
    actor: Actor,
    businessId: string,
    name: string,
    useCaseCode: string,
    subUses: readonly string[] = [],
  ): Promise<CampaignView> {
    await this.brands.ensure(businessId);
    const id = newId('cmp');
    await this.p.db.write(async (w) => {
      const use = useCase(useCaseCode);
      const { body: brand } = await this.brands.row(w, businessId);
      if (use && !mayHave(use, brand.form))
        throw refused(`${use.label} is only for ${whoMay(use)}.`, [
          { field: 'useCase', message: `Only for ${whoMay(use)}.` },
        ]);
      await addCampaign(w, {
        id,
        businessId,
        name,
        body: { ...(await this.defaults(w, businessId)), useCase: useCaseCode, subUses: [...subUses] },
        createdAt: Math.round(this.p.clock.now()),
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'campaign begun',
        objectKind: 'campaign',
        objectId: id,
        after: { name, useCase: useCaseCode },
      });
      changed(this.p, w, businessId);
    });
    return this.one(businessId, id);
  }

  /** What a campaign begins with: its answers, with the business's name and how it is reached. */
  private async defaults(r: Reader, businessId: string): Promise<Omit<CampaignBodyValue, 'useCase'>> {
    const business = await this.businesses.row(r, businessId);
    const { email, website } = (await this.brands.row(r, businessId)).body;
    return { ...EMPTY_CAMPAIGN, ...defaultReplies(business.name_line, email || business.contact_email || website) };
  }

  async save(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    name: string,
    body: CampaignBodyValue,
  ): Promise<CampaignView> {
    await this.p.db.write(async (w) => {
      const campaign = await this.row(w, businessId, id);
      expectVersion('campaign', campaign, seen);
      const before = { name: campaign.name, ...campaign.body };
      if (campaign.state === 'in review')
        throw conflict('The campaign is in review; it can be edited again after the registrar’s answer.');
      if (campaign.attempt > 0 && before.useCase !== body.useCase)
        throw refused('The use case cannot be changed after the first submission; begin a new campaign.', [
          { field: 'useCase', message: 'Locked.' },
        ]);
      if (campaign.state === 'registered' && JSON.stringify(campaign.body) !== JSON.stringify(body))
        throw refused('A registered campaign is what the networks know. Begin a new campaign for other texts.', [
          { field: 'description', message: 'Registered.' },
        ]);
      await saveCampaign(campaign, { name, body });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'campaign edited',
        objectKind: 'campaign',
        objectId: id,
        before,
        after: { name, ...body },
      });
      changed(this.p, w, businessId);
    });
    return this.one(businessId, id);
  }

  async submit(
    actor: Actor,
    businessId: string,
    id: string,
    key: string,
    seen: number | null = null,
  ): Promise<CampaignView> {
    await this.p.db.write(async (w) => {
      const campaign = await this.row(w, businessId, id);
      const { body, state, name, lastSubmitted } = campaign;
      const entry = idFrom('mon', id, key);
      // The same wish again, also where its answer has come in between.
      if (state === 'in review' || state === 'registered' || (await this.businesses.booked(w, entry))) return;
      expectVersion('campaign', campaign, seen);
      const business = await this.businesses.row(w, businessId);
      requireOpen(business);
      const brand = await this.brands.row(w, businessId);
      if (brand.state !== 'registered')
        throw refused(`The brand is ${brand.state}; a campaign can be submitted once it is registered.`, [
          { field: 'brand', message: 'Register the brand first.' },
        ]);
      if (BrandEmail.isMissing(brand))
        throw refused('The e-mail of a listed company is confirmed before its campaigns.', [
          { field: 'brand', message: 'Confirm the brand’s e-mail first.' },
        ]);
      requireNoBlock(this.findings(body, business, brand, await this.before(w, campaign)), 'The campaign');
      await this.businesses.charge(
        w,
        businessId,
        DEFAULT_PRICES.campaignReview,
        `review of campaign ${name}`,
        'campaign',
        id,
        entry,
      );
      const attempt = campaign.attempt + 1;
      await saveCampaign(campaign, {
        state: 'in review',
        attempt,
        submittedAt: Math.round(this.p.clock.now()),
        decidedAt: null,
        reasons: [],
        stages: [],
        lastSubmitted: body,
      });
      await addTry(w, { campaignId: id, attempt, body, submittedAt: Math.round(this.p.clock.now()) });
      await this.p.outbox.put(w, 'registrar.campaign', `${id}:${attempt}`, {
        filing: {
          ...body,
          nameLine: business.name_line,
          legalName: business.legal_name,
          brandKey: `${brand.id}:${brand.attempt}`,
        },
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: attempt > 1 ? 'campaign resubmitted' : 'campaign submitted',
        objectKind: 'campaign',
        objectId: id,
        before: { state, body: lastSubmitted },
        after: { state: 'in review', body },
      });
      changed(this.p, w, businessId);
    });
    return this.one(businessId, id);
  }

  /** Every version that was submitted, with what was decided of it, the first first. @throws Problem 404 */
  async tries(businessId: string, id: string): Promise<CampaignTry[]> {
    await this.row(this.p.db, businessId, id);
    return (await triesOf(this.p.db, id)).map(({ attempt, body, submittedAt, state, decidedAt, reasons }) => ({
      attempt,
      body,
      submittedAt,
      state,
      decidedAt,
      reasons,
    }));
  }

  async one(businessId: string, id: string): Promise<CampaignView> {
    const r = this.p.db;
    const business = await this.businesses.row(r, businessId);
    const campaign = await this.row(r, businessId, id);
    const brand = await this.brands.row(r, businessId);
    return this.show(r, campaign, business, brand, await this.before(r, campaign));
  }

  async all(r: Reader, business: BusinessRow, brand: BrandModel): Promise<CampaignView[]> {
    const shown: CampaignView[] = [];
    const campaigns = await campaignsOf(r, business.id);
    for (const [i, c] of campaigns.entries()) shown.push(await this.show(r, c, business, brand, campaigns.slice(0, i)));
    return shown;
  }

  private async decide(w: Writer, key: string, answer: Answer): Promise<void> {
    const [id = '', attempt = '0'] = key.split(':');
    const campaign = await campaignById(w, id);
    if (campaign?.state !== 'in review' || campaign.attempt !== Number(attempt)) return;
    const { state, reasons } = answer;
    const now = Math.round(this.p.clock.now());
    await saveCampaign(campaign, {
      state,
      reasons,
      decidedAt: now,
      nextFeeAt: now,
      unpaidSince: null,
      ...NO_HALT,
      renewsAt: state === 'registered' ? Math.round(registeredUntil(now)) : null,
    });
    await decideTry(w, id, campaign.attempt, { state, reasons, decidedAt: now });
    // Anew for each approval: the job of an earlier one ended when the campaign was declined.
    if (state === 'registered') await this.fees.begin(w, campaign);
    await noteAnswer(this.p, w, 'campaign', campaign, answer);
  }

  /** The campaigns of the business that were begun before one. */
  private async before(r: Reader, { id, businessId }: CampaignModel): Promise<CampaignModel[]> {
    const all = await campaignsOf(r, businessId);
    return all.slice(
      0,
      all.findIndex((c) => c.id === id),
    );
  }

  /** @param others those begun before it. */
  private findings(
    body: CampaignBodyValue,
    business: BusinessRow,
    brand: BrandModel,
    others: readonly CampaignModel[],
  ): Finding[] {
    const { legalName, form, website } = brand.body;
    return reviewCampaign(body, {
      nameLine: business.name_line,
      legalName,
      score: brand.score,
      form,
      website,
      others: others.map((c) => c.body),
    });
  }

  private async show(
    r: Reader,
    campaign: CampaignModel,
    business: BusinessRow,
    brand: BrandModel,
    others: readonly CampaignModel[],
  ): Promise<CampaignView> {
    const { id, name, body, attempt, submittedAt, decidedAt, reasons, lastSubmitted, version } = campaign;
    const state = stateOf(campaign, this.p.clock.now());
    const { stages, renewsAt, renewalAskedAt, haltedAt, haltReasons, haltAnswer, haltAnsweredAt } = campaign;
    return {
      id,
      name,
      body,
      state,
      attempt,
      submittedAt,
      decidedAt,
      reasons,
      findings: this.findings(body, business, brand, others),
      lastSubmitted,
      halt:
        state === 'suspended' && haltedAt !== null
          ? { since: haltedAt, reasons: haltReasons, answer: haltAnswer, answeredAt: haltAnsweredAt }
          : null,
      stages,
      renewsAt,
      renewalAskedAt,
      numbers: await this.numbersOf(r, id),
      throughput: throughputOf(brand.body.form, brand.score, body.useCase),
      version,
    };
  }
}
