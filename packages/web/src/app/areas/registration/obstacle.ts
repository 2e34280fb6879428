import type { Session } from '@long-gate/contracts';
import { formatAmount } from '@long-gate/core';

type Business = Pick<Session['businesses'][number], 'accountState' | 'balance'>;

/** What keeps a brand or campaign from being submitted now, the first thing first; empty where nothing does. */
export function obstacleTo(o: {
  business: Business | null;
  /** What submitting costs, in millionths of a dollar. */
  cost: number;
  /** How many findings have to be mended. */
  blocking: number;
  /** For a campaign: the state of its brand. */
  brand?: string | undefined;
  /** The e-mail of a listed company has yet to be confirmed. */
  emailMissing?: boolean;
}): string {
  if (o.blocking > 0) return `${o.blocking} to mend`;
  if (o.business?.accountState !== 'open') return 'open the account first';
  if (o.brand !== undefined && o.brand !== 'registered') return 'register the brand first';
  if (o.emailMissing) return 'confirm the brand’s e-mail first';
  const short = o.cost - o.business.balance;
  return short > 0 ? `top up ${formatAmount(short)} first` : '';
}
