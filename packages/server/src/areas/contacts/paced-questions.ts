import { LOOKUP_PACE_PER_SECOND, type Micros } from '@long-gate/core';
import { GatewayBusy, GatewayDown } from '@long-gate/gateways';
import type { Writer } from '../../platform/db.js';
import { lotsOf } from '../../platform/bulk.js';
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
/** Numbers asked about in one breath, a minute and a half's worth; and how many are paid and kept together. */
export const SLICE = 1800;
const LOT = 20;
/** So many lots are under way at most. */
const AHEAD = 5;
/** Slices that one run goes through at most, half an hour's worth, before it looks anew at whoever gave no answer. */
const SLICES = 20;
/** Why no more is asked: somebody paused or cancelled the job. */
const STOPPED = 'stopped';

/** One slice of questions about numbers, or the first of several: what they cost, what they stand for in the statement, and what to do with the answers. */
export interface Slice<A> {
  price: Micros;
  /** What stands in the statement. */
  what: string;
  /** Asks about one number under a key, by which it is paid once. */
  ask: (key: string, e164: string) => Promise<A>;
  /** In the transaction in which the answers are paid. */
  keep: (w: Writer, answers: readonly A[]) => Promise<void>;
  /**
   * What the job carries from there on. @param answers all that were given so far. @param reached how many of the first
   * numbers all have their answers; null where some have none.
   */
  next: (answers: readonly A[], reached: number | null) => unknown;
  /**
   * Who is asked about next, so that nobody waits for the last answers of a slice; those that are being asked about may
   * be among them. Nothing where what the job carries tells who is next.
   */
  more?: () => Promise<readonly string[]>;
}

/** A run of questions: what was answered of it so far, and what has left and has no answer yet. */
class Asking<A> {
  answers: readonly A[] = [];
  underWay = 0;
  /** Why no more is asked; empty where more is. */
  over = '';
  /** All that were taken up so far. */
  readonly taken: string[] = [];
  constructor(
    readonly context: JobContext,
    readonly of: Slice<A>,
    /** Whether all from the first on are asked about, and have their answers so far. */
    public whole: boolean,
  ) {}
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

  /**
   * Asks about some numbers, each without waiting for the answers of those before: a lot is paid and kept while the next
   * ones leave. Ends early where the job was paused or cancelled or somebody waits for it to rest, and pauses it where
   * the balance is short.
   */
  async slice<A>(context: JobContext, e164s: readonly string[], of: Slice<A>): Promise<JobOutcome> {
    const asking = new Asking(context, of, true);
    const mine = this.take(asking, e164s);
    asking.whole = mine.length === e164s.length;
    if (mine.length === 0) return { done: false, at: this.p.clock.now() + AGAIN_MS };
    try {
      return await this.ask(asking, mine);
    } finally {
      for (const x of asking.taken) this.asking.delete(claimOf(asking, x));
    }
  }

  /** Takes up those that nobody is asking about now. */
  private take<A>(asking: Asking<A>, e164s: readonly string[]): string[] {
    const mine = e164s.filter((x) => !this.asking.has(claimOf(asking, x)));
    for (const x of mine) this.asking.add(claimOf(asking, x));
    asking.taken.push(...mine);
    return mine;
  }

  /** The slices of a run: the first, and more while nobody else's job waits for its turn. */
  private async *slices<A>(asking: Asking<A>, first: readonly string[]): AsyncGenerator<readonly string[]> {
    yield first;
    for (let k = 1; asking.of.more && k < SLICES; k++) {
      const next = await this.p.jobs.nextDue('long');
      if (asking.over !== '' || asking.context.isAwaited() || (next !== null && next <= this.p.clock.now())) return;
      const more = this.take(asking, await asking.of.more());
      if (more.length === 0) return;
      yield more;
    }
  }

  private async *lots<A>(asking: Asking<A>, first: readonly string[]): AsyncGenerator<readonly string[]> {
    for await (const slice of this.slices(asking, first)) yield* lotsOf(slice, LOT);
  }

  private async ask<A>(asking: Asking<A>, first: readonly string[]): Promise<JobOutcome> {
    const { job } = asking.context;
    let kept: Promise<unknown> = Promise.resolve();
    for await (const lot of this.lots(asking, first)) {
      if (asking.over !== '' || asking.context.isAwaited()) break;
      // What has left already and is not paid yet is reckoned with.
      asking.over = await this.shortOf(job.businessId, (asking.underWay + lot.length) * asking.of.price);
      if (asking.over !== '') break;
      asking.underWay += lot.length;
      const answers = lot.map((e164) => this.one(() => asking.of.ask(idFrom('lku', job.id, e164), e164)));
      const all = Promise.all(answers.map((x) => x.answer));
      kept = kept.then(async () => this.keep(asking, lot.length, await all));
      // Where one fails for good it is heard at the end, and nobody waits for those behind it any more.
      for (const x of [all, kept]) x.catch(() => undefined);
      await Promise.all(answers.map((x) => x.left));
      // Of a service that answers slowly no more is asked than a few lots ahead.
      while (asking.underWay > AHEAD * LOT) await Promise.race([kept, new Promise((r) => setTimeout(r, 50))]);
    }
    await kept;
    if (asking.over !== '' && asking.over !== STOPPED) await this.pause(job, asking.over);
    const tried = asking.answers.length > 0 || asking.context.isAwaited();
    return tried ? { done: false } : { done: false, at: this.p.clock.now() + AGAIN_MS };
  }

  /** Pays and keeps the answers of a lot in one transaction, with how far the job is: a crash leaves all of it or nothing. */
  private async keep<A>(asking: Asking<A>, asked: number, found: readonly (A | null)[]): Promise<void> {
    const { context, of } = asking;
    const { job } = context;
    const answers = found.filter((x) => x !== null);
    asking.underWay -= asked;
    asking.whole &&= answers.length === asked;
    if (answers.length === 0) return;
    const all = [...asking.answers, ...answers];
    const reached = asking.whole ? all.length : null;
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
        await this.p.jobs.keep(w, job, of.next(all, reached), job.doneCount + all.length);
      });
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      asking.over = error.message;
      return;
    }
    asking.answers = all;
    const done = job.doneCount + all.length;
    if (!(await context.progress(done, Math.max(job.totalCount, done))) && asking.over === '') asking.over = STOPPED;
  }

  /** Null where the service gave no answer: it is asked again under the same key, and is paid once. */
  private one<A>(question: () => Promise<A>): { left: Promise<void>; answer: Promise<A | null> } {
    const left = this.pacer.turn();
    return { left, answer: left.then(() => this.answerOf(question)) };
  }
  private async answerOf<A>(question: () => Promise<A>): Promise<A | null> {
    for (let tries = 0; tries < 3; tries++) {
      if (tries > 0) await this.pacer.turn();
      try {
        return await question();
      } catch (error) {
        if (error instanceof GatewayDown) return null;
        if (!(error instanceof GatewayBusy)) throw error;
        if (error.tooFast) this.pacer.tooSoon();
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

/** What stands for a number while it is asked about. */
const claimOf = <A>({ context, of }: Asking<A>, e164: string): string => `${of.what}|${context.job.businessId}|${e164}`;
