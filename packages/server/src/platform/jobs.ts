import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import type { z } from 'zod';
import type { Clock } from './clock.js';
import type { Db, Reader, Writer } from './db.js';
import { newId } from './ids.js';
import type { Live } from './live.js';
import {
  addJob,
  changeJob,
  freeRunning,
  isAnyDue,
  type Kinds,
  jobById,
  jobIdOf,
  jobIn,
  jobsBy,
  jobsUnderWay,
  leaseDue,
  nextKind,
  nextRun,
  putBack,
  renewLease,
  shownJobs,
  wakeJobs,
  type JobState,
} from './job-store.js';
import type { JobModel } from './model.js';
import { setAside } from './set-aside-store.js';

export type Job = JobModel;

/** What a handler tells the loop when it returns. */
export type JobOutcome =
  | { done: true; result?: string }
  /** Come back: at once, or at a moment in scenario time. Progress is kept by the handler in the database. */
  | { done: false; at?: number };

export interface JobContext {
  job: Job;
  /** Tells how far it is, for whoever looks; returns false when the job was paused or cancelled and should stop here. */
  progress(done: number, total: number): Promise<boolean>;
  /** Whether somebody waits for the job to come to a rest: the clock is to be moved, or the application ends. */
  isAwaited(): boolean;
}
/** Long jobs, such as are paced, keep others waiting for seconds: they have wheels of their own. */
export type Lane = 'short' | 'long';

export type JobHandler<T> = (payload: T, context: JobContext) => Promise<JobOutcome>;

/** What is told of one run of a job as it comes along, and how far it has come. */
interface Progress {
  reached: { doneCount: number; totalCount: number } | null;
  tell: (done: number, total: number) => Promise<boolean>;
}

const LEASE_MS = 30_000;
/** So often how far a job has come is written down for whoever looks. */
const SHOWN_MS = 400;
const MAX_ATTEMPTS = 8;
const EVERY: readonly JobState[] = ['waiting', 'running', 'paused', 'done', 'failed', 'cancelled'];

/** Whom a job is about (`e164`, `e164s` in what it carries) is not kept once it is over: it would outlive the person. */
function aboutNobody(payload: unknown): { payload?: object } {
  if (typeof payload !== 'object' || payload === null || !('e164' in payload || 'e164s' in payload)) return {};
  return { payload: Object.fromEntries(Object.entries(payload).filter(([k]) => k !== 'e164' && k !== 'e164s')) };
}

/**
 * Durable jobs: everything slow, scheduled or outside. A job is leased (wall time) while a handler works on it; after
 * a crash the lease runs out, or the next start takes it back, and the job is worked on again, so handlers must be
 * able to begin anew from what they stored.
 */
export class Jobs {
  private readonly handlers = new Map<string, (job: Job, context: JobContext) => Promise<JobOutcome>>();
  private readonly words = new Map<string, string>();
  private readonly long = new Set<string>();
  private readonly owner = randomUUID();

  constructor(
    private readonly db: Db,
    private readonly clock: Clock,
    private readonly live: Live,
    private readonly log: Logger,
  ) {}

  /**
   * @param payload what jobs of this kind carry; one that carries something else fails.
   * @param what what happens then, in words, where such a job waits for its day.
   * @param lane `long` for one that works for seconds at a time.
   */
  handle<S extends z.ZodType>(
    kind: string,
    payload: S,
    handler: JobHandler<z.output<S>>,
    what?: string,
    lane: Lane = 'short',
  ): void {
    if (lane === 'long') this.long.add(kind);
    if (what) this.words.set(kind, what);
    this.handlers.set(kind, (job, context) => handler(payload.parse(job.payload), context));
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
    await addJob(w, {
      id,
      key: job.key ?? id,
      kind: job.kind,
      businessId: job.businessId,
      payload: job.payload,
      runAt: Math.round(job.at ?? this.clock.now()),
      title: job.title ?? '',
      totalCount: job.total ?? 0,
      createdAt: this.clock.now(),
    });
    w.afterCommit(() => this.live.tell({ businessId: job.businessId, topic: 'jobs' }));
    return id;
  }

