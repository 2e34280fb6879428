import { formatPhone } from '@long-gate/core';
import { record, SYSTEM } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Businesses } from '../settings/index.js';
import { MONTH_MS, type NumberRow } from './number-row.js';
import type { Numbers } from './numbers.js';

/** The monthly fee of each number, taken on its day. */
export class NumberFees {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
  ) {
    p.jobs.handle<{ numberId: string }>('number.fee', async ({ numberId }) => this.monthlyFee(numberId));
  }

  private async monthlyFee(id: string): Promise<{ done: true } | { done: false; at: number }> {
    return this.p.db.write(async (w) => {
      const row = await w.one<NumberRow & { next_fee_at: number }>(
        `SELECT * FROM number WHERE id = $1 AND state IN ('active','paused')`,
        [id],
      );
      if (!row) return { done: true };
      if (this.p.clock.now() < row.next_fee_at) return { done: false, at: row.next_fee_at };
      const balance = (await this.businesses.row(w, row.business_id)).balance;
      if (balance < row.monthly) {
        if (row.state !== 'paused') {
          await w.run(
            `UPDATE number SET state = 'paused', note = 'The monthly fee could not be taken: top up the balance.', version = version + 1 WHERE id = $1`,
            [id],
          );
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
        return { done: false, at: this.p.clock.now() + 3_600_000 };
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
      await w.run(`UPDATE number SET state = 'active', note = '', next_fee_at = $2 WHERE id = $1`, [
        id,
        row.next_fee_at + MONTH_MS,
      ]);
      if (row.state === 'paused') this.numbers.changed(w, row.business_id, id);
      return { done: false, at: row.next_fee_at + MONTH_MS };
    });
  }
}
