import { dayIn, formatPhone } from '@long-gate/core';
import { record, SYSTEM } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { UNPAID_HOLD_MS, type Businesses, type StandingFees } from '../settings/index.js';
import type { Landing } from './landing.js';
import { anyNumber, feesToCome, noteFee, runningFees, saveNumber } from './number-store.js';
import type { Numbers } from './numbers.js';

/** The monthly fee of each number; what cannot be paid is held, not lost, for 14 days. */
export function chargeNumbers(
  p: Platform,
  businesses: Businesses,
  fees: StandingFees,
  numbers: Numbers,
  landing: Landing,
): void {
  fees.of('number', {
    async due(w, id) {
      const row = await anyNumber(w, id);
      if (!row || row.next_fee_at === null || (row.state !== 'active' && row.state !== 'paused')) return null;
      return {
        businessId: row.business_id,
        amount: row.monthly,
        what: `number ${formatPhone(row.e164)}: monthly fee`,
        at: row.next_fee_at,
        since: row.active_at ?? row.ordered_at,
      };
    },
    async paid(w, id, until) {
      const row = await anyNumber(w, id);
      await noteFee(w, id, until);
      if (row?.state === 'paused') numbers.changed(w, row.business_id, id);
    },
    unpaid: (w, id) => holdUnpaid(p, w, businesses, numbers, landing, id),
    running: runningFees,
    toCome: feesToCome,
  });
}

/** Holds a number whose fee could not be taken. @returns false where it was held long enough, and is given up. */
async function holdUnpaid(
  p: Platform,
  w: Writer,
  businesses: Businesses,
  numbers: Numbers,
  landing: Landing,
  id: string,
): Promise<boolean> {
  const row = await anyNumber(w, id);
  if (!row) return false;
  const now = p.clock.now();
  if (row.unpaid_since !== null && now >= row.unpaid_since + UNPAID_HOLD_MS) {
    await landing.leave(w, id, 'unpaid', 'released: its monthly fee was unpaid for 14 days');
    return false;
  }
  if (row.state === 'paused') return true;
  const lastDay = dayIn(now + UNPAID_HOLD_MS, (await businesses.row(w, row.business_id)).time_zone);
  await saveNumber(w, id, {
    state: 'paused',
    unpaidSince: Math.round(now),
    note: `The monthly fee could not be taken. The number is held until ${lastDay}, then lost: top up the balance.`,
  });
  await record(w, p.clock, {
    businessId: row.business_id,
    actor: SYSTEM,
    action: 'number paused: fee unpaid',
    objectKind: 'number',
    objectId: id,
    before: { state: 'active' },
    after: { state: 'paused' },
  });
  numbers.changed(w, row.business_id, id);
  return true;
}