  /** Jobs another process had when it died are free again. Called once at start, before any loop runs. */
  async takeBack(): Promise<void> {
    await this.db.write(freeRunning);
  }

  /** @param lane of which jobs; of all where nothing is said. */
  async nextDue(lane?: Lane): Promise<number | null> {
    return nextRun(this.db, this.kindsOf(lane));
  }

  private kindsOf(lane: Lane | undefined): Kinds | undefined {
    return lane && { long: [...this.long], only: lane === 'long' };
  }

  /** The job that runs next, in words. */
  async nextWhat(): Promise<string> {
    return this.words.get((await nextKind(this.db)) ?? '') ?? 'something here is due';
  }

  /**
   * Works on one due job; false when none is due.
   * @param of which jobs; all where nothing is said. `isAwaited` as in {@link JobContext}.
   */
  async workOne(of: { lane?: Lane; isAwaited?: () => boolean } = {}): Promise<boolean> {
    const job = await this.lease(of.lane);
    if (!job) return false;
    const handler = this.handlers.get(job.kind);
    const renew = setInterval(() => {
      void this.db.write((w) => renewLease(w, job.id, this.owner, Date.now() + LEASE_MS));
    }, LEASE_MS / 3);
    try {
      if (!handler) throw new Error(`nobody handles jobs of kind ${job.kind}`);
      const progress = this.progressOf(job);
      const outcome = await handler(job, {
        job,
        progress: progress.tell,
        isAwaited: of.isAwaited ?? (() => false),
      });
      await this.finish(job, outcome, progress.reached);
    } catch (error) {
      await this.fail(job, error as Error);
    } finally {
      clearInterval(renew);
    }
    this.live.tell({ businessId: job.businessId, topic: 'jobs' });
    return true;
  }

  async control(w: Writer, businessId: string, id: string, wish: 'pause' | 'resume' | 'cancel'): Promise<boolean> {
    const from = {
      pause: ['waiting', 'running'],
      resume: ['paused'],
      cancel: ['waiting', 'running', 'paused'],
    } as const;
    const to = { pause: 'paused', resume: 'waiting', cancel: 'cancelled' } as const;
    const job = await jobIn(w, businessId, id, from[wish]);
    if (!job) return false;
    await job.update({
      state: to[wish],
      leaseUntil: null,
      finishedAt: wish === 'cancel' ? this.clock.now() : null,
      ...(wish === 'cancel' ? aboutNobody(job.payload) : {}),
    });
    w.afterCommit(() => this.live.tell({ businessId, topic: 'jobs' }));
    return true;
  }

  /** The last jobs of a business that are shown, the newest first. */
  async listed(businessId: string): Promise<JobModel[]> {
    return shownJobs(this.db, businessId);
  }

  async one(r: Reader, businessId: string, id: string): Promise<JobModel | null> {
    return jobIn(r, businessId, id, EVERY);
  }

  /** The id of the job with this key. */
  async idOf(r: Reader, key: string): Promise<string | undefined> {
    return jobIdOf(r, key);
  }

  /** What jobs of a business are called, by their ids or keys. */
  async titles(
    r: Reader,
    businessId: string,
    by: 'id' | 'key',
    values: readonly string[],
  ): Promise<Map<string, string>> {
    return new Map((await jobsBy(r, businessId, by, values)).map((j) => [j[by], j.title]));
  }

  /** How far a job has come, kept in the caller's transaction. */
  async reached(w: Writer, key: string, done: number): Promise<void> {
    await changeJob(w, { key }, { doneCount: done });
  }

  /** What is under way of one kind, paused or not. */
  underWay(r: Reader, businessId: string, kind: string): Promise<JobModel[]> {
    return jobsUnderWay(r, businessId, kind);
  }

