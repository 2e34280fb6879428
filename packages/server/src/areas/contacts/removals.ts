import { ContactFilter, type deleteContacts } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound, refused } from '../../platform/problem.js';
import { contactById, numbersOf } from './contact-store.js';
import type { Contacts } from './contacts.js';
import { dropMergesOf } from './merge-store.js';
import { numberDigest } from './number-digest.js';
import { pageOfNumbers } from './page-store.js';
import { numbersOfContacts, removeContacts } from './removal-store.js';

const Wish = z.object({
  ids: z.array(z.string()).nullable(),
  filter: ContactFilter.nullable(),
  actor: ActorShape,
  seen: z.number(),
});
type Wish = z.infer<typeof Wish>;
const n = (count: number): string => count.toLocaleString('en-US');

/** Why somebody cannot be erased now; empty where nothing holds them. Given by whoever keeps the evidence. */
export type HoldsPerson = (w: Writer, businessId: string, e164s: readonly string[]) => Promise<string>;

/** Deleting contacts, and erasing a person on their request. What they agreed to and refused stays in the ledger. */
export class Removals {
  private readonly holders: HoldsPerson[] = [];

  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
  ) {
    p.jobs.handle('contacts.delete', Wish, (wish, context) => this.turn(wish, context));
  }

  heldBy(holds: HoldsPerson): void {
    this.holders.push(holds);
  }

  /**
   * Deletes contacts as a job, lot by lot; one that was deleted is not there to be deleted again.
   * @throws Problem 409 where more or fewer match now than were seen.
   */
  async delete(
    actor: Actor,
    businessId: string,
    { ids, filter, seen }: z.output<typeof deleteContacts.body>,
    key: string,
  ): Promise<{ jobId: string; contacts: number }> {
    const jobKey = idFrom('cdl', businessId, key);
    const known = await this.p.jobs.idOf(this.p.db, jobKey);
    if (known !== undefined) return { jobId: known, contacts: seen };
    const total = ids ? ids.length : (await this.contacts.facets(businessId, filter ?? {})).total;
    if (total === 0) throw refused('Nobody matches these filters any more.');
    if (total !== seen)
      throw conflict(`${n(total)} contacts match now; ${n(seen)} did when you looked. Look again, then choose all.`);
    const jobId = await this.p.db.write(async (w) => {
      const meanwhile = await this.p.jobs.idOf(w, jobKey);
      if (meanwhile !== undefined) return meanwhile;
      const wish: Wish = { ids, filter, actor: { id: actor.id, name: actor.name }, seen };
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'deleting contacts',
        objectKind: 'contact',
        objectId: '',
        after: { ...(filter ? { filter } : {}), contacts: total },
      });
      return this.p.jobs.add(w, {
        kind: 'contacts.delete',
        businessId,
        payload: wish,
        title: total === 1 ? 'Deleting one contact' : `Deleting ${n(total)} contacts`,
        total,
        key: jobKey,
      });
    });
    return { jobId, contacts: total };
  }

  private async turn(wish: Wish, context: JobContext): Promise<JobOutcome> {
    const { job } = context;
    const { businessId } = job;
    const lot = new Lot(500);
    let done = job.doneCount;
    for (;;) {
      // What was deleted is gone: the next lot is always the first. Never more than were seen.
      const size = Math.min(lot.size, wish.seen - done);
      const ids =
        size <= 0
          ? []
          : wish.ids
            ? wish.ids.slice(done, done + size)
            : (await pageOfNumbers(this.p.db, businessId, wish.filter ?? {}, null, size, this.p.clock.now())).map(
                (x) => x.contactId,
              );
      if (ids.length === 0) break;
      const step = await lot.write(
        this.p.db,
        async (w) => {
          if (!(await this.p.jobs.isRunning(w, job.id))) return null;
          await this.contacts.leave(w, businessId, await numbersOfContacts(w, businessId, ids));
          const gone = await removeContacts(w, businessId, ids);
          await this.p.jobs.keep(w, job, wish, done + ids.length);
          return gone;
        },
        ids.length,
      );
      if (step === null) return { done: false };
      done += ids.length;
      if (!(await context.progress(done, wish.seen))) return { done: false };
    }
    await this.p.db.write(async (w) => {
      await record(w, this.p.clock, {
        businessId,
        actor: wish.actor,
        action: 'contacts deleted',
        objectKind: 'contact',
        objectId: '',
        after: { contacts: done },
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
    });
    return {
      done: true,
      result: `${done === 1 ? 'one contact' : `${n(done)} contacts`} deleted; the ledger keeps what they said`,
    };
  }

  /**
   * Erases a person on their request: name, addresses, own fields, numbers, lists, and the words of what was written
   * between them and the business. The ledger stays as the proof of what was agreed and refused, and what they refused
   * stands where a number comes again.
   * @throws Problem 409 where a dispute holds the evidence; nothing is taken away then, and that is on the trail.
   */
  async erase(
    actor: Actor,
    businessId: string,
    id: string,
    request: string,
  ): Promise<{ gone: string[]; kept: string[]; digests: string[] }> {
    const held = await this.p.db.write(async (w) => {
      const contact = await contactById(w, businessId, id);
      if (!contact) throw notFound('contact');
      const e164s = (await numbersOf(w, id)).map((x) => x.e164);
      let why = '';
      for (const holds of this.holders) why ||= await holds(w, businessId, e164s);
      if (why !== '')
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: 'erasing refused',
          objectKind: 'contact',
          objectId: id,
          after: { request, why },
        });
      return why;
    });
    if (held !== '') throw conflict(held);
    return this.p.db.write(async (w) => {
      const contact = await contactById(w, businessId, id);
      if (!contact) throw notFound('contact');
      const numbers = await numbersOf(w, id);
      const e164s = numbers.map((x) => x.e164);
      const digests = e164s.map((e164) => numberDigest(businessId, e164));
      await this.contacts.leave(w, businessId, numbers);
      await removeContacts(w, businessId, [id]);
      await dropMergesOf(w, businessId, id);
      w.tell('contact.erased', { businessId, people: e164s.map((e164, i) => [e164, digests[i] ?? ''] as const) });
      const gone = [
        'Name, e-mail, address, language and own fields',
        `${e164s.length === 1 ? 'The number' : `${e164s.length} numbers`} with line type, carrier and what delivery taught`,
        'Lists and tags',
        'The words of texts to and from them, and their conversation',
        'Evidence packs that were made about them',
      ];
      const kept = [
        'The ledger: what was agreed and refused by these numbers, with its proof and the chain, as the law asks',
        'The audit trail, with what staff entered and changed',
        'Do-not-call lists and lists of opt-outs as they were handed in, since they keep texts away',
        'What the reassigned numbers database answered, under a digest in place of the number',
        'Counts of texts, which name nobody',
      ];
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'person erased',
        objectKind: 'contact',
        objectId: id,
        after: { request, digests },
      });
      w.afterCommit(() => {
        this.p.live.tell({ businessId, topic: 'contacts', id });
        this.p.live.tell({ businessId, topic: 'inbox' });
      });
      return {
        gone,
        kept: [
          ...kept,
          `Their digests: ${e164s.map((e, i) => `${formatPhone(e)} is ${digests[i]?.slice(0, 12)}…`).join(', ')}`,
        ],
        digests,
      };
    });
  }
}
