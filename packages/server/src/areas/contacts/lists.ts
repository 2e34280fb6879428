import type { ContactList } from '@long-gate/contracts';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound } from '../../platform/problem.js';
import { addList, joinList, listById, listByName, listsOf, putOnList, takeOffList } from './list-store.js';

/** Lists and tags, and who is on them. */
export class Lists {
  constructor(private readonly p: Platform) {}

  all(r: Reader, businessId: string): Promise<ContactList[]> {
    return listsOf(r, businessId);
  }

  async add(actor: Actor, businessId: string, name: string, kind: 'list' | 'tag'): Promise<ContactList> {
    const id = await this.p.db.write(async (w) => {
      if (await listByName(w, businessId, kind, name)) throw conflict(`There is already a ${kind} “${name}”.`);
      return this.ensure(w, actor, businessId, name, kind);
    });
    return { id, name, kind, count: 0 };
  }

  /** The list of this name, made where there is none yet. */
  async ensure(w: Writer, actor: Actor, businessId: string, name: string, kind: 'list' | 'tag'): Promise<string> {
    const known = await listByName(w, businessId, kind, name);
    if (known) return known.id;
    const id = newId('lst');
    await addList(w, { id, businessId, name, kind, createdAt: this.p.clock.now() });
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: `${kind} made`,
      objectKind: 'list',
      objectId: id,
      after: { name },
    });
    return id;
  }

  /** Puts a contact on a list by the contact's own act. */
  join(w: Writer, listId: string, contactId: string): Promise<void> {
    return joinList(w, listId, contactId);
  }

  /** @returns the list as it is now, and who came to it and left it; who was on it already, or was not, is no change. */
  async changeMembers(
    actor: Actor,
    businessId: string,
    id: string,
    add: readonly string[],
    remove: readonly string[],
  ): Promise<ContactList & { added: string[]; removed: string[] }> {
    return this.p.db.write(async (w) => {
      await this.known(w, businessId, id);
      const added = await putOnList(w, businessId, id, add);
      const removed = await takeOffList(w, id, remove);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'members changed',
        objectKind: 'list',
        objectId: id,
        after: { added: added.length, removed: removed.length },
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id }));
      return { ...(await this.known(w, businessId, id)), added, removed };
    });
  }

  /** Puts people on a list, lot by lot; done again after a crash, it goes on. @returns how many were not on it before. */
  async putAll(actor: Actor, businessId: string, id: string, lots: AsyncIterable<readonly string[]>): Promise<number> {
    let added = 0;
    for await (const lot of lots) added += (await this.p.db.write((w) => putOnList(w, businessId, id, lot))).length;
    await this.p.db.write(async (w) => {
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'members changed',
        objectKind: 'list',
        objectId: id,
        after: { added, removed: 0 },
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id }));
    });
    return added;
  }

  /** @throws Problem 404 */
  async known(r: Reader, businessId: string, id: string): Promise<ContactList> {
    const list = await listById(r, businessId, id);
    if (!list) throw notFound('list');
    return list;
  }
}
