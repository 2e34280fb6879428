import {
  ContactFilter,
  type LookupEstimate,
  type ReassignedAnswerView,
  type ReassignedWhom,
} from '@long-gate/contracts';
import { dayIn, DEFAULT_PRICES, formatAmount, formatCents, PURPOSES } from '@long-gate/core';
import type { ReassignedReply } from '@long-gate/gateways';
import { z } from 'zod';
import { ActorShape, record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom, orderedId } from '../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import {
  countAsked,
  markDue,
  nextAsked,
  numberDigest,
  PacedQuestions,
  scheduledBusinesses,
  setReassignments,
  SLICE,
  type QuestionPayer,
  type ReassignedScope,
  type Textability,
} from '../contacts/index.js';
import type { PeopleBehind } from '../dispatch/index.js';
import type { Businesses } from '../settings/index.js';
import type { Ledger, NewEvent } from './ledger/ledger.js';
import * as store from './reassigned-store.js';

const DAY_MS = 86_400_000;

/** What a job carries: whose numbers, how old consent and answer must be, how far it is, and what it learnt. */
const Round = z.object({
  scope: z.union([
    z.literal('due'),
    z.object({
      listId: z.string().nullable(),
      filter: ContactFilter.nullable(),
      e164s: z.array(z.string()).nullable(),
    }),
  ]),
  before: z.number(),
  after: z.number().default(0),
  yes: z.number().default(0),
  noData: z.number().default(0),
  actor: ActorShape,
});
type Round = z.infer<typeof Round>;
const EVERYBODY = { listId: null, filter: null, e164s: null };

/** An answer with the moment of ours at which it was asked for. */
type Answered = ReassignedReply & { id: string; at: number };

/**
 * Asks whether numbers changed hands since their owners agreed (47 CFR 64.1200(m); rules.md, consent): by the day of the
 * last consent, before a dispatch, once a day where that is wished, and on demand. "Yes" voids the consent in the ledger
 * with the answer as evidence; "no data" holds offers until a later query says no.
 */
