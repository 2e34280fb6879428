import { DEFAULT_PRICES, DEFAULT_TEXTABILITY, formatCents } from '@long-gate/core';
import { GatewayBusy, GatewayDown, type LineAnswer } from '@long-gate/gateways';
import { record, type Actor } from '../../platform/audit.js';
import { idFrom } from '../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import { Problem, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import type { Contacts } from './contacts.js';

/** A little under the permitted 20 a second, so that no one-second window ever holds more, whatever the jitter. */
const SPACING_MS = 56;
const SLICE = 18;

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
    p.jobs.handle<{ listId: string | null; actor: Actor }>('lookups', (payload, context) =>
      this.slice(payload, context),
    );
  }

  private scope(listId: string | null): string {
    const stale = `(cn.looked_up_at IS NULL OR cn.looked_up_at < $now - (CASE WHEN cn.reachable THEN ${DEFAULT_TEXTABILITY.staleDays} ELSE ${DEFAULT_TEXTABILITY.staleUnreachableDays} END) * 86400000)`;
    return `cn.business_id = $businessId AND ${stale}${listId === null ? '' : ' AND EXISTS (SELECT 1 FROM list_member m WHERE m.contact_id = cn.contact_id AND m.list_id = $listId)'}`;
  }

  private bind(businessId: string, listId: string | null): Record<string, unknown> {
    return { businessId, now: this.p.clock.now(), ...(listId === null ? {} : { listId }) };
  }

  async estimate(
    businessId: string,
    listId: string | null,
  ): Promise<{ numbers: number; cost: number; seconds: number; balance: number }> {
    const row = await this.p.db.one<{ n: number }>(
      `SELECT count(*) AS n FROM contact_number cn WHERE ${this.scope(listId)}`,
      this.bind(businessId, listId),
    );
    const n = row?.n ?? 0;
    return {
      numbers: n,
      cost: n * DEFAULT_PRICES.lookup,
      seconds: Math.ceil((n * SPACING_MS) / 1000),
      balance: (await this.businesses.row(this.p.db, businessId)).balance,
    };
  }

  async start(
    actor: Actor,
    businessId: string,
    listId: string | null,
    key: string,
  ): Promise<{ jobId: string; numbers: number }> {
    const e = await this.estimate(businessId, listId);
    if (e.numbers === 0) throw refused('No number needs asking about: every answer is fresh.');
    if (e.balance < DEFAULT_PRICES.lookup)
      throw refused('The balance does not reach for a single lookup. Top up first.', [
        { field: 'balance', message: 'Top up first.' },
      ]);
    const jobKey = idFrom('lku', businessId, key);
    await this.p.db.write(async (w) => {
      await this.p.jobs.add(w, {
        kind: 'lookups',
        businessId,
        payload: { listId, actor: { id: actor.id, name: actor.name } },
        title: `Lookups of ${e.numbers.toLocaleString('en-US')} numbers`,
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
    const job = await this.p.db.one<{ id: string }>('SELECT id FROM job WHERE key = $1', [jobKey]);
    return { jobId: job?.id ?? '', numbers: e.numbers };
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
  private async slice(payload: { listId: string | null; actor: Actor }, context: JobContext): Promise<JobOutcome> {
    const { job } = context;
    const rows = await this.p.db.all<{ e164: string }>(
      `SELECT cn.e164 FROM contact_number cn WHERE ${this.scope(payload.listId)} ORDER BY cn.id LIMIT ${SLICE}`,
      this.bind(job.business_id, payload.listId),
    );
    if (rows.length === 0)
      return {
        done: true,
        result: `${job.done_count.toLocaleString('en-US')} numbers looked up for ${formatCents(job.done_count * DEFAULT_PRICES.lookup)}`,
      };
    const short = await this.shortOf(job.business_id, rows.length);
    if (short !== '') return this.pause(job, short);
    const answers: LineAnswer[] = [];
    for (const row of rows) {
      await this.pacer.turn();
      try {
        // The key stays the same after a crash: the service answers again, and is paid once.
        answers.push(await this.p.gateways.lines.lookup(idFrom('lku', job.id, row.e164), row.e164));
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
          job.business_id,
          answers.length * DEFAULT_PRICES.lookup,
          'lookups',
          'lookups',
          job.id,
          idFrom('mon', job.id),
        );
        await this.contacts.storeLookup(w, job.business_id, answers);
      });
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      return this.pause(job, error.message);
    }
    const done = job.done_count + answers.length;
    await context.progress(done, Math.max(job.total_count, done));
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
      await this.p.jobs.control(w, job.business_id, job.id, 'pause');
      await this.p.jobs.explain(w, job.id, `Paused: ${why}`);
    });
    return { done: false };
  }
}
