import { PASSING_FAULTS_HOLD, textAfter } from '@long-gate/core';
import type { FailureClass, OutsideEvent } from '@long-gate/gateways';
import type { Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from '../contacts/index.js';
import { answeredText, passingFaults, setDelivered, setFailed, type Answered } from './message-store.js';
import type { Texts } from './texts.js';

const DAY_MS = 86_400_000;

/** What became of texts, by receipt; and what a number learns from it. A final answer is never overwritten. */
export class Receipts {
  constructor(
    p: Platform,
    private readonly contacts: Contacts,
    private readonly texts: Texts,
    private readonly now = (): number => p.clock.now(),
  ) {
    p.feed.on('text.delivered', (w, e) => this.delivered(w, e));
    p.feed.on('text.failed', (w, e) => this.fail(w, e.key, e.failure, e.code, e.reason, e.carrier, Math.round(e.at)));
  }

  private async delivered(w: Writer, e: Extract<OutsideEvent, { kind: 'text.delivered' }>): Promise<void> {
    const m = await answeredText(w, e.key);
    if (!m) return;
    const state = textAfter(m.state, { kind: 'delivered' });
    if (state === m.state) return;
    await setDelivered(w, m.id, state, Math.round(e.at), e.carrier);
    // The receipt came before the network's own answer was written down: then it is that answer too.
    if (m.state !== 'sent' && m.contact_number_id !== null)
      await this.contacts.noteSent(w, m.contact_number_id, m.number_id, false);
    await this.rest(w, m);
  }

  /** The network will never take it. */
  async refused(w: Writer, id: string, code: string, reason: string): Promise<void> {
    await this.fail(
      w,
      id,
      code === 'unregistered' ? 'configuration' : 'passing-fault',
      code,
      reason,
      '',
      this.now(),
      true,
    );
  }

  private async fail(
    w: Writer,
    id: string,
    failure: FailureClass,
    code: string,
    reason: string,
    carrier: string,
    at: number,
    refused = false,
  ): Promise<void> {
    const m = await answeredText(w, id);
    if (!m) return;
    const state = textAfter(m.state, { kind: refused ? 'refused' : 'undelivered' });
    if (state === m.state) return;
    await setFailed(w, id, state, { at, carrier, failure, code, reason, free: refused });
    await this.learn(w, m, failure, at);
    await this.rest(w, m);
  }

  private async learn(w: Writer, m: Answered, failure: FailureClass, at: number): Promise<void> {
    if (failure === 'not-textable' || failure === 'out-of-service' || failure === 'refused-by-owner')
      await this.contacts.learnTrouble(w, m.business_id, m.e164, failure, false);
    if (failure !== 'passing-fault' || m.contact_number_id === null) return;
    const faults = await passingFaults(w, m.contact_number_id, at - 30 * DAY_MS);
    await this.contacts.learnTrouble(w, m.business_id, m.e164, 'passing-fault', faults >= PASSING_FAULTS_HOLD);
  }

  private async rest(w: Writer, m: Answered): Promise<void> {
    await this.texts.settled(w, m.dispatch_id ? [m.dispatch_id] : []);
    this.texts.changed(w, m.business_id, [m]);
  }
}