export class Reassigned {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly questions: PacedQuestions,
    private readonly textability: Textability,
    private readonly ledger: Ledger,
    private readonly behind: PeopleBehind,
    private readonly payer: QuestionPayer,
  ) {
    p.jobs.handle('reassigned', Round, (round, context) => this.slice(round, context), undefined, 'long');
    p.jobs.handle(
      'reassigned.schedule',
      z.unknown(),
      () => this.round(),
      'numbers are asked about, whether they changed hands, as each day',
    );
    p.db.facts.on('dispatch.sending', (w, { businessId, dispatchId, title, include, exclude }) =>
      this.beforeDispatch(w, { businessId, include, exclude }, dispatchId, title),
    );
    p.db.facts.on('reassigned.scheduled', (w) => p.jobs.wake(w, { key: 'reassigned.schedule' }));
    p.db.facts.on('contact.erased', async (w, { businessId, people }) => {
      for (const [e164, digest] of people) await store.putInPlace(w, businessId, e164, digest);
    });
  }

  /** The day's round, where a business wants one. */
  async begin(): Promise<void> {
    const at = this.p.clock.now() + DAY_MS;
    await this.p.db.write((w) =>
      this.p.jobs.add(w, { kind: 'reassigned.schedule', businessId: '', payload: {}, key: 'reassigned.schedule', at }),
    );
  }

  async estimate(businessId: string, whom: ReassignedWhom): Promise<z.infer<typeof LookupEstimate>> {
    const { scope, before } = await this.scopeOf(businessId, whom);
    const n = await countAsked(this.p.db, businessId, scope, before, this.p.clock.now());
    return {
      numbers: n,
      cost: n * DEFAULT_PRICES.reassignedQuery,
      seconds: PacedQuestions.seconds(n),
      balance: await this.payer.balance(this.p.db, businessId),
    };
  }

  /** @throws Problem 422 where nobody needs asking about, or the balance does not reach. */
  async start(
    actor: Actor,
    businessId: string,
    whom: ReassignedWhom,
    key: string,
  ): Promise<{ jobId: string; numbers: number }> {
    const jobKey = idFrom('rnd', businessId, key);
    const known = await this.p.jobs.idOf(this.p.db, jobKey);
    const e = await this.estimate(businessId, whom);
    if (known !== undefined) return { jobId: known, numbers: e.numbers };
    if (e.numbers === 0)
      throw refused(
        whom.again
          ? 'None of these has agreed to anything that is in force, so that there is nothing to ask about.'
          : 'None of these needs asking about: nothing they agreed to is in force, or they agreed or were asked about lately.',
      );
    if (e.balance < DEFAULT_PRICES.reassignedQuery)
      throw refused('The balance does not reach for a single query. Top up first.', [
        { field: 'balance', message: 'Top up first.' },
      ]);
    const { scope, before } = await this.scopeOf(businessId, whom);
    await this.p.db.write(async (w) => {
      await this.add(w, businessId, scope, before, actor, {
        key: jobKey,
        title: `Asking whether ${e.numbers === 1 ? 'a number' : `${e.numbers.toLocaleString('en-US')} numbers`} changed hands`,
        total: e.numbers,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'reassigned numbers asked',
        objectKind: 'lookups',
        objectId: jobKey,
        after: { numbers: e.numbers, cost: formatAmount(e.cost) },
      });
    });
    return { jobId: (await this.p.jobs.idOf(this.p.db, jobKey)) ?? '', numbers: e.numbers };
  }

  async answers(businessId: string, e164: string): Promise<ReassignedAnswerView[]> {
    const rows = await store.answersOf(this.p.db, businessId, e164);
    return rows.map(({ id, day, answer, askedAt }) => ({ id, day, answer, askedAt }));
  }

  /**
   * What was last answered about numbers stands where the gate reads it: of such as come (again), and of such as were to be
   * asked about and need it no more. @param at when that was seen; null leaves the moment of the answer.
   */
  async recall(w: Writer, businessId: string, e164s: readonly string[], at: number | null = null): Promise<void> {
    const by = new Map(e164s.flatMap((x) => [[x, x] as const, [numberDigest(businessId, x), x] as const]));
    // Of what stands under the number and what stands in its place the later answer counts.
    const answers = (await store.lastAnswers(w, businessId, [...by.keys()])).sort((a, b) => a.askedAt - b.askedAt);
    const known = new Map(answers.map((a) => [by.get(a.e164), a]));
    if (known.size === 0 && at === null) return;
    await setReassignments(
      w,
      businessId,
      e164s.map((x) => [
        x,
        known.get(x)?.answer === 'no data' ? 'no data' : 'clear',
        at ?? known.get(x)?.askedAt ?? null,
      ]),
    );
  }

  private async scopeOf(
    businessId: string,
    { behind, again, listId, filter, e164s }: ReassignedWhom,
  ): Promise<{ scope: ReassignedScope; before: number }> {
    const now = this.p.clock.now();
    const { reassignedDays } = await this.textability.policy(this.p.db, businessId);
    return {
      scope: {
        listId,
        filter,
        e164s: behind ? await this.behind.numbers(businessId, behind) : e164s,
      },
      before: again ? now : now - reassignedDays * DAY_MS,
    };
  }

  private async add(
    w: Writer,
    businessId: string,
    scope: Round['scope'],
    before: number,
    actor: Actor,
    job: { key: string; title: string; total?: number },
  ): Promise<void> {
    const payload: Round = { scope, before, after: 0, yes: 0, noData: 0, actor: { id: actor.id, name: actor.name } };
    await this.p.jobs.add(w, { kind: 'reassigned', businessId, payload, ...job });
  }

  /** In the write that begins a dispatch: whoever is to be asked about first is held until they were. */
  private async beforeDispatch(
    w: Writer,
    audience: Parameters<typeof markDue>[1],
    dispatchId: string,
    title: string,
  ): Promise<void> {
    const { businessId } = audience;
    const policy = await this.textability.policy(w, businessId);
    if (!policy.reassignedBeforeDispatch) return;
    const before = this.p.clock.now() - policy.reassignedDays * DAY_MS;
    const due = await markDue(w, audience, before);
    if (due === 0) return;
    await this.add(w, businessId, 'due', before, SYSTEM, {
      key: `reassigned:${dispatchId}`,
      title: `Asking whether numbers changed hands, before ${title}`,
      total: due,
    });
  }

  /** The day's round: of each business that wishes it, whoever is stale. */
  private async round(): Promise<JobOutcome> {
    const now = this.p.clock.now();
    for (const businessId of await scheduledBusinesses(this.p.db)) {
      const { reassignedDays } = await this.textability.policy(this.p.db, businessId);
      const before = now - reassignedDays * DAY_MS;
      await this.p.db.write(async (w) => {
        const underWay = (await this.p.jobs.underWay(w, businessId, 'reassigned')).map((j) => Round.parse(j.payload));
        if (
          underWay.some(
            (r) => r.scope !== 'due' && r.scope.e164s === null && r.scope.filter === null && r.scope.listId === null,
          )
        )
          return;
        const n = await countAsked(w, businessId, EVERYBODY, before, now);
        if (n > 0)
          await this.add(w, businessId, EVERYBODY, before, SYSTEM, {
            key: orderedId('rnd'),
            title: 'Asking whether numbers changed hands, as each day',
            total: n,
          });
      });
    }
    return { done: false, at: now + DAY_MS };
  }

  private async slice(round: Round, context: JobContext): Promise<JobOutcome> {
    const { job } = context;
    const { businessId } = job;
    const now = this.p.clock.now();
    const rows = await nextAsked(this.p.db, businessId, round.scope, round.before, now, round.after, SLICE);
    if (rows.length === 0 && round.after > 0) {
      // Whoever gave no answer the first time, or became due behind us, is asked now.
      const again = await countAsked(this.p.db, businessId, round.scope, round.before, now);
      if (again > 0) {
        await this.p.db.write((w) => this.p.jobs.keep(w, job, { ...round, after: 0 }, job.doneCount));
        return { done: false };
      }
    }
    if (rows.length === 0) return { done: true, result: told(round, job.doneCount) };
    const { time_zone } = await this.businesses.row(this.p.db, businessId);
    const agreed = await this.ledger.lastConsents(
      this.p.db,
      businessId,
      rows.map((x) => x.e164),
    );
    const asked = rows.filter((x) => agreed.get(x.e164) !== undefined);
    const nothing = rows.filter((x) => agreed.get(x.e164) === undefined);
    if (nothing.length > 0)
      // Nothing they agreed to is in force any more: there is nothing to ask, and nothing to hold for it.
      await this.p.db.write(async (w) => {
        await this.recall(
          w,
          businessId,
          nothing.map((x) => x.e164),
          now,
        );
        w.tell('reassigned.answered', { businessId });
      });
    if (asked.length === 0) return { done: false };
    return this.questions.slice<Answered>(
      context,
      asked.map((x) => x.e164),
      {
        price: DEFAULT_PRICES.reassignedQuery,
        what: 'reassigned number queries',
        ask: async (key, e164) => {
          const at = this.p.clock.now();
          const day = dayIn(agreed.get(e164) ?? at, time_zone);
          return { ...(await this.p.gateways.lines.reassigned(key, e164, day)), id: key, at };
        },
        keep: (w, answers) => this.keep(w, businessId, answers),
        next: (answers, reached): Round => ({
          ...round,
          after: reached === null ? round.after : (asked[reached - 1]?.id ?? round.after),
          yes: round.yes + answers.filter((a) => a.answer === 'yes').length,
          noData: round.noData + answers.filter((a) => a.answer === 'no data').length,
        }),
      },
    );
  }

  /** What an answer does: "yes" voids what was agreed to, as of the moment of asking; "no data" holds offers; "no" clears. */
  private async keep(w: Writer, businessId: string, answers: readonly Answered[]): Promise<void> {
    await store.addAnswers(
      w,
      answers.map(({ id, e164, day, answer, at }) => ({ id, businessId, e164, day, answer, askedAt: at })),
    );
    await setReassignments(
      w,
      businessId,
      answers.map((a) => [a.e164, a.answer === 'no data' ? 'no data' : 'clear', a.at]),
    );
    const events: NewEvent[] = [];
    const { time_zone } = await this.businesses.row(w, businessId);
    for (const { id, e164, day, at } of answers.filter((a) => a.answer === 'yes')) {
      const states = await this.ledger.statesOf(w, businessId, e164);
      // What was agreed to after the day that was asked about is the new owner's.
      const isOfBefore = (since: number | null): boolean => since === null || dayIn(since, time_zone) <= day;
      const purposes = PURPOSES.filter(
        (x) => ['granted', 'awaiting', 'unproven'].includes(states[x].state) && isOfBefore(states[x].since),
      );
      if (purposes.length === 0) continue;
      events.push({
        e164,
        purposes,
        kind: 'voided',
        how: 'reassigned numbers',
        happenedAt: at,
        recordedBy: 'system',
        evidence: { asked: day, answer: 'yes', query: id },
      });
    }
    if (events.length > 0) await this.ledger.append(w, businessId, events);
    w.tell('reassigned.answered', { businessId });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
  }
}

function told({ yes, noData }: Round, n: number): string {
  const numbers = n === 1 ? 'one number' : `${n.toLocaleString('en-US')} numbers`;
  const found = [
    yes > 0 ? `${yes.toLocaleString('en-US')} changed hands` : '',
    noData > 0 ? `of ${noData.toLocaleString('en-US')} nothing is known` : '',
  ].filter((x) => x !== '');
  return `${numbers} asked about for ${formatCents(n * DEFAULT_PRICES.reassignedQuery)}: ${found.length > 0 ? found.join(', ') : 'none changed hands'}`;
}
