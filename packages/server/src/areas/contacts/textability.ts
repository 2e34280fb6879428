import { TextabilityPolicyShape, type TextabilityPolicyView } from '@long-gate/contracts';
import { DEFAULT_PRICES, DEFAULT_REASSIGNED, DEFAULT_TEXTABILITY } from '@long-gate/core';
import { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader } from '../../platform/db.js';
import type { JobContext, JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import { expectVersion, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import type { QuestionPayer } from './question-payer.js';
import { countAsked } from './reassignment-store.js';
import { countStale } from './stale-store.js';
import * as store from './textability-store.js';
import { noteTroubles, settleTroubles } from './trouble-store.js';

const AS_SHIPPED: TextabilityPolicyView = {
  ...DEFAULT_TEXTABILITY,
  automatic: false,
  recheck: false,
  ...DEFAULT_REASSIGNED,
  paidBy: '',
};
const Applying = z.object({ policy: TextabilityPolicyShape, after: z.number(), changed: z.number() });
type Applying = z.infer<typeof Applying>;
/** Ids walked at once. */
const STRETCH = 4000;
const LINES = ['voip', 'toll-free'] as const;
const wantedFor = (line: (typeof LINES)[number], p: TextabilityPolicyView): 'yes' | 'no' =>
  (line === 'voip' ? p.voip : p.tollFree) ? 'yes' : 'no';

/** What a business counts as textable; where that is changed its numbers follow, and the count is known beforehand. */
export class Textability {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly payer: QuestionPayer,
  ) {
    p.jobs.handle('textability', Applying, (applying, context) => this.apply(applying, context));
  }

  async policy(r: Reader, businessId: string): Promise<TextabilityPolicyView & { version: number }> {
    const row = await store.policyRow(r, businessId);
    if (!row) return { ...AS_SHIPPED, version: 0 };
    const { businessId: _, ...policy } = row.get({ plain: true });
    return { ...AS_SHIPPED, ...policy };
  }

  async preview(
    businessId: string,
    policy: TextabilityPolicyView,
  ): Promise<{ opens: number; bars: number; stale: number; cost: number; unasked: number; unaskedCost: number }> {
    const r = this.p.db;
    const now = this.p.clock.now();
    const [all, replied, stale, unasked] = await Promise.all([
      store.countByLine(r, businessId),
      store.repliedByLine(r, businessId),
      countStale(r, businessId, { listId: null, filter: null, e164s: null, askedBefore: null, terms: policy }, now),
      countAsked(
        r,
        businessId,
        { listId: null, filter: null, e164s: null },
        now - policy.reassignedDays * 86_400_000,
        now,
      ),
    ]);
    const count = (of: typeof all, to: 'yes' | 'no'): number =>
      of
        .filter((c) => LINES.some((l) => l === c.line && wantedFor(l, policy) === to) && c.textable !== to)
        .reduce((n, c) => n + c.n, 0);
    return {
      opens: count(all, 'yes') - count(replied, 'yes'),
      bars: count(all, 'no') - count(replied, 'no'),
      stale,
      cost: stale * DEFAULT_PRICES.lookup,
      unasked,
      unaskedCost: unasked * DEFAULT_PRICES.reassignedQuery,
    };
  }

  /** The policy, with the names of whoever pays for whom. */
  async shown(
    businessId: string,
  ): Promise<TextabilityPolicyView & { version: number; payer: string; paysFor: { id: string; name: string }[] }> {
    const policy = await this.policy(this.p.db, businessId);
    return {
      ...policy,
      payer: policy.paidBy === '' ? '' : (await this.businesses.row(this.p.db, policy.paidBy)).legal_name,
      paysFor: await this.payer.clientsOf(this.p.db, businessId),
    };
  }

  /** @throws Problem 412 where it was changed meanwhile, 422 where another is to pay for whom this person does not act. */
  async save(
    actor: Actor & { roles?: Readonly<Record<string, string>> },
    businessId: string,
    seen: number | null,
    policy: TextabilityPolicyView,
  ): Promise<void> {
    await this.p.db.write(async (w) => {
      const before = await this.policy(w, businessId);
      expectVersion('policy', before, seen);
      const { paidBy } = policy;
      if (
        paidBy !== before.paidBy &&
        paidBy !== '' &&
        (paidBy === businessId || actor.roles?.[paidBy] !== 'administrator')
      )
        throw refused('Another business pays only where you are an administrator of it too.', [
          { field: 'paidBy', message: 'Choose a business that you administer.' },
        ]);
      const row = await store.policyRow(w, businessId);
      if (row) await row.update({ ...policy, version: row.version + 1 });
      else await store.addPolicy(w, businessId, policy);
      const { version: _, ...was } = before;
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'textability changed',
        objectKind: 'business',
        objectId: businessId,
        before: was,
        after: policy,
      });
      if (paidBy !== was.paidBy)
        for (const other of [paidBy, was.paidBy].filter((x) => x !== ''))
          await record(w, this.p.clock, {
            businessId: other,
            actor,
            action: other === paidBy ? 'pays for the lookups of another' : 'pays no longer for the lookups of another',
            objectKind: 'business',
            objectId: businessId,
          });
      if (!was.reassignedOnSchedule && policy.reassignedOnSchedule) w.tell('reassigned.scheduled', { businessId });
      if (was.voip !== policy.voip || was.tollFree !== policy.tollFree)
        await this.p.jobs.add(w, {
          kind: 'textability',
          businessId,
          payload: { policy, after: 0, changed: 0 } satisfies Applying,
          title: 'Numbers follow what counts as textable',
          key: `textability:${businessId}:${before.version + 1}`,
        });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
    });
  }

  /** Stretch by stretch; a policy that was changed again meanwhile has a job of its own, and this one ends. */
  private async apply(applying: Applying, context: JobContext): Promise<JobOutcome> {
    const { job } = context;
    const { businessId } = job;
    const last = await store.lastNumberId(this.p.db);
    const lot = new Lot(STRETCH);
    let now = applying;
    while (now.after < last) {
      const upTo = now.after + lot.size;
      now = await lot.write(this.p.db, async (w) => {
        const current = await this.policy(w, businessId);
        const stands = LINES.every((l) => wantedFor(l, current) === wantedFor(l, now.policy));
        if (!stands || !(await this.p.jobs.isRunning(w, job.id))) return { ...now, after: Infinity };
        let changed = 0;
        for (const line of LINES) {
          const to = wantedFor(line, now.policy);
          const moved = await store.setByLine(w, businessId, line, to, { after: now.after, upTo });
          const learnt = moved.map((m) => ({ ...m, detail: line }));
          if (to === 'no') await noteTroubles(w, businessId, 'not-textable', 'lookup', learnt, this.p.clock.now());
          await settleTroubles(
            w,
            businessId,
            moved.map((m) => m.e164),
          );
          changed += moved.length;
        }
        const next = { ...now, after: upTo, changed: now.changed + changed };
        await this.p.jobs.keep(w, job, next, Math.min(upTo, last));
        return next;
      });
      if (!Number.isFinite(now.after)) return { done: true, result: 'another policy is in force' };
      if (!(await context.progress(Math.min(now.after, last), last))) return { done: false };
    }
    await this.p.db.write((w) => {
      w.tell('contacts.cleared', { businessId });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
      return Promise.resolve();
    });
    return { done: true, result: `${now.changed.toLocaleString('en-US')} numbers changed sides` };
  }
}
