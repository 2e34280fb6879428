import { registeredUntil, renewableFrom } from '@long-gate/core';
import type { CreationAttributes } from 'sequelize';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound } from '../../platform/problem.js';
import { changed, clearanceChanged, stateOf, type Reasons } from './filings.js';
import type { CampaignModel } from './model.js';
import { campaignById, saveCampaign } from './registration-store.js';

/** Nothing closes it, and no year runs. */
export const NO_HALT = {
  halt: '',
  haltedAt: null,
  haltReasons: [],
  haltAnswer: '',
  haltAnsweredAt: null,
  renewsAt: null,
  renewalAskedAt: null,
} as const satisfies Partial<CreationAttributes<CampaignModel>>;

const AboutCampaign = z.object({ campaignKey: z.string() });

/** Whether what was registered still stands: a campaign may be suspended, and is registered for a year at a time. */
export class CampaignStanding {
  constructor(private readonly p: Platform) {
    p.outbox.carry('registrar.answer', AboutCampaign.extend({ text: z.string() }), {
      deliver: (key, about) => p.gateways.registrar.answerSuspension(key, about),
      refused: (w, _key, { campaignKey }, error) =>
        this.suspended(w, campaignKey, [{ field: '', code: error.code, message: error.message }]),
    });
    p.outbox.carry('registrar.renewal', AboutCampaign, {
      deliver: (key, about) => p.gateways.registrar.renewCampaign(key, about),
      refused: async (w, _key, { campaignKey }) => {
        const campaign = await this.registered(w, campaignKey);
        await campaign?.update({ renewalAskedAt: null });
      },
    });
    p.feed.on('campaign.suspended', (w, e) => this.suspended(w, e.key, e.reasons));
    p.feed.on('campaign.reinstated', (w, e) => this.reinstated(w, e.key));
    p.feed.on('campaign.renewed', (w, e) => this.renewed(w, e.key));
  }

  /** Says what was changed, so that a suspension is lifted. @throws Problem 409 where none stands or an answer is on its way. */
  async answer(actor: Actor, businessId: string, id: string, key: string, text: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const campaign = await this.row(w, businessId, id);
      if (campaign.haltAnswer === text && campaign.haltAnsweredAt !== null) return;
      if (campaign.halt !== 'suspended') throw conflict('The campaign is not suspended.');
      if (campaign.haltAnsweredAt !== null)
        throw conflict('Your answer is with the registrar; it decides within two days.');
      await saveCampaign(campaign, { haltAnswer: text, haltAnsweredAt: Math.round(this.p.clock.now()) });
      await this.p.outbox.put(w, 'registrar.answer', `${id}:answer:${key}`, { campaignKey: keyOf(campaign), text });
      await this.note(w, campaign, actor, 'suspension answered', undefined, { answer: text });
      changed(this.p, w, businessId);
    });
  }

  /**
   * Confirms that what is sent is still what was registered, for another year. Costs nothing.
   * @throws Problem 409 where it is not registered, or its last days have not come.
   */
  async renew(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const campaign = await this.row(w, businessId, id);
      if (campaign.renewalAskedAt !== null) return;
      const { renewsAt } = campaign;
      if (campaign.state !== 'registered' || renewsAt === null)
        throw conflict('Only a registered campaign can be renewed.');
      if (renewableFrom(renewsAt) > this.p.clock.now())
        throw conflict('It can be renewed in the last 30 days of the year it is registered for.');
      const askedAt = Math.round(this.p.clock.now());
      await saveCampaign(campaign, { renewalAskedAt: askedAt });
      // What was refused may be asked for again.
      const wish = `${id}:renewal:${renewsAt}:${askedAt}`;
      await this.p.outbox.put(w, 'registrar.renewal', wish, { campaignKey: keyOf(campaign) });
      await this.note(w, campaign, actor, 'renewal asked for', undefined, undefined);
      changed(this.p, w, businessId);
    });
  }

  private async suspended(w: Writer, key: string, reasons: Reasons): Promise<void> {
    const campaign = await this.registered(w, key);
    if (!campaign) return;
    const before = stateOf(campaign, this.p.clock.now());
    const now = Math.round(this.p.clock.now());
    await saveCampaign(campaign, {
      halt: 'suspended',
      haltedAt: campaign.halt === 'suspended' ? campaign.haltedAt : now,
      haltReasons: reasons,
      haltAnsweredAt: null,
    });
    await this.note(w, campaign, SYSTEM, 'campaign suspended by the registrar', { state: before }, { reasons });
    clearanceChanged(this.p, w, campaign.businessId);
  }

  private async reinstated(w: Writer, key: string): Promise<void> {
    const campaign = await this.registered(w, key);
    if (campaign?.halt !== 'suspended') return;
    await saveCampaign(campaign, { halt: '', haltedAt: null, haltReasons: [], haltAnswer: '', haltAnsweredAt: null });
    await this.note(w, campaign, SYSTEM, 'suspension lifted by the registrar', { state: 'suspended' }, undefined);
    clearanceChanged(this.p, w, campaign.businessId);
  }

  private async renewed(w: Writer, key: string): Promise<void> {
    const campaign = await this.registered(w, key);
    if (!campaign || campaign.renewalAskedAt === null) return;
    const now = this.p.clock.now();
    // From the day the year ended, not from the day of the answer: who is early loses nothing.
    const from = campaign.renewsAt !== null && campaign.renewsAt > now ? campaign.renewsAt : now;
    const before = campaign.renewsAt;
    await saveCampaign(campaign, { renewsAt: Math.round(registeredUntil(from)), renewalAskedAt: null });
    await this.note(w, campaign, SYSTEM, 'campaign renewed', { until: before }, { until: campaign.renewsAt });
    clearanceChanged(this.p, w, campaign.businessId);
  }

  private async row(r: Reader, businessId: string, id: string): Promise<CampaignModel> {
    const campaign = await campaignById(r, id);
    if (campaign?.businessId !== businessId) throw notFound('campaign');
    return campaign;
  }

  /** The campaign of a key, whichever try it names, where it is registered. */
  private async registered(r: Reader, key: string): Promise<CampaignModel | null> {
    const campaign = await campaignById(r, key.split(':')[0] ?? '');
    return campaign?.state === 'registered' ? campaign : null;
  }

  private async note(
    w: Writer,
    { id, businessId }: CampaignModel,
    actor: Actor,
    action: string,
    before: unknown,
    after: unknown,
  ): Promise<void> {
    await record(w, this.p.clock, { businessId, actor, action, objectKind: 'campaign', objectId: id, before, after });
  }
}

const keyOf = ({ id, attempt }: CampaignModel): string => `${id}:${attempt}`;
