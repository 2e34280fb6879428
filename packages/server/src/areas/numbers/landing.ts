import { DEFAULT_PRICES } from '@long-gate/core';
import { record, SYSTEM } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import type { Ended } from './model.js';
import { addNumber, anyNumber, dropDefaults, saveNumber } from './number-store.js';
import type { Calls } from './call-handling.js';
import type { StandingFees } from '../settings/index.js';
import type { Numbers } from './numbers.js';
import type { Ties } from './ties.js';

export interface Arrival {
  businessId: string;
  e164: string;
  kind: 'local' | 'toll-free';
  source: 'ported' | 'hosted';
  label: string;
  campaignId: string | null;
  /** Where calls are put through; empty for nowhere. */
  forwardTo: string;
  /** What it comes from, such as the port request: the same arrival is one number, however often it is told. */
  from: string;
}

/** Numbers that come into the inventory by themselves, and those that leave it. */
export class Landing {
  constructor(
    private readonly p: Platform,
    private readonly numbers: Numbers,
    private readonly ties: Ties,
    private readonly calls: Calls,
    private readonly fees: StandingFees,
  ) {}

  /** Puts a number into the inventory, active, its first month paid already, and files its registration. */
  async land(w: Writer, a: Arrival): Promise<string> {
    const id = idFrom('num', a.from, a.e164);
    if (await anyNumber(w, id)) return id;
    const now = Math.round(this.p.clock.now());
    const hosted = a.source === 'hosted';
    const nextFeeAt = await this.fees.next(w, a.businessId, now, now);
    await addNumber(w, {
      id,
      businessId: a.businessId,
      e164: a.e164,
      label: a.label,
      kind: a.kind,
      // The voice of a hosted number stays with its carrier.
      capabilities: hosted ? ['send', 'receive'] : ['send', 'receive', 'pictures', 'voice'],
      source: a.source,
      state: 'active',
      monthly: hosted
        ? DEFAULT_PRICES.hostedMonthly
        : a.kind === 'toll-free'
          ? DEFAULT_PRICES.tollFreeMonthly
          : DEFAULT_PRICES.localMonthly,
      orderedAt: now,
      activeAt: now,
      nextFeeAt,
    });
    await this.fees.begin(w, { kind: 'number', businessId: a.businessId, id, at: nextFeeAt });
    const missing = await this.ties.fileLanded(w, { id, e164: a.e164, businessId: a.businessId }, a.campaignId);
    await saveNumber(w, id, { note: missing });
    if (a.forwardTo !== '') await this.calls.forwardLanded(w, id, a.e164, a.forwardTo);
    await record(w, this.p.clock, {
      businessId: a.businessId,
      actor: SYSTEM,
      action: missing ? 'number landed' : 'number landed, registration filed',
      objectKind: 'number',
      objectId: id,
      after: { state: 'active', source: a.source, ...(missing ? { missing } : {}) },
    });
    this.numbers.changed(w, a.businessId, id);
    return id;
  }

  /** A number is ours no more. Its history, messages and consents stay. */
  async leave(w: Writer, id: string, ended: Ended, why: string): Promise<void> {
    const row = await anyNumber(w, id);
    // What was released could still be taken back: no more.
    const isOurs = row && (row.state === 'active' || row.state === 'paused' || row.before_release !== null);
    if (!isOurs) return;
    await saveNumber(w, id, {
      state: 'released',
      note: why,
      ended,
      releasedAt: Math.round(this.p.clock.now()),
      beforeRelease: null,
      campaignId: null,
      tieState: 'none',
      nextFeeAt: null,
      lockState: 'locked',
    });
    await dropDefaults(w, id);
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor: SYSTEM,
      action: why,
      objectKind: 'number',
      objectId: id,
      before: { state: row.state },
      after: { state: 'released' },
    });
    w.tell('number.gone', { businessId: row.business_id, numberId: id, ended });
    this.numbers.changed(w, row.business_id, id);
  }
}
