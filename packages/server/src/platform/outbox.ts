import { GatewayBusy, GatewayDown, GatewayRefused } from '@long-gate/gateways';
import type { Logger } from 'pino';
import type { Clock } from './clock.js';
import type { Db, Reader, Writer } from './db.js';
import { setAside } from './set-aside-store.js';

interface OutboxRow {
  key: string;
  kind: string;
  payload: string;
  attempts: number;
}

/**
 * Carries one kind of effect to the outside. The key is handed on as the idempotency key, so that a crash between
 * sending and noting it down repeats nothing.
 */
export interface Carrier<T> {
  deliver(key: string, payload: T): Promise<void>;
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
  private readonly carriers = new Map<string, Carrier<never>>();

  constructor(
    private readonly db: Db,
    private readonly clock: Clock,
    private readonly log: Logger,
  ) {}

  carry<T>(kind: string, carrier: Carrier<T>): void {
    this.carriers.set(kind, carrier);
  }

  async put(w: Writer, kind: string, key: string, payload: unknown, dueAt?: number): Promise<void> {
    await w.run(`INSERT INTO outbox (key, kind, payload, due_at) VALUES ($1,$2,$3,$4) ON CONFLICT (key) DO NOTHING`, [
      key,
      kind,
      JSON.stringify(payload),
      dueAt ?? this.clock.now(),
    ]);
  }

  /** How many wishes of a kind were ever put under `owner:…`. */
  async count(r: Reader, kind: string, owner: string): Promise<number> {
    const row = await r.one<{ n: number }>(
      `SELECT count(*) AS n FROM outbox WHERE kind = $1 AND key >= $2 || ':' AND key < $2 || ';'`,
      [kind, owner],
    );
    return row?.n ?? 0;
  }

  async nextDue(): Promise<number | null> {
    const row = await this.db.one<{ at: number | null }>(
      `SELECT min(due_at) AS at FROM outbox WHERE state = 'waiting'`,
    );
    return row?.at ?? null;
  }

  /** Delivers what is due, a batch at a time; returns how many were handled. One batch is under way at any time. */
  async work(): Promise<number> {
    const turn = this.tail.then(() => this.workBatch());
    this.tail = turn.catch(() => undefined);
    return turn;
  }

  private async workBatch(): Promise<number> {
    const rows = await this.db.all<OutboxRow>(
      `SELECT key, kind, payload, attempts FROM outbox WHERE state = 'waiting' AND due_at <= $1 ORDER BY due_at, key LIMIT ${BATCH}`,
      [this.clock.now()],
    );
    const queue = [...rows];
    await Promise.all(
      Array.from({ length: Math.min(PARALLEL, queue.length) }, async () => {
        for (let row = queue.shift(); row; row = queue.shift()) await this.deliver(row);
      }),
    );
    return rows.length;
  }

  /** One wish by itself: whatever goes wrong with it keeps no other waiting. */
  private async deliver(row: OutboxRow): Promise<void> {
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
        await w.run(`UPDATE outbox SET state = 'set aside', error = $2 WHERE key = $1`, [row.key, error.message]);
        const body = JSON.parse(row.payload) as unknown;
        await setAside(w, this.clock, { lane: 'outbox', key: row.key, kind: row.kind, body, cause: error.message });
        return;
      }
      const wait = busy ? error.retryAfterMs : Math.min(60_000, 1000 * 2 ** row.attempts);
      await w.run(`UPDATE outbox SET attempts = attempts + 1, error = $2, due_at = $3 WHERE key = $1`, [
        row.key,
        error.message,
        this.clock.now() + wait,
      ]);
    });
  }

  private async tryOnce(row: OutboxRow): Promise<void> {
    const carrier = this.carriers.get(row.kind);
    if (!carrier) throw new Error(`nobody carries ${row.kind}`);
    const payload = JSON.parse(row.payload) as never;
    try {
      await carrier.deliver(row.key, payload);
    } catch (error) {
      if (!(error instanceof GatewayRefused)) throw error;
      await this.db.write(async (w) => {
        await w.run(`UPDATE outbox SET state = 'refused', error = $2 WHERE key = $1`, [row.key, error.message]);
        await carrier.refused(w, row.key, payload, error);
      });
      return;
    }
    await this.db.write(async (w) => {
      await w.run(`UPDATE outbox SET state = 'delivered' WHERE key = $1`, [row.key]);
      await carrier.delivered?.(w, row.key, payload);
    });
  }

  /** Keeps the key, so that nothing is repeated, and nothing of what was said. */
  async forget(w: Writer, key: string): Promise<void> {
    await w.run(`UPDATE outbox SET payload = '{}' WHERE key = $1`, [key]);
  }

  /** Tries once more what was set aside. */
  async takeUp(w: Writer, key: string): Promise<void> {
    await w.run(
      `UPDATE outbox SET state = 'waiting', attempts = 0, due_at = $2 WHERE key = $1 AND state = 'set aside'`,
      [key, this.clock.now()],
    );
  }
}
