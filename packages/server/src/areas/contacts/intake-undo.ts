import { record, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import type { JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from './contacts.js';
import * as store from './intake-store.js';
import { factsOf, writeFacts, type FactsBefore, type IntakeStoring } from './intake-storing.js';
import { dropNumbers, numberOf } from './number-store.js';
import { numbersOfContacts, removeContacts } from './removal-store.js';

/**
 * Takes an intake back, lot by lot: what it brought goes, what it changed is as it was, who it put on lists is off them.
 * What it claimed is withdrawn and what it proved is void in the ledger, which never forgets; what it revoked stays.
 */
export class IntakeUndo {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly storing: IntakeStoring,
  ) {}

  async run(id: string, actor: Actor): Promise<JobOutcome> {
    const intake = await store.intakeById(this.p.db, id);
    if (!intake || intake.undo !== 'undoing') return { done: true };
    const { businessId } = intake;
    const lot = new Lot(500);
    for (;;) {
      // What was taken away is gone: the next lot is always the first.
      const ids = (await store.broughtBy(this.p.db, id, '', lot.size)).map((x) => x.id);
      if (ids.length === 0) break;
      await lot.write(
        this.p.db,
        async (w) => {
          const numbers = await numbersOfContacts(w, businessId, ids);
          await this.contacts.leave(w, businessId, numbers);
          await this.unsay(w, actor, businessId, ids, id);
          await removeContacts(w, businessId, ids);
        },
        ids.length,
      );
    }
    for (;;) {
      const changes = await store.changesOf(this.p.db, id, lot.size);
      if (changes.length === 0) break;
      await lot.write(
        this.p.db,
        async (w) => {
          const before = new Map(changes.map((c) => [c.contactId, c]));
          await this.unsay(w, actor, businessId, [...before.keys()], id);
          for (const contact of await store.contactsToChange(w, [...before.keys()])) {
            const change = before.get(contact.id);
            // Somebody who was edited meanwhile stays as they are.
            if (change?.version !== contact.version) continue;
            const { further, ...was } = JSON.parse(change.before) as FactsBefore;
            if (further) await this.takeFurther(w, businessId, contact.id, further);
            if (JSON.stringify(was) !== JSON.stringify(factsOf(contact))) await writeFacts(w, contact, was);
          }
          await store.dropChanges(w, id, [...before.keys()]);
        },
        changes.length,
      );
    }
    while ((await lot.write(this.p.db, (w, size) => store.undoJoins(w, id, size))) > 0);
    await this.p.db.write(async (w) => {
      const now = await store.intakeById(w, id);
      if (!now || now.undo !== 'undoing') return;
      const cancelled = now.state === 'storing';
      await now.update({ undo: 'undone', state: cancelled ? 'cancelled' : 'stored' });
      await this.p.jobs.add(w, {
        kind: 'intake.clear',
        businessId,
        payload: { intakeId: id },
        key: `intake.clear:${id}:undone`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: cancelled ? 'intake cancelled' : 'intake taken back',
        objectKind: 'intake',
        objectId: id,
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
    });
    return { done: true, result: 'taken back; what it revoked stays' };
  }

  /** A number that somebody who was known was given; one that texts go to by now stays. */
  private async takeFurther(w: Writer, businessId: string, contactId: string, e164: string): Promise<void> {
    const number = await numberOf(w, contactId, e164);
    if (!number || number.preferred) return;
    await this.contacts.leave(w, businessId, [number]);
    await dropNumbers(w, [number.id]);
  }

  /** What it claimed or proved of these contacts is so no more. */
  private async unsay(w: Writer, actor: Actor, businessId: string, ids: readonly string[], id: string): Promise<void> {
    const numbers = await numbersOfContacts(w, businessId, ids);
    const e164s = numbers.map((n) => n.e164);
    await this.storing.consenting.undo(w, actor, businessId, e164s, id);
  }
}
