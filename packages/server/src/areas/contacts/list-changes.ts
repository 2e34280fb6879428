import { ContactFilter, type ListChange } from '@long-gate/contracts';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../platform/audit.js';
import { idFrom } from '../../platform/ids.js';
import type { Job, JobContext, JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, refused } from '../../platform/problem.js';
import type { Contacts } from './contacts.js';
import { listById, putOnList, takeOffList } from './list-store.js';
import type { Lists } from './lists.js';
import { pageOfNumbers } from './page-store.js';

/** So long it goes on before other jobs have their turn. */
const TURN_MS = 500;
const n = (x: number): string => x.toLocaleString('en-US');

/** What a job carries: whom it is about, and how far it has come. */
const Wish = z.object({
  listId: z.string(),
  change: z.enum(['put on', 'take off']),
  filter: ContactFilter,
  actor: ActorShape,
  /** The place in the list of contacts after which it goes on. */
  after: z.array(z.union([z.string(), z.number()])).nullable(),
  /** How many it has looked at since it began to walk. */
  looked: z.number(),
  changed: z.number(),
  /** It walks the list a second time. */
  again: z.boolean().default(false),
});
type Wish = z.infer<typeof Wish>;

/**
 * Puts everybody a filter leaves on a list, or takes them off: a job in lots, each kept together with the place it has
 * reached. It walks the list of contacts by name, and once more where it saw fewer than there were: somebody may have been
 * renamed to a place that was behind it. Who begins to match there meanwhile is not reached.
 */
export class ListChanges {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly lists: Lists,
  ) {
    p.jobs.handle('list change', Wish, (wish, context) => this.turn(wish, context));
  }

  /**
   * @param wish.seen how many matched when it was asked for.
   * @throws Problem 404 where there is no such list, 409 where more or fewer match now, 422 where nobody does.
   */
  async start(
    actor: Actor,
    businessId: string,
    listId: string,
    { change, filter, seen }: ListChange,
    key: string,
  ): Promise<{ jobId: string; contacts: number }> {
    const list = await this.lists.known(this.p.db, businessId, listId);
    const jobKey = idFrom('lch', businessId, key);
    const known = await this.p.jobs.idOf(this.p.db, jobKey);
    if (known !== undefined) return { jobId: known, contacts: seen };
    const { total } = await this.contacts.facets(businessId, filter);
    if (total === 0) throw refused('Nobody matches these filters any more.');
    if (total !== seen)
      throw conflict(`${n(total)} contacts match now; ${n(seen)} did when you looked. Look again, then choose all.`);
    const jobId = await this.p.db.write(async (w) => {
      const meanwhile = await this.p.jobs.idOf(w, jobKey);
      if (meanwhile !== undefined) return meanwhile;
      const wish: Wish = {
        listId,
        change,
        filter,
        actor: { id: actor.id, name: actor.name },
        after: null,
        looked: 0,
        changed: 0,
        again: false,
      };
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: change === 'put on' ? 'putting all that match on a list' : 'taking all that match off a list',
        objectKind: 'list',
        objectId: listId,
        after: { filter, contacts: total },
      });
      return this.p.jobs.add(w, {
        kind: 'list change',
        businessId,
        payload: wish,
        title: change === 'put on' ? `Putting contacts on “${list.name}”` : `Taking contacts off “${list.name}”`,
        total,
        key: jobKey,
      });
    });
    return { jobId, contacts: total };
  }

  /** Lot by lot until its turn is over, nobody is left, or it was paused or cancelled. */
  private async turn(wish: Wish, { job }: JobContext): Promise<JobOutcome> {
    const until = performance.now() + TURN_MS;
    const lot = new Lot(1000);
    let step: Wish | JobOutcome = wish;
    while (!('done' in step) && performance.now() < until) step = await this.step(step, job, lot);
    this.p.live.tell({ businessId: job.businessId, topic: 'contacts', id: wish.listId });
    return 'done' in step ? step : { done: false };
  }

  private async step(wish: Wish, job: Job, lot: Lot): Promise<Wish | JobOutcome> {
    const { db, jobs, clock } = this.p;
    const { listId, change } = wish;
    const people = await pageOfNumbers(db, job.businessId, wish.filter, wish.after, lot.size, clock.now());
    const last = people.at(-1);
    return lot.write<Wish | JobOutcome>(
      db,
      async (w) => {
        if (!(await jobs.isRunning(w, job.id))) return { done: false };
        const list = await listById(w, job.businessId, listId);
        if (!list) return { done: true, result: 'the list is no more' };
        if (!last && wish.looked < job.totalCount && !wish.again) {
          const anew: Wish = { ...wish, after: null, looked: 0, again: true };
          await jobs.keep(w, job, anew, wish.looked);
          return anew;
        }
        if (!last) {
          await record(w, clock, {
            businessId: job.businessId,
            actor: wish.actor,
            action: 'members changed',
            objectKind: 'list',
            objectId: listId,
            after: change === 'put on' ? { added: wish.changed, removed: 0 } : { added: 0, removed: wish.changed },
          });
          return { done: true, result: resultOf(wish, list.name) };
        }
        const ids = people.map((x) => x.contactId);
        const changed =
          change === 'put on' ? await putOnList(w, job.businessId, listId, ids) : await takeOffList(w, listId, ids);
        const next: Wish = {
          ...wish,
          after: [...last.place],
          looked: wish.looked + people.length,
          changed: wish.changed + changed.length,
        };
        await jobs.keep(w, job, next, Math.max(next.looked, wish.again ? job.doneCount : 0));
        return next;
      },
      people.length,
    );
  }
}

function resultOf({ change, looked, changed }: Wish, list: string): string {
  const rest = looked - changed;
  if (change === 'put on') return `${n(changed)} put on “${list}”${rest > 0 ? `; ${n(rest)} were on it already` : ''}`;
  return `${n(changed)} taken off “${list}”${rest > 0 ? `; ${n(rest)} were not on it` : ''}`;
}
