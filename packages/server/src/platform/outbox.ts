import { GatewayBusy, GatewayDown, GatewayRefused } from '@long-gate/gateways';
import type { Logger } from 'pino';
import type { z } from 'zod';
import type { Clock } from './clock.js';
import type { Db, Reader, Writer } from './db.js';
import type { OutboxModel } from './model.js';
import { addWish, countWishes, dueWishes, endWish, forgetWish, nextWish, putOff, takeUpWish } from './outbox-store.js';
import { setAside } from './set-aside-store.js';

/**
 * Carries one kind of effect to the outside. The key is handed on as the idempotency key, so that a crash between
 * sending and noting it down repeats nothing.
 */
export interface Carrier<T> {
  /** @param tries how often it was tried before, with no answer or the answer to come again. */
  deliver(key: string, payload: T, tries: number): Promise<void>;
  /** Noted in the same transaction that marks the effect as delivered. */
  delivered?(w: Writer, key: string, payload: T): Promise<void>;
  refused(w: Writer, key: string, payload: T, error: GatewayRefused): Promise<void>;
}

const BATCH = 100;
const PARALLEL = 16;
/** A wish that fails so often for no reason the outside gave is set aside. */
const MAX_FAULTS = 5;

/**
 * Wishes of the outside, written in the transaction that decides them and delivered at least once under one key.
 * Texts to contacts do not go this way: each is judged at every try (areas/dispatch/hand-over.ts).
 */
export class Outbox {
  private tail: Promise<unknown> = Promise.resolve();
  private readonly carriers = new Map<string, { payload: z.ZodType; carrier: Carrier<never> }>();

  constructor(
    private readonly db: Db,
    private readonly clock: Clock,
    private readonly log: Logger,
  ) {}

  /** @param payload what wishes of this kind hold; one that holds something else is set aside. */
  carry<S extends z.ZodType>(kind: string, payload: S, carrier: Carrier<z.output<S>>): void {
    this.carriers.set(kind, { payload, carrier });
  }

  async put(w: Writer, kind: string, key: string, payload: unknown, dueAt?: number): Promise<void> {
    await addWish(w, { kind, key, payload, dueAt: Math.round(dueAt ?? this.clock.now()) });
  }

  /** How many wishes of a kind were ever put under `owner:…`. */
  async count(r: Reader, kind: string, owner: string): Promise<number> {
    return countWishes(r, kind, owner);
  }

  async nextDue(): Promise<number | null> {
    return nextWish(this.db);
  }

  /** Delivers what is due, a batch at a time; returns how many were handled. One batch is under way at any time. */
  async work(): Promise<number> {
    const turn = this.tail.then(() => this.workBatch());
    this.tail = turn.catch(() => undefined);
    return turn;
  }

  private async workBatch(): Promise<number> {
    const rows = await dueWishes(this.db, this.clock.now(), BATCH);
    const queue = [...rows];
    await Promise.all(
      Array.from({ length: Math.min(PARALLEL, queue.length) }, async () => {
        for (let row = queue.shift(); row; row = queue.shift()) await this.deliver(row);
      }),
    );
    return rows.length;
  }

  /** One wish by itself: whatever goes wrong with it keeps no other waiting. */
  private async deliver(row: OutboxModel): Promise<void> {
    const error = await this.tryOnce(row).then(
      () => null,
      (e: unknown) => e as Error,
    );
    if (error === null) return;
    const busy = error instanceof GatewayBusy;
    const known = busy || error instanceof GatewayDown;
    if (!known) this.log.error({ kind: row.kind, message: error.message }, 'outbox');
    await this.db.write(async (w) => {
      if (!known && row.attempts + 1 >= MAX_FAULTS) {
        await endWish(w, row.key, 'set aside', error.message);
        const { key, kind, payload: body } = row;
        await setAside(w, this.clock, { lane: 'outbox', key, kind, body, cause: error.message });
        return;
      }
      const wait = busy ? error.retryAfterMs : Math.min(60_000, 1000 * 2 ** row.attempts);
      await putOff(w, row.key, error.message, Math.round(this.clock.now() + wait));
    });
  }

  private async tryOnce(row: OutboxModel): Promise<void> {
    const known = this.carriers.get(row.kind);
    if (!known) throw new Error(`nobody carries ${row.kind}`);
    const { carrier } = known;
    const payload = known.payload.parse(row.payload) as never;
    try {
      await carrier.deliver(row.key, payload, row.attempts);
    } catch (error) {
      if (!(error instanceof GatewayRefused)) throw error;
      await this.db.write(async (w) => {
        await endWish(w, row.key, 'refused', error.message);
        await carrier.refused(w, row.key, payload, error);
      });
      return;
    }
    await this.db.write(async (w) => {
      await endWish(w, row.key, 'delivered');
      await carrier.delivered?.(w, row.key, payload);
    });
  }

  /** Keeps the key, so that nothing is repeated, and nothing of what was said. */
  async forget(w: Writer, key: string): Promise<void> {
    await forgetWish(w, key);
  }

  /** Tries once more what was set aside. */
  async takeUp(w: Writer, key: string): Promise<void> {
    await takeUpWish(w, key, this.clock.now());
  }
}
