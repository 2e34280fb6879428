import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import { Op } from 'sequelize';
import type { Clock } from './clock.js';
import type { Db, Reader, Writer } from './db.js';
import { newId } from './ids.js';
import type { Live } from './live.js';
import { jobTable, type JobModel } from './model.js';
import { setAside } from './set-aside-store.js';

export interface Job {
  id: string;
  kind: string;
  business_id: string;
  payload: string;
  run_at: number;
  state: 'waiting' | 'running' | 'paused' | 'done' | 'failed' | 'cancelled';
  attempts: number;
  done_count: number;
  total_count: number;
  title: string;
}

/** What a handler tells the loop when it returns. */
export type JobOutcome =
  | { done: true; result?: string }
  /** Come back: at once, or at a moment in scenario time. Progress is kept by the handler in the database. */
  | { done: false; at?: number };

export interface JobContext {
  job: Job;
  /** Records progress; returns false when the job was paused or cancelled and should stop here. */
  progress(done: number, total: number): Promise<boolean>;
}

export type JobHandler<T> = (payload: T, context: JobContext) => Promise<JobOutcome>;

const LEASE_MS = 30_000;
const MAX_ATTEMPTS = 8;

/**
 * Durable jobs: everything slow, scheduled or outside. A job is leased (wall time) while a handler works on it; after
 * a crash the lease runs out, or the next start takes it back, and the job is worked on again, so handlers must be
 * able to begin anew from what they stored.
 */
export class Jobs {
  private readonly handlers = new Map<string, JobHandler<never>>();
  private readonly owner = randomUUID();

  constructor(
    private readonly db: Db,
    private readonly clock: Clock,
    private readonly live: Live,
    private readonly log: Logger,
  ) {}

  handle<T>(kind: string, handler: JobHandler<T>): void {
    this.handlers.set(kind, handler);
  }

  /** Adds a job in the caller's transaction. With a `key` the same job is added only once. */
  async add(
    w: Writer,
    job: {
      kind: string;
      businessId: string;
      payload: unknown;
      at?: number;
      title?: string;
      total?: number;
      key?: string;
    },
  ): Promise<string> {
    const id = newId('job');
    await w.run(
      `INSERT INTO job (id, key, kind, business_id, payload, run_at, title, total_count, created_at) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9) ON CONFLICT (key) DO NOTHING`,
      [
        id,
        job.key ?? id,
        job.kind,
        job.businessId,
        JSON.stringify(job.payload),
        job.at ?? this.clock.now(),
        job.title ?? '',
        job.total ?? 0,
        this.clock.now(),
      ],
    );
    w.afterCommit(() => this.live.tell({ businessId: job.businessId, topic: 'jobs' }));
    return id;
  }

  /** Jobs another process had when it died are free again. Called once at start, before any loop runs. */
  async takeBack(): Promise<void> {
    await this.db.write((w) => w.run(`UPDATE job SET state = 'waiting', lease_until = NULL WHERE state = 'running'`));
  }

  async nextDue(): Promise<number | null> {
    const row = await this.db.one<{ at: number | null }>(`SELECT min(run_at) AS at FROM job WHERE state = 'waiting'`);
    return row?.at ?? null;
  }

  /** Works on one due job; false when none is due. */
  async workOne(): Promise<boolean> {
    const job = await this.lease();
    if (!job) return false;
    const handler = this.handlers.get(job.kind);
    const renew = setInterval(() => {
      void this.db.write((w) =>
        w.run(`UPDATE job SET lease_until = $2 WHERE id = $1 AND lease_owner = $3`, [
          job.id,
          Date.now() + LEASE_MS,
          this.owner,
        ]),
      );
    }, LEASE_MS / 3);
    try {
      if (!handler) throw new Error(`nobody handles jobs of kind ${job.kind}`);
      const outcome = await handler(JSON.parse(job.payload) as never, {
        job,
        progress: (done, total) => this.progress(job, done, total),
      });
      await this.finish(job, outcome);
    } catch (error) {
      await this.fail(job, error as Error);
    } finally {
      clearInterval(renew);
    }
    this.live.tell({ businessId: job.business_id, topic: 'jobs' });
    return true;
  }

  async control(w: Writer, businessId: string, id: string, wish: 'pause' | 'resume' | 'cancel'): Promise<boolean> {
    const from = { pause: `'waiting','running'`, resume: `'paused'`, cancel: `'waiting','running','paused'` }[wish];
    const to = { pause: 'paused', resume: 'waiting', cancel: 'cancelled' }[wish];
    const job = await w.one<Job>(`SELECT * FROM job WHERE id = $1 AND business_id = $2 AND state IN (${from})`, [
      id,
      businessId,
    ]);
    if (!job) return false;
    await w.run(`UPDATE job SET state = $2, lease_until = NULL, finished_at = $3 WHERE id = $1`, [
      id,
      to,
      wish === 'cancel' ? this.clock.now() : null,
    ]);
    w.afterCommit(() => this.live.tell({ businessId, topic: 'jobs' }));
    return true;
  }

  /** The last jobs of a business that are shown, the newest first. */
  async listed(businessId: string): Promise<JobModel[]> {
    return this.db.of(jobTable).findAll({
      where: { businessId, title: { [Op.ne]: '' } },
      order: [['createdAt', 'DESC']],
      limit: 30,
    });
  }

