import { useCase, type FeeToCome, type RunningFee } from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { UNPAID_HOLD_MS, type Fee, type StandingFees } from '../settings/index.js';
import { NO_HALT } from './campaign-standing.js';
import { noteAnswer, type Answer } from './filings.js';
import type { CampaignModel } from './model.js';
import { campaignById, campaignsOf, saveCampaign } from './registration-store.js';

/** What registered campaigns cost by the month, and what follows where that cannot be paid. */
export class CampaignFees {
  constructor(
    private readonly p: Platform,
    private readonly fees: StandingFees,
  ) {
    fees.of('campaign', {
      due: (w, id) => this.fee(w, id),
      paid: (w, id, until) => this.paid(w, id, until),
      unpaid: (w, id) => this.unpaid(w, id),
      toCome: (r, businessId) => this.feesToCome(r, businessId),
      running: (r, businessId) => this.runningFees(r, businessId),
    });
  }

  /** From its approval on a campaign pays, anew for each: the job of an earlier one ended when it was declined. */
  async begin(w: Writer, { id, businessId, attempt }: CampaignModel): Promise<void> {
    await this.fees.begin(w, { kind: 'campaign', businessId, id, key: `fee:${id}:${attempt}` });
  }

  /** The monthly fees of registered campaigns. */
  private async runningFees(r: Reader, businessId: string): Promise<RunningFee[]> {
    const running = (await campaignsOf(r, businessId)).filter((c) => c.state === 'registered');
    if (running.length === 0) return [];
    return [
      {
        kind: 'campaigns',
        count: running.length,
        monthly: running.reduce((sum, c) => sum + monthlyOf(c), 0),
      },
    ];
  }

  /** The monthly fee of a registered campaign, from its approval on. */
  private async fee(r: Reader, id: string): Promise<Fee | null> {
    const campaign = await campaignById(r, id);
    if (campaign?.state !== 'registered') return null;
    const { businessId, name } = campaign;
    const since = campaign.decidedAt ?? campaign.createdAt;
    const what = `campaign ${name}: monthly fee`;
    return { businessId, amount: monthlyOf(campaign), what, at: campaign.nextFeeAt ?? since, since };
  }

  private async feesToCome(r: Reader, businessId: string): Promise<FeeToCome[]> {
    return (await campaignsOf(r, businessId))
      .filter((c) => c.state === 'registered')
      .map((c) => ({ at: c.nextFeeAt ?? this.p.clock.now(), amount: monthlyOf(c) }));
  }

  private async paid(w: Writer, id: string, until: number): Promise<void> {
    const campaign = await campaignById(w, id);
    // Nothing anybody edits changes with it, so whoever does is not disturbed.
    await campaign?.update({ nextFeeAt: until, unpaidSince: null });
  }

  /** What is not paid for 14 days is taken off the register: its numbers send no more until it is reviewed anew. */
  private async unpaid(w: Writer, id: string): Promise<boolean> {
    const campaign = await campaignById(w, id);
    if (campaign?.state !== 'registered') return false;
    const now = Math.round(this.p.clock.now());
    if (campaign.unpaidSince === null) {
      await campaign.update({ unpaidSince: now });
      return true;
    }
    if (now < campaign.unpaidSince + UNPAID_HOLD_MS) return true;
    const reasons = [
      {
        field: 'name',
        code: 'fee-unpaid',
        message:
          'Its monthly fee was unpaid for 14 days, so it was taken off the register. Top up, and submit it again.',
      },
    ];
    const answer: Answer = { state: 'declined', reasons };
    await saveCampaign(campaign, { ...answer, ...NO_HALT, decidedAt: now, unpaidSince: null, nextFeeAt: null });
    await noteAnswer(this.p, w, 'campaign', campaign, answer, 'registered');
    return false;
  }

  /** Registered campaigns whose fee could not be taken, and when they are lost. */
  async unpaidFees(r: Reader, businessId: string): Promise<{ id: string; name: string; lostAt: number }[]> {
    return (await campaignsOf(r, businessId)).flatMap(({ id, name, state, unpaidSince }) =>
      state === 'registered' && unpaidSince !== null ? [{ id, name, lostAt: unpaidSince + UNPAID_HOLD_MS }] : [],
    );
  }
}

function monthlyOf(campaign: CampaignModel): number {
  return useCase(campaign.body.useCase)?.monthly ?? 0;
}
