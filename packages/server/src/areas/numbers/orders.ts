import type { NumberView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { MONTH_MS, type NumberRow } from './number-row.js';
import type { Numbers } from './numbers.js';

/** Numbers bought at the exchange: the order, and what became of it. */
export class Orders {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
  ) {
    p.outbox.carry<{ e164: string }>('number.order', {
      deliver: (key, o) => p.gateways.exchange.order(key, o.e164),
      refused: (w, key, _o, error) => this.orderFailed(w, key, error.message),
    });
    p.feed.on('order.filled', (w, e) => this.orderFilled(w, e.key));
    p.feed.on('order.failed', (w, e) => this.orderFailed(w, e.key, e.reason));
  }

  /** Buys a number: the money is taken and the order written in one transaction; the exchange answers later. */
  async order(actor: Actor, businessId: string, e164: string, label: string, key: string): Promise<NumberView> {
    const offer = (await this.p.gateways.exchange.search(e164.slice(2, 5), 100)).find((o) => o.e164 === e164);
    const id = idFrom('num', businessId, key);
    await this.p.db.write(async (w) => {
      if (await w.one('SELECT id FROM number WHERE id = $1', [id])) return;
      const business = await this.businesses.row(w, businessId);
      if (business.account_state !== 'open')
        throw refused(`The account is ${business.account_state}; numbers can be bought once it is open.`, [
          { field: 'account', message: 'Open the account in Settings.' },
        ]);
      if (!offer) throw conflict(`${formatPhone(e164)} is no longer for sale; somebody else was faster. Search again.`);
      await this.businesses.charge(
        w,
        businessId,
        offer.setup + offer.monthly,
        `number ${formatPhone(e164)}: set-up and first month`,
        'number',
        id,
      );
      await w.run(
        `INSERT INTO number (id, business_id, e164, label, capabilities, state, setup, monthly, ordered_at) VALUES ($1,$2,$3,$4,$5,'ordered',$6,$7,$8)`,
        [
          id,
          businessId,
          e164,
          label,
          JSON.stringify(offer.capabilities),
          offer.setup,
          offer.monthly,
          this.p.clock.now(),
        ],
      );
      await this.p.outbox.put(w, 'number.order', id, { e164 });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'number ordered',
        objectKind: 'number',
        objectId: id,
        after: { e164, label, setup: offer.setup, monthly: offer.monthly },
      });
      this.numbers.changed(w, businessId, id);
    });
    return this.numbers.get(this.p.db, businessId, id);
  }

  private async orderFilled(w: Writer, id: string): Promise<void> {
    const row = await w.one<NumberRow>(`SELECT * FROM number WHERE id = $1 AND state = 'ordered'`, [id]);
    if (!row) return;
    const now = this.p.clock.now();
    await w.run(
      `UPDATE number SET state = 'active', active_at = $2, next_fee_at = $3, version = version + 1 WHERE id = $1`,
      [id, now, now + MONTH_MS],
    );
    await this.p.jobs.add(w, {
      kind: 'number.fee',
      businessId: row.business_id,
      payload: { numberId: id },
      at: now + MONTH_MS,
      key: `fee:${id}`,
    });
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor: SYSTEM,
      action: 'number active',
      objectKind: 'number',
      objectId: id,
      before: { state: 'ordered' },
      after: { state: 'active' },
    });
    this.numbers.changed(w, row.business_id, id);
  }

  private async orderFailed(w: Writer, id: string, reason: string): Promise<void> {
    const row = await w.one<NumberRow>(`SELECT * FROM number WHERE id = $1 AND state = 'ordered'`, [id]);
    if (!row) return;
    await w.run(`UPDATE number SET state = 'failed', note = $2, version = version + 1 WHERE id = $1`, [id, reason]);
    await this.businesses.move(
      w,
      row.business_id,
      row.setup + row.monthly,
      `refund for ${formatPhone(row.e164)}`,
      'number',
      id,
      idFrom('mon', id, 'refund'),
    );
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor: SYSTEM,
      action: 'order failed, refunded',
      objectKind: 'number',
      objectId: id,
      before: { state: 'ordered' },
      after: { state: 'failed', reason },
    });
    this.numbers.changed(w, row.business_id, id);
  }
}
