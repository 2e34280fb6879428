import { textAfter, type TextState } from '@long-gate/core';
import { GatewayBusy, GatewayRefused, type OutgoingText } from '@long-gate/gateways';
import type { Writer } from '../../platform/db.js';
import type { HandOver } from './hand-over.js';
import { setBack, setStates, type Waiting } from './message-store.js';

/** One text in the air, and what became of the try. */
export interface Try {
  text: OutgoingText;
  showsStop: boolean;
}
export type Outcome = 'taken' | 'not taken' | 'answer lost' | GatewayBusy | GatewayRefused;

/** When a verdict has run out, and a little later, the network can be asked what it has. */
export const ASK_AFTER_MS = 400;

/** What became of a lot of tries, written down together. */
export class Answers {
  private readonly states: (readonly [string, TextState, number?])[] = [];
  private readonly back: (readonly [string, TextState, number])[] = [];
  private readonly gone: { m: Waiting; showsStop: boolean }[] = [];
  private readonly returned: Waiting[] = [];
  private readonly refusals: { m: Waiting; refusal: GatewayRefused }[] = [];
  private readonly rows: Waiting[] = [];

  constructor(
    private readonly way: HandOver,
    private readonly w: Writer,
  ) {}

  take(m: Waiting, t: Try, outcome: Outcome, now: number): void {
    if (outcome === 'taken') return this.taken(m, t.showsStop);
    if (outcome === 'answer lost') {
      this.states.push([m.id, textAfter(m.state, { kind: 'answer lost' }), t.text.takeBy + ASK_AFTER_MS]);
      this.rows.push(m);
      return;
    }
    if (outcome instanceof GatewayRefused) {
      this.refusals.push({ m, refusal: outcome });
      this.rows.push(m);
      return;
    }
    const wait = outcome instanceof GatewayBusy ? Math.max(outcome.retryAfterMs, 250 * 2 ** Math.min(m.tries, 6)) : 0;
    this.notTaken(m, now + wait);
  }

  taken(m: Waiting, showsStop: boolean): void {
    this.states.push([m.id, textAfter(m.state, { kind: 'taken' })]);
    this.gone.push({ m, showsStop });
    this.rows.push(m);
  }

  /** The network does not have it: as if it had never left, and to be judged again. */
  notTaken(m: Waiting, dueAt: number): void {
    const state = textAfter(m.state, { kind: 'not taken' });
    if (state === m.state) return;
    this.back.push([m.id, state, dueAt]);
    this.returned.push(m);
    this.rows.push(m);
  }

  async close(): Promise<void> {
    await setStates(this.w, this.states);
    await this.way.noteTaken(this.w, this.gone);
    await this.way.giveBack(this.w, [...this.returned, ...this.refusals.map((r) => r.m)]);
    await setBack(this.w, this.back);
    for (const businessId of new Set(this.returned.map((m) => m.business_id))) {
      const mine = this.returned.filter((m) => m.business_id === businessId);
      this.w.tell('texts.returned', { businessId, e164s: [...new Set(mine.map((m) => m.e164))] });
    }
    for (const { m, refusal } of this.refusals) await this.way.refused(this.w, m.id, refusal);
    const capped = this.returned.filter((m) => m.purpose === 'promotional');
    await this.way.noteRound(this.w, this.rows, capped, new Set());
  }
}
