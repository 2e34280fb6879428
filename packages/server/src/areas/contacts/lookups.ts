import { ContactFilter, type LookupScope as Scope } from '@long-gate/contracts';
import { DEFAULT_PRICES, formatCents } from '@long-gate/core';
import { GatewayBusy, GatewayDown, type LineAnswer } from '@long-gate/gateways';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../platform/audit.js';
import { idFrom } from '../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import { Problem, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import type { Contacts } from './contacts.js';
import { countStale, staleNumbers, type LookupScope } from './stale-store.js';

/** A little under the permitted 20 a second, so that no one-second window ever holds more, whatever the jitter. */
const SPACING_MS = 56;
const SLICE = 18;

/** What a job carries: whose lines, and who asked for it. */
const Lot = z.object({
  listId: z.string().nullable(),
  filter: ContactFilter.nullable().default(null),
  e164s: z.array(z.string()).nullable().default(null),
  askedBefore: z.number().nullable().default(null),
  actor: ActorShape,
});
type Lot = z.infer<typeof Lot>;

/** Whose lines are asked about; all where nothing is said. */
type Wish = Partial<Scope>;

/** Lets one call through every so often, for the whole process (wall time). */
class Pacer {
  private next = 0;
  async turn(): Promise<void> {
    const now = Date.now();
    const at = Math.max(now, this.next);
    this.next = at + SPACING_MS;
    if (at > now) await new Promise((r) => setTimeout(r, at - now));
  }
}

/** Asks the line-information service about contact numbers: paid, paced, durable. */
export class Lookups {
  private readonly pacer = new Pacer();

  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly businesses: Businesses,
  ) {
    p.jobs.handle('lookups', Lot, (lot, context) => this.slice(lot, context));
  }

  private scopeOf({ again, listId = null, filter = null, e164s = null }: Wish): LookupScope {
    return { listId, filter, e164s, askedBefore: again ? this.p.clock.now() : null };
  }

  async estimate(
    businessId: string,
    wish: Wish,
  ): Promise<{ numbers: number; cost: number; seconds: number; balance: number }> {
    const n = await countStale(this.p.db, businessId, this.scopeOf(wish), this.p.clock.now());
    return {
      numbers: n,
      cost: n * DEFAULT_PRICES.lookup,
      seconds: Math.ceil((n * SPACING_MS) / 1000),
      balance: (await this.businesses.row(this.p.db, businessId)).balance,
    };
  }

  async start(actor: Actor, businessId: string, wish: Wish, key: string): Promise<{ jobId: string; numbers: number }> {
    const jobKey = idFrom('lku', businessId, key);
    const known = await this.p.jobs.idOf(this.p.db, jobKey);
    const e = await this.estimate(businessId, wish);
    if (known !== undefined) return { jobId: known, numbers: e.numbers };
    if (e.numbers === 0)
      throw refused(
        wish.again ? 'Nobody is left to be asked about.' : 'No number needs asking about: every answer is fresh.',
      );
    if (e.balance < DEFAULT_PRICES.lookup)
      throw refused('The balance does not reach for a single lookup. Top up first.', [
        { field: 'balance', message: 'Top up first.' },
      ]);
    const lot: Lot = { ...this.scopeOf(wish), actor: { id: actor.id, name: actor.name } };
    await this.p.db.write(async (w) => {
      await this.p.jobs.add(w, {
        kind: 'lookups',
        businessId,
        payload: lot,
        title: e.numbers === 1 ? 'Lookup of one number' : `Lookups of ${e.numbers.toLocaleString('en-US')} numbers`,
        total: e.numbers,
        key: jobKey,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'lookups started',
        objectKind: 'lookups',
        objectId: jobKey,
        after: { numbers: e.numbers, cost: e.cost },
      });
    });
    return { jobId: (await this.p.jobs.idOf(this.p.db, jobKey)) ?? '', numbers: e.numbers };
  }

  /**
   * Asks about one number at once, as when somebody opts in. Charged like any other, and once for one key, however
   * often the asking is repeated after a crash.
   * @throws Problem 422 where the balance does not reach; nothing was asked then.
   */
  async one(businessId: string, e164: string, key: string): Promise<LineAnswer> {
    const entry = idFrom('mon', businessId, 'lookup', key);
    await this.p.db.write((w) => this.businesses.afford(w, businessId, DEFAULT_PRICES.lookup));
    await this.pacer.turn();
    const answer = await this.p.gateways.lines.lookup(idFrom('lku', businessId, key), e164);
    await this.p.db.write(async (w) => {
      if (await this.businesses.booked(w, entry)) return;
      await this.businesses.charge(
        w,
        businessId,
        DEFAULT_PRICES.lookup,
        'lookup of one number',
        'lookups',
        e164,
        entry,
      );
      await this.contacts.storeLookup(w, businessId, [answer]);
    });
    return answer;
  }

  /** About a second's worth of lookups; answers and their price are kept in one transaction. */
  private async slice(lot: Lot, context: JobContext): Promise<JobOutcome> {
    const { job } = context;
    const rows = await staleNumbers(this.p.db, job.businessId, lot, this.p.clock.now(), SLICE);
    if (rows.length === 0)
      return {
        done: true,
        result: `${job.doneCount === 1 ? 'one number' : `${job.doneCount.toLocaleString('en-US')} numbers`} looked up for ${formatCents(job.doneCount * DEFAULT_PRICES.lookup)}`,
      };
    const short = await this.shortOf(job.businessId, rows.length);
    if (short !== '') return this.pause(job, short);
    const answers: LineAnswer[] = [];
    for (const e164 of rows) {
      await this.pacer.turn();
      try {
        // The key stays the same after a crash: the service answers again, and is paid once.
        answers.push(await this.p.gateways.lines.lookup(idFrom('lku', job.id, e164), e164));
      } catch (error) {
        if (error instanceof GatewayBusy || error instanceof GatewayDown) break;
        throw error;
      }
    }
    if (answers.length === 0) return { done: false, at: this.p.clock.now() + 5_000 };
    try {
      await this.p.db.write(async (w) => {
        await this.businesses.charge(
          w,
          job.businessId,
          answers.length * DEFAULT_PRICES.lookup,
          'lookups',
          'lookups',
          job.id,
          idFrom('mon', job.id),
        );
        await this.contacts.storeLookup(w, job.businessId, answers);
      });
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      return this.pause(job, error.message);
    }
    const done = job.doneCount + answers.length;
    await context.progress(done, Math.max(job.totalCount, done));
    return { done: false };
  }

  /** Why so many lookups cannot be paid now; empty where they can. */
  private async shortOf(businessId: string, lookups: number): Promise<string> {
    try {
      await this.p.db.write((w) => this.businesses.afford(w, businessId, lookups * DEFAULT_PRICES.lookup));
      return '';
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      return error.message;
    }
  }

  private async pause(job: JobContext['job'], why: string): Promise<JobOutcome> {
    await this.p.db.write(async (w) => {
      await this.p.jobs.control(w, job.businessId, job.id, 'pause');
      await this.p.jobs.explain(w, job.id, `Paused: ${why}`);
    });
    return { done: false };
  }
}