  /** Whether a job that works shall go on: not where it was paused or cancelled. */
  async isRunning(r: Reader, id: string): Promise<boolean> {
    return (await jobById(r, id))?.state === 'running';
  }

  /** What a job goes on from, and how far it has come, kept in the caller's transaction with what was done. */
  async keep(w: Writer, job: Job, payload: unknown, done: number): Promise<void> {
    await changeJob(w, { id: job.id }, { payload, doneCount: done });
    w.afterCommit(() => this.live.tell({ businessId: job.businessId, topic: 'jobs' }));
  }

  /** Why a job stands as it does, for whoever looks. */
  async explain(w: Writer, id: string, why: string): Promise<void> {
    await changeJob(w, { id }, { error: why });
  }

  /** Brings a waiting job's moment forward to now; one that is running comes back at once after its round. */
  async wake(w: Writer, which: { key: string } | { businessId: string; kind: string }): Promise<void> {
    await wakeJobs(w, which, this.clock.now());
  }

  private async lease(lane?: Lane): Promise<Job | null> {
    const kinds = this.kindsOf(lane);
    if (!(await isAnyDue(this.db, this.clock.now(), Date.now(), kinds))) return null;
    return this.db.write((w) =>
      leaseDue(w, this.clock.now(), Date.now(), { owner: this.owner, until: Date.now() + LEASE_MS }, kinds),
    );
  }

  /** How far a job has come is shown a few times a second; what is on disk of it with each lot is its own. */
  private progressOf(job: Job): Progress {
    let keptAt = -Infinity;
    const progress: Progress = {
      reached: null,
      tell: async (done, total) => {
        progress.reached = { doneCount: done, totalCount: total };
        // Each write waits for the disk, and everybody who looks is told.
        if (performance.now() - keptAt < SHOWN_MS) return this.isRunning(this.db, job.id);
        keptAt = performance.now();
        const running = await this.db.write(async (w) => {
          await changeJob(w, { id: job.id }, { doneCount: done, totalCount: total });
          return this.isRunning(w, job.id);
        });
        this.live.tell({ businessId: job.businessId, topic: 'jobs' });
        return running;
      },
    };
    return progress;
  }

  private async finish(job: Job, outcome: JobOutcome, reached: Progress['reached']): Promise<void> {
    await this.db.write(async (w) => {
      if (reached) await changeJob(w, { id: job.id }, reached);
      if (!outcome.done) return putBack(w, job.id, Math.round(outcome.at ?? this.clock.now()), this.clock.now());
      const done = { state: 'done', result: outcome.result ?? '', finishedAt: this.clock.now() } as const;
      const over = { ...done, leaseUntil: null, attempts: 0, ...aboutNobody(job.payload) };
      await changeJob(w, { id: job.id }, over, 'running');
    });
  }

  private async fail(job: Job, error: Error): Promise<void> {
    const attempts = job.attempts + 1;
    this.log.warn({ job: job.id, kind: job.kind, attempts, error: error.name, message: error.message }, 'job failed');
    const after = Math.min(300_000, 1000 * 2 ** attempts);
    await this.db.write(async (w) => {
      const failed = { attempts, error: error.message, leaseUntil: null };
      const runAt = Math.round(this.clock.now() + after);
      if (attempts < MAX_ATTEMPTS)
        return changeJob(w, { id: job.id }, { ...failed, state: 'waiting', runAt }, 'running');
      await changeJob(w, { id: job.id }, { ...failed, state: 'failed', finishedAt: this.clock.now() });
      const body = job.payload;
      await setAside(w, this.clock, { lane: 'job', key: `job:${job.id}`, kind: job.kind, body, cause: error.message });
    });
  }

  /** Works once more on a job that was given up. */
  async takeUp(w: Writer, id: string): Promise<void> {
    const again = { state: 'waiting', attempts: 0, error: null, finishedAt: null, runAt: this.clock.now() } as const;
    await changeJob(w, { id }, again, 'failed');
  }
}
