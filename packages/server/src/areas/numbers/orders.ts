import { formatPhone } from '@long-gate/core';
import { ProgrammeFiling, type Offer } from '@long-gate/gateways';
import type { Programme } from '@long-gate/contracts';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Businesses, StandingFees } from '../settings/index.js';
import { forwarded } from './call-handling.js';
import { addNumber, anyNumber, saveNumber } from './number-store.js';
import type { Numbers } from './numbers.js';

/** Numbers bought at the exchange: each is filled or fails by itself, and what failed is refunded. */
export class Orders {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly fees: StandingFees,
  ) {
    p.outbox.carry(
      'number.order',
      z.object({ e164: z.string(), programme: ProgrammeFiling.nullable().default(null) }),
      {
        deliver: (key, o) => p.gateways.exchange.order(key, o.e164, o.programme),
        refused: (w, key, _o, error) => this.orderFailed(w, key, error.message),
      },
    );
    p.outbox.carry('number.return', z.object({ e164: z.string() }), {
      deliver: (key, o) => p.gateways.exchange.giveBack(key, o.e164),
      refused: async () => undefined,
    });
    p.db.facts.on('number.gone', (w, { numberId, ended }) => this.gone(w, numberId, ended));
    p.feed.on('order.filled', (w, e) => this.orderFilled(w, e.key));
    p.feed.on('order.failed', (w, e) => this.orderFailed(w, e.key, e.reason));
  }

  /** Gives a number back to the exchange: one kept aside, one released for good, or one lost for its fee. */
  async giveBack(w: Writer, key: string, e164: string): Promise<void> {
    await this.p.outbox.put(w, 'number.return', key, { e164 });
  }

  /** What is lost for its fee goes back as what is released does; the line of a hosted one was never the exchange's. */
  private async gone(w: Writer, id: string, ended: string): Promise<void> {
    const row = ended === 'unpaid' ? await anyNumber(w, id) : undefined;
    if (row && row.source !== 'hosted') await this.giveBack(w, `unpaid:${id}:${String(row.released_at)}`, row.e164);
  }

  /** One number of an order: paid, and asked for; the exchange answers later. @throws Problem 422 without the money. */
  async add(
    w: Writer,
    actor: Actor,
    businessId: string,
    orderId: string,
    offer: Offer & { programme?: Programme | null; forwardTo?: string },
  ): Promise<string> {
    const id = idFrom('num', orderId, offer.e164);
    await this.businesses.charge(
      w,
      businessId,
      offer.setup + offer.monthly,
      `number ${formatPhone(offer.e164)}: ${offer.setup > 0 ? 'set-up and ' : ''}first month`,
      'number',
      id,
      idFrom('mon', id, 'order'),
    );
    await addNumber(w, {
      id,
      businessId,
      e164: offer.e164,
      kind: offer.kind,
      capabilities: offer.capabilities,
      state: 'ordered',
      setup: offer.setup,
      monthly: offer.monthly,
      orderId,
      orderedAt: Math.round(this.p.clock.now()),
      orderedBy: actor.id,
      programme: offer.programme ?? null,
      calls: offer.forwardTo ? forwarded(offer.forwardTo) : '',
    });
    const { legal_name: legalName, name_line: nameLine } = await this.businesses.row(w, businessId);
    await this.p.outbox.put(w, 'number.order', id, {
      e164: offer.e164,
      programme: offer.programme ? { ...offer.programme, legalName, nameLine } : null,
    });
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: 'number ordered',
      objectKind: 'number',
      objectId: id,
      after: { e164: offer.e164, kind: offer.kind, setup: offer.setup, monthly: offer.monthly },
    });
    this.numbers.changed(w, businessId, id);
    return id;
  }

  private async orderFilled(w: Writer, id: string): Promise<void> {
    const row = await anyNumber(w, id);
    if (row?.state !== 'ordered') return;
    const now = Math.round(this.p.clock.now());
    const nextFeeAt = await this.fees.next(w, row.business_id, now, now);
    await saveNumber(w, id, { state: 'active', activeAt: now, nextFeeAt });
    await this.fees.begin(w, { kind: 'number', businessId: row.business_id, id, at: nextFeeAt });
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor: SYSTEM,
      action: 'number active',
      objectKind: 'number',
      objectId: id,
      before: { state: 'ordered' },
      after: { state: 'active' },
    });
    w.tell('number.came', { businessId: row.business_id, numberId: id });
    this.numbers.changed(w, row.business_id, id);
  }

  private async orderFailed(w: Writer, id: string, reason: string): Promise<void> {
    const row = await anyNumber(w, id);
    if (row?.state !== 'ordered') return;
    await saveNumber(w, id, { state: 'failed', note: reason });
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
