import { LOOKUP_PACE_PER_SECOND, type Micros } from '@long-gate/core';
import { GatewayBusy, GatewayDown } from '@long-gate/gateways';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../platform/jobs.js';
import { Pacer } from '../../platform/pacer.js';
import type { Platform } from '../../platform/platform.js';
import { Problem } from '../../platform/problem.js';
import type { QuestionPayer } from './question-payer.js';

/** A service that was asked too fast is asked again so much later. */
const BUSY_MS = 250;
/** Where nothing can be asked right now, it is tried again so much later. */
const AGAIN_MS = 5_000;
/** Jobs that ask questions; and how the reason of one begins that waits for money. */
const KINDS = ['lookups', 'reassigned'] as const;
const FOR_MONEY = 'Paused: ';
/** Numbers asked about between two writes: about three seconds' worth. */
export const SLICE = 60;

/** One slice of questions about numbers: what they cost, what they stand for in the statement, and what to do with the answers. */
export interface Slice<A> {
  price: Micros;
  /** What stands in the statement. */
  what: string;
  /** Asks about one number under a key, by which it is paid once. */
  ask: (key: string, e164: string) => Promise<A>;
  /** In the transaction in which the answers are paid. */
  keep: (w: Writer, answers: readonly A[]) => Promise<void>;
  /** What the job carries from there on. */
  next: (answers: readonly A[]) => unknown;
}

/**
 * Questions to the line-information service: lookups and queries about reassigned numbers alike. They share one permitted
 * pace, are paid with their answers in one transaction, and wait where the money or the service fails.
 */
export class PacedQuestions {
  private readonly pacer = new Pacer(LOOKUP_PACE_PER_SECOND);
  /** Numbers that are being asked about now, so that two jobs do not pay for the same. */
  private readonly asking = new Set<string>();

  constructor(
    private readonly p: Platform,
    private readonly payer: QuestionPayer,
  ) {
    // What waits for money goes on when there is some; what a person paused stays paused.
    p.db.facts.on('money.added', async (w, { businessId }) => {
      const clients = (await payer.clientsOf(w, businessId)).map((c) => c.id);
      for (const of of [businessId, ...clients])
        for (const kind of KINDS)
          for (const job of await p.jobs.underWay(w, of, kind))
            if (job.state === 'paused' && (job.error ?? '').startsWith(FOR_MONEY)) {
              await p.jobs.control(w, of, job.id, 'resume');
              await p.jobs.explain(w, job.id, '');
            }
    });
  }

  /** Seconds that so many questions take at the permitted pace. */
  static seconds(n: number): number {
    return Math.ceil((n * 1.025) / LOOKUP_PACE_PER_SECOND);
  }

  /** Resolves when the next question may be asked. */
  turn(): Promise<void> {
    return this.pacer.turn();
  }

  /** Asks about a slice, each without waiting for the answer of the one before; pauses the job where the balance is short. */
  async slice<A>(context: JobContext, e164s: readonly string[], of: Slice<A>): Promise<JobOutcome> {
    const { job } = context;
    const mine = e164s.filter((x) => !this.asking.has(`${of.what}|${job.businessId}|${x}`));
    if (mine.length === 0) return { done: false, at: this.p.clock.now() + AGAIN_MS };
    const claims = mine.map((x) => `${of.what}|${job.businessId}|${x}`);
    for (const claim of claims) this.asking.add(claim);
    try {
      return await this.asked(context, mine, of);
    } finally {
      for (const claim of claims) this.asking.delete(claim);
    }
  }

  private async asked<A>(context: JobContext, e164s: readonly string[], of: Slice<A>): Promise<JobOutcome> {
    const { job } = context;
    const short = await this.shortOf(job.businessId, e164s.length * of.price);
    if (short !== '') return this.pause(job, short);
    const answers = (
      await Promise.all(e164s.map((e164) => this.ask(() => of.ask(idFrom('lku', job.id, e164), e164))))
    ).filter((x) => x !== null);
    if (answers.length === 0) return { done: false, at: this.p.clock.now() + AGAIN_MS };
    try {
      await this.p.db.write(async (w) => {
        await this.payer.pay(w, job.businessId, {
          what: of.what,
          price: of.price,
          answered: answers.length,
          objectId: job.id,
          entryId: idFrom('mon', job.id),
        });
        await of.keep(w, answers);
        // How far it is stands with what was paid: a crash leaves neither without the other.
        await this.p.jobs.keep(w, job, of.next(answers), job.doneCount + answers.length);
      });
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      return this.pause(job, error.message);
    }
    const done = job.doneCount + answers.length;
    if (done > job.totalCount) await context.progress(done, done);
    return { done: false };
  }

  /** Null where the service gave no answer: it is asked again under the same key, and is paid once. */
  private async ask<A>(question: () => Promise<A>): Promise<A | null> {
    for (let tries = 0; tries < 3; tries++) {
      await this.pacer.turn();
      try {
        return await question();
      } catch (error) {
        if (error instanceof GatewayDown) return null;
        if (!(error instanceof GatewayBusy)) throw error;
        await new Promise((r) => setTimeout(r, BUSY_MS));
      }
    }
    return null;
  }

  /** Why so much cannot be paid now; empty where it can. */
  private async shortOf(businessId: string, cost: Micros): Promise<string> {
    try {
      await this.p.db.write((w) => this.payer.afford(w, businessId, cost));
      return '';
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      return error.message;
    }
  }

  private async pause(job: JobContext['job'], why: string): Promise<JobOutcome> {
    await this.p.db.write(async (w) => {
      await this.p.jobs.control(w, job.businessId, job.id, 'pause');
      await this.p.jobs.explain(w, job.id, `${FOR_MONEY}${why}`);
    });
    return { done: false };
  }
}
