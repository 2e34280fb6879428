import type { ContactField } from '@long-gate/contracts';
import { readOwnValue } from '@long-gate/core';
import { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound, refused } from '../../platform/problem.js';
import * as store from './own-field-store.js';

const MOST = 40;

/** What a search looks through of own fields: one value a line. */
export const wordsOfOwn = (own: Record<string, string>): string => Object.values(own).join('\n');

const without = (own: Record<string, string>, id: string): Record<string, string> =>
  Object.fromEntries(Object.entries(own).filter(([key]) => key !== id));

/** The fields of its own that a business keeps of its contacts. */
export class OwnFields {
  constructor(private readonly p: Platform) {
    p.jobs.handle('field.clear', z.object({ fieldId: z.string() }), ({ fieldId }, { job }) =>
      this.clear(job.businessId, fieldId),
    );
  }

  all(r: Reader, businessId: string): Promise<ContactField[]> {
    return store.fieldsOf(r, businessId);
  }

  /** @throws Problem 409 where there is one of that name, 422 where a choice has nothing to choose from. */
  async add(actor: Actor, businessId: string, field: Omit<ContactField, 'id'>): Promise<ContactField> {
    const id = newId('fld');
    await this.p.db.write(async (w) => {
      const all = await store.fieldsOf(w, businessId);
      if (all.length >= MOST) throw conflict(`A business keeps at most ${MOST} fields of its own.`);
      this.fits(all, field);
      await store.addField(w, { id, businessId, ...field, createdAt: this.p.clock.now() });
      await this.tell(w, actor, businessId, 'field added', id, undefined, field);
    });
    return { id, ...field };
  }

  async edit(
    actor: Actor,
    businessId: string,
    id: string,
    edit: Omit<ContactField, 'id' | 'kind'>,
  ): Promise<ContactField> {
    return this.p.db.write(async (w) => {
      const field = await this.known(w, businessId, id);
      const others = (await store.fieldsOf(w, businessId)).filter((f) => f.id !== id);
      this.fits(others, { ...edit, kind: field.kind });
      const { name, choices, outcome } = field;
      await field.update(edit);
      await this.tell(w, actor, businessId, 'field edited', id, { name, choices, outcome }, edit);
      return store.shownField(field);
    });
  }

  async drop(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const field = await this.known(w, businessId, id);
      await this.tell(w, actor, businessId, 'field taken away', id, { name: field.name, kind: field.kind }, undefined);
      await field.destroy();
      await this.p.jobs.add(w, { kind: 'field.clear', businessId, payload: { fieldId: id }, key: `field:${id}` });
    });
  }

  /**
   * What a contact's own fields become; an empty value clears one.
   * @throws Problem 422 where a value is none of its field's kind.
   */
  async merged(
    r: Reader,
    businessId: string,
    before: Record<string, string>,
    wanted: Record<string, string>,
  ): Promise<Record<string, string>> {
    const fields = new Map((await store.fieldsOf(r, businessId)).map((f) => [f.id, f]));
    let own = { ...before };
    for (const [id, raw] of Object.entries(wanted)) {
      const field = fields.get(id);
      if (!field)
        throw refused('There is no such field any more. Reload the page.', [{ field: `own:${id}`, message: 'gone' }]);
      if (raw === '') {
        own = without(own, id);
        continue;
      }
      const read = readOwnValue(field, raw);
      if (!read.ok) throw refused(`${field.name}: ${read.reason}`, [{ field: `own:${id}`, message: read.reason }]);
      own[id] = read.value;
    }
    return own;
  }

  private async known(w: Writer, businessId: string, id: string) {
    const field = await store.fieldById(w, businessId, id);
    if (!field) throw notFound('field');
    return field;
  }

  private fits(others: readonly ContactField[], { name, kind, choices }: Omit<ContactField, 'id'>): void {
    if (others.some((f) => f.name.toLowerCase() === name.toLowerCase()))
      throw conflict(`There is already a field “${name}”.`);
    if (kind === 'choice' && new Set(choices).size < 2)
      throw refused('Name at least two different choices.', [{ field: 'choices', message: 'Name at least two.' }]);
  }

  private async tell(
    w: Writer,
    actor: Actor,
    businessId: string,
    action: string,
    objectId: string,
    before: unknown,
    after: unknown,
  ): Promise<void> {
    await record(w, this.p.clock, { businessId, actor, action, objectKind: 'field', objectId, before, after });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
  }

  /** What stood in a field that is no more goes, lot by lot. */
  private async clear(businessId: string, fieldId: string): Promise<JobOutcome> {
    const lot = new Lot();
    for (let after = ''; ;) {
      const rows = await store.contactsWithOwn(this.p.db, businessId, after, lot.size);
      const last = rows.at(-1);
      if (!last) return { done: true };
      after = last.id;
      await lot.write(
        this.p.db,
        async (w) => {
          for (const row of rows) {
            const own = JSON.parse(row.own) as Record<string, string>;
            if (!(fieldId in own)) continue;
            const rest = without(own, fieldId);
            await store.setOwn(w, row.id, rest, wordsOfOwn(rest));
          }
        },
        rows.length,
      );
    }
  }
}