  async one(r: Reader, businessId: string, id: string): Promise<JobModel | null> {
    return r.of(jobTable).findOne({ where: { id, businessId } });
  }

  /** The id of the job with this key. */
  async idOf(r: Reader, key: string): Promise<string | undefined> {
    return (await r.of(jobTable).findOne({ where: { key }, attributes: ['id'], raw: true }))?.id;
  }

  /** How far a job has come, kept in the caller's transaction. */
  async reached(w: Writer, key: string, done: number): Promise<void> {
    await w.of(jobTable).update({ doneCount: done }, { where: { key } });
  }

  /** Why a job stands as it does, for whoever looks. */
  async explain(w: Writer, id: string, why: string): Promise<void> {
    await w.run(`UPDATE job SET error = $2 WHERE id = $1`, [id, why]);
  }

  /** Brings a waiting job's moment forward to now; one that is running comes back at once after its round. */
  async wake(w: Writer, which: { key: string } | { businessId: string; kind: string }): Promise<void> {
    const [where, bind] =
      'key' in which ? ['key = $2', [which.key]] : ['business_id = $2 AND kind = $3', [which.businessId, which.kind]];
    await w.run(
      `UPDATE job SET woken = TRUE, run_at = CASE WHEN state = 'waiting' THEN CASE WHEN run_at < $1 THEN run_at ELSE $1 END ELSE run_at END WHERE ${where} AND state IN ('waiting','running')`,
      [this.clock.now(), ...bind],
    );
  }

  private async lease(): Promise<Job | null> {
    const due = await this.db.one<Job>(
      `SELECT id FROM job WHERE (state = 'waiting' AND run_at <= $1) OR (state = 'running' AND lease_until < $2) LIMIT 1`,
      [this.clock.now(), Date.now()],
    );
    if (!due) return null;
    return this.db.write(async (w) => {
      const job = await w.one<Job>(
        `SELECT * FROM job WHERE (state = 'waiting' AND run_at <= $1) OR (state = 'running' AND lease_until < $2) ORDER BY run_at, created_at LIMIT 1`,
        [this.clock.now(), Date.now()],
      );
      if (!job) return null;
      await w.run(`UPDATE job SET state = 'running', woken = FALSE, lease_owner = $2, lease_until = $3 WHERE id = $1`, [
        job.id,
        this.owner,
        Date.now() + LEASE_MS,
      ]);
      return job;
    });
  }

  private async progress(job: Job, done: number, total: number): Promise<boolean> {
    const state = await this.db.write(async (w) => {
      await w.run(`UPDATE job SET done_count = $2, total_count = $3 WHERE id = $1`, [job.id, done, total]);
      return (await w.one<{ state: string }>(`SELECT state FROM job WHERE id = $1`, [job.id]))?.state;
    });
    this.live.tell({ businessId: job.business_id, topic: 'jobs' });
    return state === 'running';
  }

  private async finish(job: Job, outcome: JobOutcome): Promise<void> {
    await this.db.write(async (w) => {
      if (outcome.done) {
        await w.run(
          `UPDATE job SET state = 'done', result = $2, finished_at = $3, lease_until = NULL, attempts = 0 WHERE id = $1 AND state = 'running'`,
          [job.id, outcome.result ?? '', this.clock.now()],
        );
      } else {
        await w.run(
          `UPDATE job SET state = 'waiting', run_at = CASE WHEN woken THEN CAST($3 AS BIGINT) ELSE CAST($2 AS BIGINT) END, lease_until = NULL, attempts = 0 WHERE id = $1 AND state = 'running'`,
          [job.id, outcome.at ?? this.clock.now(), Math.min(outcome.at ?? Infinity, this.clock.now())],
        );
      }
    });
  }

  private async fail(job: Job, error: Error): Promise<void> {
    const attempts = job.attempts + 1;
    this.log.warn({ job: job.id, kind: job.kind, attempts, error: error.name, message: error.message }, 'job failed');
    const after = Math.min(300_000, 1000 * 2 ** attempts);
    await this.db.write(async (w) => {
      if (attempts < MAX_ATTEMPTS)
        return w.run(
          `UPDATE job SET state = 'waiting', attempts = $2, error = $3, run_at = $4, lease_until = NULL WHERE id = $1 AND state = 'running'`,
          [job.id, attempts, error.message, this.clock.now() + after],
        );
      await w.run(
        `UPDATE job SET state = 'failed', attempts = $2, error = $3, finished_at = $4, lease_until = NULL WHERE id = $1`,
        [job.id, attempts, error.message, this.clock.now()],
      );
      const body = JSON.parse(job.payload) as unknown;
      await setAside(w, this.clock, { lane: 'job', key: `job:${job.id}`, kind: job.kind, body, cause: error.message });
    });
  }

  /** Works once more on a job that was given up. */
  async takeUp(w: Writer, id: string): Promise<void> {
    await w.run(
      `UPDATE job SET state = 'waiting', attempts = 0, error = NULL, finished_at = NULL, run_at = $2 WHERE id = $1 AND state = 'failed'`,
      [id, this.clock.now()],
    );
  }
}
