import { GatewayBusy, GatewayDown, GatewayRefused } from '@long-gate/gateways';
import type { Logger } from 'pino';
import type { Clock } from './clock.js';
import type { Db, Writer } from './db.js';

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
  /** Asked in a transaction just before leaving; false takes the effect back (the carrier has noted why). */
  mayLeave?(w: Writer, key: string, payload: T): Promise<boolean>;
  deliver(key: string, payload: T): Promise<void>;
  /** Noted in the same transaction that marks the effect as delivered. */
  delivered?(w: Writer, key: string, payload: T): Promise<void>;
  refused(w: Writer, key: string, payload: T, error: GatewayRefused): Promise<void>;
}

const BATCH = 100;
const PARALLEL = 16;

/** Effects on the outside, written in the transaction that decides them and delivered at least once under one key. */
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
    const due = await this.db.all<{ key: string }>(
      `SELECT key FROM outbox WHERE state = 'waiting' AND due_at <= $1 LIMIT 1`,
      [this.clock.now()],
    );
    if (due.length === 0) return 0;
    const batch = await this.db.write(async (w) => {
      const rows = await w.all<OutboxRow>(
        `SELECT key, kind, payload, attempts FROM outbox WHERE state = 'waiting' AND due_at <= $1 ORDER BY due_at, key LIMIT ${BATCH}`,
        [this.clock.now()],
      );
      const leaving: OutboxRow[] = [];
      for (const row of rows) {
        const carrier = this.carriers.get(row.kind);
        if (!carrier) throw new Error(`nobody carries ${row.kind}`);
        if (!carrier.mayLeave || (await carrier.mayLeave(w, row.key, JSON.parse(row.payload) as never)))
          leaving.push(row);
        else await w.run(`DELETE FROM outbox WHERE key = $1`, [row.key]);
      }
      return { rows, leaving };
    });
    const results: { row: OutboxRow; error: Error | null }[] = [];
    const queue = [...batch.leaving];
    await Promise.all(
      Array.from({ length: Math.min(PARALLEL, queue.length) }, async () => {
        for (let row = queue.shift(); row; row = queue.shift()) {
          const current = row;
          const carrier = this.carriers.get(current.kind) as Carrier<never>;
          const error = await Promise.resolve()
            .then(() => carrier.deliver(current.key, JSON.parse(current.payload) as never))
            .then(
              () => null,
              (e: unknown) => e as Error,
            );
          results.push({ row: current, error });
        }
      }),
    );
    if (results.length > 0) await this.db.write((w) => this.note(w, results));
    return batch.rows.length;
  }

  private async note(w: Writer, results: { row: OutboxRow; error: Error | null }[]): Promise<void> {
    for (const { row, error } of results) {
      const carrier = this.carriers.get(row.kind) as Carrier<never>;
      const payload = JSON.parse(row.payload) as never;
      if (error === null) {
        await w.run(`UPDATE outbox SET state = 'delivered' WHERE key = $1`, [row.key]);
        await carrier.delivered?.(w, row.key, payload);
      } else if (error instanceof GatewayRefused) {
        await w.run(`UPDATE outbox SET state = 'refused', error = $2 WHERE key = $1`, [row.key, error.message]);
        await carrier.refused(w, row.key, payload, error);
      } else {
        const wait = error instanceof GatewayBusy ? error.retryAfterMs : Math.min(60_000, 1000 * 2 ** row.attempts);
        if (!(error instanceof GatewayBusy) && !(error instanceof GatewayDown))
          this.log.error({ kind: row.kind, message: error.message }, 'outbox');
        await w.run(`UPDATE outbox SET attempts = attempts + 1, error = $2, due_at = $3 WHERE key = $1`, [
          row.key,
          error.message,
          this.clock.now() + wait,
        ]);
      }
    }
  }
}
