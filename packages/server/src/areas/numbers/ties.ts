import type { NumberView } from '@long-gate/contracts';
import { isTollFree } from '@long-gate/core';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, refused } from '../../platform/problem.js';
import type { Registration, StandingCampaign } from '../registration/index.js';
import type { CampaignRoom } from './campaign-room.js';
import type { BeforeRelease } from './model.js';
import type { NumberRow } from './number-row.js';
import { anyNumber, countIn, saveNumber } from './number-store.js';
import type { Numbers } from './numbers.js';

/** How a number stands in its campaign. */
type Stood = Omit<z.output<typeof BeforeRelease>, 'state'>;

/** Which campaign a number is in; the networks confirm it. */
export class Ties {
  constructor(
    private readonly p: Platform,
    private readonly numbers: Numbers,
    private readonly registration: Registration,
    private readonly room: CampaignRoom,
  ) {
    p.outbox.carry(
      'number.assign',
      z.object({ e164: z.string(), campaignKey: z.string(), prepared: z.boolean().optional() }),
      {
        deliver: (key, o) => p.gateways.registrar.assignNumber(key, o.e164, o.campaignKey, o.prepared ?? false),
        refused: async (w, key, _o, error) => {
          const id = key.split(':')[0] ?? '';
          await saveNumber(w, id, { campaignId: null, tieState: 'none', note: error.message });
        },
      },
    );
    p.feed.on('assignment.confirmed', (w, e) => this.tied(w, e.key));
  }

  /** Ties an active number to a registered campaign, or takes it out. The networks confirm in about a day. */
  async tie(actor: Actor, businessId: string, id: string, campaignId: string | null): Promise<NumberView> {
    await this.p.db.write(async (w) => {
      const row = await this.numbers.row(w, businessId, id);
      if (row.campaign_id === campaignId) return;
      const before = { campaign: row.campaign?.name ?? null, tieState: row.tie_state };
      if (campaignId === null) {
        if (row.state !== 'active') throw refused('Only an active number can be taken out of its campaign.');
        await saveNumber(w, id, { campaignId: null, tieState: 'none' });
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: 'taken out of its campaign',
          objectKind: 'number',
          objectId: id,
          before,
        });
      } else {
        const campaign = await this.registration.campaignOf(w, businessId, campaignId);
        if (!campaign) throw notFound('campaign');
        const why = await this.whyNot(w, row, campaign);
        if (why) throw refused(why, [{ field: 'campaignId', message: why }]);
        await this.attach(w, row, campaign, false);
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: `tied to ${campaign.name}, networks confirming`,
          objectKind: 'number',
          objectId: id,
          before,
          after: { campaign: campaign.name, tieState: 'attaching' },
        });
      }
      this.numbers.changed(w, businessId, id);
    });
    return this.numbers.get(this.p.db, businessId, id);
  }

  /**
   * Why a number cannot be tied to a campaign; empty where it can.
   * @param more so many others are about to be tied to it as well.
   */
  async whyNot(r: Reader, row: NumberRow, campaign: StandingCampaign, more = 0): Promise<string> {
    if (row.kind === 'short code' || row.kind === 'sender ID')
      return `A ${row.kind} is in no campaign; it was approved with what it is for.`;
    if (row.kind === 'toll-free') return 'A toll-free number is in no campaign; it is verified for what it is for.';
    if (row.state !== 'active') return 'Only an active number can be tied to a campaign.';
    if (row.campaign_id === campaign.id) return `It is in “${campaign.name}” already.`;
    if (campaign.state !== 'registered')
      return `“${campaign.name}” is ${campaign.state}; a number can be tied once the campaign is registered.`;
    return this.whyFull(r, campaign.id, row.business_id, more);
  }

  /** Why a campaign takes no further number; empty where it does. */
  private async whyFull(r: Reader, campaignId: string, businessId: string, more = 0): Promise<string> {
    const limit = await this.room.limitOf(r, businessId, campaignId);
    return (await countIn(r, campaignId)) + more >= limit
      ? `A campaign like this takes at most ${limit} number${limit === 1 ? '' : 's'}.`
      : '';
  }

  private async attach(
    w: Writer,
    row: Pick<NumberRow, 'id' | 'e164' | 'version'>,
    campaign: { id: string; attempt: number },
    prepared: boolean,
  ): Promise<void> {
    await saveNumber(w, row.id, { campaignId: campaign.id, tieState: 'attaching' });
    await this.p.outbox.put(w, 'number.assign', `${row.id}:${campaign.id}:${row.version}`, {
      e164: row.e164,
      campaignKey: `${campaign.id}:${campaign.attempt}`,
      prepared,
    });
  }

  /**
   * Files the registration of a number that has just landed, into the campaign prepared for it.
   * @returns what it still needs, in words; empty where nothing is missing.
   */
  async fileLanded(
    w: Writer,
    row: { id: string; e164: string; businessId: string },
    campaignId: string | null,
  ): Promise<string> {
    if (isTollFree(row.e164)) return 'It has to be verified for what it is for before it sends.';
    if (campaignId === null) return 'It has no campaign yet: tie it to one.';
    const campaign = await this.registration.campaignOf(w, row.businessId, campaignId);
    if (campaign?.state !== 'registered')
      return `“${campaign?.name ?? 'The campaign'}”, prepared for it, is not registered yet: tie it once it is.`;
    const full = await this.whyFull(w, campaignId, row.businessId);
    if (full) return full;
    await this.attach(w, { ...row, version: 1 }, campaign, true);
    return '';
  }

  /**
   * How a number that was given up stands in its campaign once it is taken back: as before, unless others have filled the
   * campaign. What the networks were asked is asked again, since their answer meanwhile was an answer to nothing.
   */
  async again(
    w: Writer,
    row: Pick<NumberRow, 'id' | 'e164' | 'version' | 'business_id'>,
    was: Stood,
  ): Promise<Stood & { note: string }> {
    const campaign =
      was.campaignId === null ? null : await this.registration.campaignOf(w, row.business_id, was.campaignId);
    if (!campaign) return { campaignId: null, tieState: 'none', note: '' };
    const full = await this.whyFull(w, campaign.id, row.business_id);
    if (full) return { campaignId: null, tieState: 'none', note: full };
    if (was.tieState === 'attaching') await this.attach(w, row, campaign, false);
    return { ...was, note: '' };
  }

  private async tied(w: Writer, key: string): Promise<void> {
    const [id = '', campaignId = ''] = key.split(':');
    const row = await anyNumber(w, id);
    if (row?.campaign_id !== campaignId || row.tie_state !== 'attaching') return;
    await saveNumber(w, id, { campaignId, tieState: 'attached' });
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor: SYSTEM,
      action: 'cleared to send',
      objectKind: 'number',
      objectId: id,
      before: { tieState: 'attaching' },
      after: { tieState: 'attached' },
    });
    this.numbers.changed(w, row.business_id, id);
  }
}
