import { PASSING_FAULTS_HOLD, textAfter, type Trouble } from '@long-gate/core';
import type { FailureClass, OutsideEvent } from '@long-gate/gateways';
import type { Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts, Learnt } from '../contacts/index.js';
import { answeredTexts, passingFaults, setDelivered, setFailed, type Answered, type Failed } from './receipt-store.js';
import type { Texts } from './texts.js';

const DAY_MS = 86_400_000;
/** What is said of a text that failed. */
type Fault = Omit<Failed, 'state'>;
/** What the network says of a text: that it arrived, or why it did not. */
type Receipt = { id: string; at: number; carrier: string; fault: null } | { id: string; fault: Fault };

function receiptOf(e: Extract<OutsideEvent, { kind: 'text.delivered' | 'text.failed' }>): Receipt {
  const [id, at] = [e.key, Math.round(e.at)];
  if (e.kind === 'text.delivered') return { id, at, carrier: e.carrier, fault: null };
  const { carrier, failure, code, reason } = e;
  return { id, fault: { id, at, carrier, failure, code, reason, free: false } };
}

/** What became of texts, by receipt; and what a number learns from it. A final answer is never overwritten. */
export class Receipts {
  constructor(
    p: Platform,
    private readonly contacts: Contacts,
    private readonly texts: Texts,
    private readonly now = (): number => p.clock.now(),
  ) {
    p.feed.onLot(['text.delivered', 'text.failed'], (w, events) => this.take(w, events.map(receiptOf)));
  }

  /** The network will never take it. */
  async refused(w: Writer, id: string, code: string, reason: string): Promise<void> {
    const failure: FailureClass = code === 'unregistered' ? 'configuration' : 'passing-fault';
    const fault: Fault = { id, failure, code, reason, carrier: '', at: this.now(), free: true };
    await this.take(w, [{ id, fault }]);
  }

  private async take(w: Writer, receipts: readonly Receipt[]): Promise<void> {
    const texts = await answeredTexts(
      w,
      receipts.map((r) => r.id),
    );
    const delivered: Parameters<typeof setDelivered>[1][number][] = [];
    const failed: Failed[] = [];
    const answered: Answered[] = [];
    const faults: { m: Answered; fault: Fault }[] = [];
    const early: { numberRow: number; numberId: string; showsStop: boolean }[] = [];
    for (const r of receipts) {
      const m = texts.get(r.id);
      if (!m) continue;
      const state = textAfter(m.state, { kind: !r.fault ? 'delivered' : r.fault.free ? 'refused' : 'undelivered' });
      if (state === m.state) continue;
      // Another receipt for it, in this lot, finds it final.
      texts.set(r.id, { ...m, state });
      answered.push(m);
      if (r.fault) {
        failed.push({ ...r.fault, state });
        faults.push({ m, fault: r.fault });
        continue;
      }
      delivered.push([m.id, state, r.at, r.carrier]);
      // The receipt came before the network's own answer was written down: then it is that answer too.
      if (m.state !== 'sent' && m.contact_number_id !== null)
        early.push({ numberRow: m.contact_number_id, numberId: m.number_id, showsStop: false });
    }
    await setDelivered(w, delivered);
    await setFailed(w, failed);
    const withNews = new Set(delivered.map(([id]) => texts.get(id)?.business_id ?? ''));
    for (const businessId of withNews) w.tell('texts.delivered', { businessId });
    if (early.length > 0) await this.contacts.noteSent(w, early);
    await this.learn(w, faults);
    await this.rest(w, answered);
  }

  private async learn(w: Writer, answered: readonly { m: Answered; fault: Fault }[]): Promise<void> {
    const numbers = new Map<string, { business: string; failure: FailureClass; learnt: Learnt[] }>();
    for (const { m, fault } of answered) {
      const key = `${m.business_id}|${fault.failure}`;
      const known = numbers.get(key);
      const learnt = { e164: m.e164, carrier: fault.carrier, detail: fault.reason };
      if (known) known.learnt.push(learnt);
      else numbers.set(key, { business: m.business_id, failure: fault.failure, learnt: [learnt] });
    }
    for (const { business, failure, learnt } of numbers.values())
      if (isTrouble(failure)) await this.contacts.learnTrouble(w, business, learnt, failure);
    for (const { m, fault } of answered) {
      if (fault.failure !== 'passing-fault' || m.contact_number_id === null) continue;
      const since = Math.max(fault.at - 30 * DAY_MS, await this.contacts.faultsSeenAt(w, m.contact_number_id));
      if ((await passingFaults(w, m.contact_number_id, since)) >= PASSING_FAULTS_HOLD)
        await this.contacts.holdForFaults(w, m.business_id, m.e164);
    }
  }

  private async rest(w: Writer, answered: readonly Answered[]): Promise<void> {
    await this.texts.settled(
      w,
      answered.flatMap((m) => m.dispatch_id ?? []),
    );
    for (const business of new Set(answered.map((m) => m.business_id)))
      this.texts.changed(
        w,
        business,
        answered.filter((m) => m.business_id === business),
      );
  }
}

/** Whether a failure says something of the number it was for, rather than of our text or our number. */
function isTrouble(failure: FailureClass): failure is FailureClass & Exclude<Trouble, 'none'> {
  return ['not-textable', 'out-of-service', 'refused-by-owner', 'passing-fault'].includes(failure);
}
