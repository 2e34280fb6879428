import { ContactFilter, type LookupScope as Scope } from '@long-gate/contracts';
import { DEFAULT_PRICES, formatAmount, formatCents } from '@long-gate/core';
import type { LineAnswer } from '@long-gate/gateways';
import { z } from 'zod';
import { ActorShape, record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom, orderedId } from '../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import type { Contacts } from './contacts.js';
import type { QuestionPayer } from './question-payer.js';
import { PacedQuestions, SLICE } from './paced-questions.js';
import { countStale, staleNumbers, type LookupScope } from './stale-store.js';
import type { Textability } from './textability.js';
import { recheckingBusinesses } from './textability-store.js';

const DAY_MS = 86_400_000;

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

/** Asks the line-information service about contact numbers: paid, paced, durable. */
export class Lookups {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly textability: Textability,
    private readonly questions: PacedQuestions,
    private readonly payer: QuestionPayer,
  ) {
    p.jobs.handle('lookups', Lot, (lot, context) => this.slice(lot, context), undefined, 'long');
    p.jobs.handle('lookups.recheck', z.unknown(), () => this.recheck(), 'stale lookups are asked again, as each day');
    contacts.whenNew((w, businessId) => this.byThemselves(w, businessId, 'Lookups of new numbers'));
  }

  /** The day's round of asking again what has gone stale, where a business wants that. */
  async begin(): Promise<void> {
    const at = this.p.clock.now() + DAY_MS;
    await this.p.db.write((w) =>
      this.p.jobs.add(w, { kind: 'lookups.recheck', businessId: '', payload: {}, key: 'lookups.recheck', at }),
    );
  }

  private async recheck(): Promise<JobOutcome> {
    for (const businessId of await recheckingBusinesses(this.p.db))
      if ((await this.estimate(businessId, {})).numbers > 0)
        await this.p.db.write((w) => this.byThemselves(w, businessId, 'Lookups of what has gone stale', true));
    return { done: false, at: this.p.clock.now() + DAY_MS };
  }

  /** Begins to ask about whoever was never asked or has gone stale, unless such a round is under way. */
  private async byThemselves(w: Writer, businessId: string, title: string, stale = false): Promise<void> {
    if (!stale && !(await this.textability.policy(w, businessId)).automatic) return;
    const underWay = (await this.p.jobs.underWay(w, businessId, 'lookups')).map((j) => Lot.parse(j.payload));
    if (underWay.some((l) => l.listId === null && l.filter === null && l.e164s === null)) return;
    const lot: Lot = { listId: null, filter: null, e164s: null, askedBefore: null, actor: SYSTEM };
    await this.p.jobs.add(w, {
      kind: 'lookups',
      businessId,
      payload: lot,
      title,
      key: orderedId('lku'),
    });
  }

  private async scopeOf(
    businessId: string,
    { again, listId = null, filter = null, e164s = null }: Wish,
  ): Promise<LookupScope> {
    const terms = await this.textability.policy(this.p.db, businessId);
    return { listId, filter, e164s, askedBefore: again ? this.p.clock.now() : null, terms };
  }

  async estimate(
    businessId: string,
    wish: Wish,
  ): Promise<{ numbers: number; cost: number; seconds: number; balance: number }> {
    const n = await countStale(this.p.db, businessId, await this.scopeOf(businessId, wish), this.p.clock.now());
    return {
      numbers: n,
      cost: n * DEFAULT_PRICES.lookup,
      seconds: PacedQuestions.seconds(n),
      balance: await this.payer.balance(this.p.db, businessId),
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
    const { terms: _, ...scope } = await this.scopeOf(businessId, wish);
    const lot: Lot = { ...scope, actor: { id: actor.id, name: actor.name } };
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
        after: { numbers: e.numbers, cost: formatAmount(e.cost) },
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
    await this.p.db.write((w) => this.payer.afford(w, businessId, DEFAULT_PRICES.lookup));
    await this.questions.turn();
    const answer = await this.p.gateways.lines.lookup(idFrom('lku', businessId, key), e164);
    await this.p.db.write(async (w) => {
      if (await this.payer.isPaid(w, entry)) return;
      await this.payer.pay(w, businessId, {
        what: 'lookup of one number',
        price: DEFAULT_PRICES.lookup,
        answered: 1,
        objectId: e164,
        entryId: entry,
      });
      await this.contacts.storeLookup(w, businessId, [answer]);
    });
    return answer;
  }

  /** A few seconds' worth of lookups; answers and their price are kept in one transaction. */
  private async slice(lot: Lot, context: JobContext): Promise<JobOutcome> {
    const { job } = context;
    const stale = async (): Promise<string[]> => {
      const terms = await this.textability.policy(this.p.db, job.businessId);
      return staleNumbers(this.p.db, job.businessId, { ...lot, terms }, this.p.clock.now(), SLICE);
    };
    const rows = await stale();
    if (rows.length === 0)
      return {
        done: true,
        result: `${job.doneCount === 1 ? 'one number' : `${job.doneCount.toLocaleString('en-US')} numbers`} looked up for ${formatCents(job.doneCount * DEFAULT_PRICES.lookup)}`,
      };
    return this.questions.slice(context, rows, {
      price: DEFAULT_PRICES.lookup,
      what: 'lookups',
      ask: (key, e164) => this.p.gateways.lines.lookup(key, e164),
      keep: (w, answers) => this.contacts.storeLookup(w, job.businessId, answers),
      next: () => lot,
      more: stale,
    });
  }
}
