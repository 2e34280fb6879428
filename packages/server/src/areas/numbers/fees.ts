import { formatPhone, type RunningFee } from '@long-gate/core';
import { z } from 'zod';
import { record, SYSTEM } from '../../platform/audit.js';
import type { Reader } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Businesses } from '../settings/index.js';
import type { Landing } from './landing.js';
import { MONTH_MS } from './number-row.js';
import { anyNumber, noteFee, runningFees, saveNumber } from './number-store.js';
import type { Numbers } from './numbers.js';

/** A number whose fee could not be taken is held so long before it is lost. source: rules.md, Money. */
export const UNPAID_HOLD_MS = 14 * 86_400_000;
const HOUR_MS = 3_600_000;

/** The monthly fee of each number, taken on its day; what cannot be paid is held, not lost, for 14 days. */
export class NumberFees {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly landing: Landing,
  ) {
    p.jobs.handle('number.fee', z.object({ numberId: z.string() }), async ({ numberId }) => this.monthlyFee(numberId));
  }

  /** The fees that run, by kind of number. */
  async running(r: Reader, businessId: string): Promise<RunningFee[]> {
    return runningFees(r, businessId);
  }

  private async monthlyFee(id: string): Promise<{ done: true } | { done: false; at: number }> {
    return this.p.db.write(async (w) => {
      const row = await anyNumber(w, id);
      if (!row || row.next_fee_at === null || (row.state !== 'active' && row.state !== 'paused')) return { done: true };
      if (this.p.clock.now() < row.next_fee_at) return { done: false, at: row.next_fee_at };
      await this.businesses.topUpByItself(w, row.business_id, row.monthly);
      const balance = (await this.businesses.row(w, row.business_id)).balance;
      const now = this.p.clock.now();
      if (balance < row.monthly) {
        if (row.unpaid_since !== null && now >= row.unpaid_since + UNPAID_HOLD_MS) {
          await this.landing.leave(w, id, 'released: its monthly fee was unpaid for 14 days');
          return { done: true };
        }
        if (row.state !== 'paused') {
          await saveNumber(w, id, {
            state: 'paused',
            unpaidSince: Math.round(now),
            note: `The monthly fee could not be taken. The number is held until ${new Date(now + UNPAID_HOLD_MS).toISOString().slice(0, 10)}, then lost: top up the balance.`,
          });
          await record(w, this.p.clock, {
            businessId: row.business_id,
            actor: SYSTEM,
            action: 'number paused: fee unpaid',
            objectKind: 'number',
            objectId: id,
            before: { state: 'active' },
            after: { state: 'paused' },
          });
          this.numbers.changed(w, row.business_id, id);
        }
        return { done: false, at: now + HOUR_MS };
      }
      await this.businesses.charge(
        w,
        row.business_id,
        row.monthly,
        `number ${formatPhone(row.e164)}: monthly fee`,
        'number',
        id,
        idFrom('mon', id, String(row.next_fee_at)),
      );
      await noteFee(w, id, row.next_fee_at + MONTH_MS);
      if (row.state === 'paused') this.numbers.changed(w, row.business_id, id);
      return { done: false, at: row.next_fee_at + MONTH_MS };
    });
  }
}
