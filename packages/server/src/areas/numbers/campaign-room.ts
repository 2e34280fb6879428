import { useCase } from '@long-gate/core';
import type { Reader } from '../../platform/db.js';
import type { Registration, StandingCampaign } from '../registration/index.js';
import type { Businesses } from '../settings/index.js';
import { countIn, untiedLocals } from './number-store.js';

/** How many further local numbers the registered campaigns of a business take. */
export interface Room {
  /** Null where nothing is registered yet that could have a limit. */
  left: number | null;
  /** No further campaign can make more room. */
  final: boolean;
  words: string;
}

/** A campaign takes so many numbers where no pool is declared. source: rules.md, campaign. */
export const NUMBERS_A_CAMPAIGN = 49;

/** Whether a campaign is registered as a pool, which takes any number of numbers. */
const isPool = (c: StandingCampaign | undefined): boolean => useCase(c?.body.useCase ?? '')?.pool === true;

/** What the registration of a business still takes in numbers. */
export class CampaignRoom {
  constructor(
    private readonly businesses: Businesses,
    private readonly registration: Registration,
  ) {}

  /** How many numbers a campaign takes. */
  async limitOf(r: Reader, businessId: string, campaignId: string): Promise<number> {
    const { brand, campaigns } = await this.registration.standing(r, businessId);
    if (brand?.form === 'sole proprietor') return 1;
    return isPool(campaigns.get(campaignId)) ? Infinity : NUMBERS_A_CAMPAIGN;
  }

  async of(r: Reader, businessId: string): Promise<Room> {
    const { form } = await this.businesses.row(r, businessId);
    const { campaigns } = await this.registration.standing(r, businessId);
    const untied = await untiedLocals(r, businessId);
    const registered = [...campaigns.values()].filter((c) => c.state === 'registered');
    if (registered.some(isPool))
      return { left: null, final: false, words: 'A number pool is registered; it takes any number of numbers.' };
    const tied = await Promise.all(registered.map((c) => countIn(r, c.id)));
    if (form === 'sole proprietor') {
      const used = untied + tied.reduce((a, b) => a + b, 0);
      return {
        left: Math.max(0, 1 - used),
        final: true,
        words: `A sole proprietor has one campaign, and it takes one number${used > 0 ? '; you have it' : ''}.`,
      };
    }
    if (registered.length === 0)
      return {
        left: null,
        final: false,
        words: `A campaign takes ${NUMBERS_A_CAMPAIGN} numbers, where no pool is declared.`,
      };
    const free = tied.reduce((sum, n) => sum + NUMBERS_A_CAMPAIGN - n, 0);
    const left = Math.max(0, free - untied);
    return {
      left,
      final: false,
      words: `The registered campaigns take ${left} more numbers: ${NUMBERS_A_CAMPAIGN} each, without a pool.`,
    };
  }
}
