import type { IntakeMore } from '@long-gate/contracts';
import { parsePhone, placeOf, type OwnField } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import { setPlace, numbersOf } from './contact-store.js';
import type { Contacts } from './contacts.js';
import { changedBy, factsOfRow, type RowFacts } from './intake-known.js';
import * as store from './intake-store.js';
import type { Lists } from './lists.js';
import type { ContactModel, IntakeModel } from './model.js';
import { fieldsOf } from './own-field-store.js';
import { wordsOfOwn } from './own-fields.js';
import { spreadRefusals } from './refusals-store.js';
import { sortName } from './sort-name.js';

/** What the columns of consent said of one number. */
export interface SaidOf {
  e164: string;
  says: '' | 'yes' | 'no';
  date: string;
  source: string;
  disclosure: string;
}
/** Who records what a list says of its people; given by the consent area. */
export interface Consenting {
  /** Claims of a whole lot, each of its people. */
  claim(w: Writer, actor: Actor, businessId: string, e164s: string[], claim: string, intakeId: string): Promise<void>;
  /** What columns said, row by row. @returns how many revocations, and how many proven grants, were filed. */
  say(
    w: Writer,
    actor: Actor,
    businessId: string,
    said: readonly SaidOf[],
    intake: { id: string; fileName: string; purposes: readonly string[]; documentDigest: string },
  ): Promise<{ revoked: number; proven: number }>;
  /** Takes back what an intake proved; what it revoked stays. */
  undo(w: Writer, actor: Actor, businessId: string, e164s: readonly string[], intakeId: string): Promise<void>;
}
const NOBODY: Consenting = {
  claim: () => Promise.resolve(),
  say: () => Promise.resolve({ revoked: 0, proven: 0 }),
  undo: () => Promise.resolve(),
};

/** What somebody was before an intake changed them, and the number it gave them. */
export type FactsBefore = RowFacts & { further?: string };

interface Step {
  done: boolean;
  after: number;
  total: number;
  result: string;
}
const OVER: Step = { done: true, after: 0, total: 0, result: '' };

/**
 * Stores what was handed in, lot by lot, so that others are not kept waiting; nothing of it is shown before all of it is
 * there. The place reached is kept in the transaction of its lot, so that a crash neither loses nor repeats a row.
 */
export class IntakeStoring {
  consenting: Consenting = NOBODY;

  constructor(
    private readonly p: Platform,
    private readonly lists: Lists,
    private readonly contacts: Contacts,
  ) {}

  async run(
    id: string,
    actor: Actor,
    progress: (done: number, total: number) => Promise<boolean>,
  ): Promise<JobOutcome> {
    const lot = new Lot();
    for (;;) {
      const step = await lot.write(this.p.db, (w, size) => this.lot(w, id, actor, size));
      if (step.done) return { done: true, result: step.result };
      if (!(await progress(step.after, step.total))) return { done: false };
    }
  }

  /** What was brought in is told apart no more, lot by lot. */
  async settle(id: string): Promise<JobOutcome> {
    const lot = new Lot(500);
    for (let after = ''; ;) {
      const rows = await store.broughtBy(this.p.db, id, after, lot.size);
      const last = rows.at(-1);
      if (!last) return { done: true };
      await lot.write(
        this.p.db,
        (w) =>
          store.unstage(
            w,
            rows.map((x) => x.id),
          ),
        rows.length,
      );
      after = last.id;
    }
  }

  private async lot(w: Writer, id: string, actor: Actor, size: number): Promise<Step> {
    const intake = await store.intakeById(w, id);
    if (!intake || intake.state !== 'storing' || intake.undo !== '') return OVER;
    const { businessId } = intake;
    const so = { ...intake.result };
    const rows = await store.rowsAfter(w, id, so.after, size);
    if (rows.length === 0) return this.end(w, intake, actor);
    const fields = new Map((await fieldsOf(w, businessId)).map((f) => [f.id, f]));
    const said: SaidOf[] = [];
    const kept = new Map<string, { facts: RowFacts; more: IntakeMore }>();
    for (const r of rows) {
      const more = JSON.parse(r.more) as IntakeMore;
      // A no is a no, whatever else becomes of its row.
      if (r.e164 !== null && more.consent?.says === 'no') said.push({ e164: r.e164, ...more.consent });
      if (r.e164 === null) so.refused++;
      else if (!r.keep) so.dropped++;
      else if (kept.has(r.e164)) so.repeats++;
      else kept.set(r.e164, { facts: factsOfRow(r, more, fields), more });
    }
    // A number stored by an earlier lot of this same intake is a repeat, any other known one was here before.
    const before = await store.knownAmong(w, businessId, [...kept.keys()], id, so.after);
    for (const b of before.filter((x) => x.mine)) {
      so.repeats++;
      kept.delete(b.e164);
    }
    const known = before.filter((x) => !x.mine);
    const changed = await this.change(w, intake, known, kept, fields);
    so.changed += changed;
    so.known += known.length - changed;
    const knownNumbers = new Set(known.map((x) => x.e164));
    const fresh = [...kept].filter(([e164]) => !knownNumbers.has(e164));
    so.stored += fresh.length;
    await this.bring(w, intake, fresh);
    await this.join(w, intake, actor, kept, new Set(known.map((x) => x.contactId)));
    for (const [e164, { more }] of kept)
      if (more.consent && more.consent.says !== 'no') said.push({ e164, ...more.consent });
    const filed = await this.consenting.say(w, actor, businessId, said, intake);
    so.revoked += filed.revoked;
    so.proven += filed.proven;
    if (intake.consentClaim !== '') {
      const spoken = new Set(said.map((x) => x.e164));
      const claimed = [...kept.keys()].filter((e164) => !spoken.has(e164));
      await this.consenting.claim(w, actor, businessId, claimed, intake.consentClaim, id);
    }
    so.after = rows[rows.length - 1]?.row ?? so.after;
    await intake.update({ result: so });
    const done = so.stored + so.known + so.changed + so.repeats + so.refused + so.dropped;
    return { done: false, after: done, total: intake.total, result: '' };
  }

  /** All of it is there: shown from this moment on. */
  private async end(w: Writer, intake: IntakeModel, actor: Actor): Promise<Step> {
    const { id, businessId } = intake;
    const so = intake.result;
    await intake.update({ state: 'stored' });
    for (const kind of ['intake.clear', 'intake.settle'])
      await this.p.jobs.add(w, { kind, businessId, payload: { intakeId: id }, key: `${kind}:${id}` });
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: 'intake stored',
      objectKind: 'intake',
      objectId: id,
      after: so,
    });
    await this.contacts.areNew(w, businessId);
    w.tell('contacts.cleared', { businessId });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
    const more = [
      so.changed > 0 ? `, ${so.changed} of those known filled in` : '',
      so.revoked > 0 ? `, ${so.revoked} revocations` : '',
      so.proven > 0 ? `, ${so.proven} consents proven` : '',
    ].join('');
    return {
      done: true,
      after: intake.total,
      total: intake.total,
      result: `${so.stored} stored, ${so.known + so.changed} known already, ${so.repeats} repeats, ${so.refused} refused, ${so.dropped} dropped${more}`,
    };
  }

  private async bring(
    w: Writer,
    intake: IntakeModel,
    fresh: readonly [string, { facts: RowFacts; more: IntakeMore }][],
  ): Promise<void> {
    const { businessId } = intake;
    const contacts = fresh.map(([e164, { facts }]): store.FreshContact => {
      const place = placeOf(e164, facts.stateCode);
      const { own, ...rest } = facts;
      return {
        id: idFrom('con', businessId, e164, String(intake.no)),
        ...rest,
        own: JSON.stringify(own),
        ownWords: wordsOfOwn(own),
        sortName: sortName(facts.firstName, facts.lastName, e164),
        e164,
        country: place.country,
        zones: place.zones.join(','),
        states: place.states.join(','),
      };
    });
    await store.storeContacts(w, businessId, contacts, this.p.clock.now(), intake);
    await this.contacts.arrived(
      w,
      businessId,
      contacts.map((c) => c.e164),
    );
    const moreOf = new Map(fresh.map(([e164, { more }]) => [e164, more]));
    const owners = contacts.map((c) => ({ ...c, more: moreOf.get(c.e164) }));
    await this.giveFurther(w, intake, owners);
  }

  /**
   * The further numbers of rows, on the contacts whose rows they are, barred by what these refused on the others. One
   * that is somebody's already is left where it is.
   * @returns the numbers given, by contact.
   */
  private async giveFurther(
    w: Writer,
    intake: IntakeModel,
    owners: readonly { id: string; e164: string; stateCode: string; more: IntakeMore | undefined }[],
  ): Promise<Map<string, string>> {
    const numbers = owners.flatMap(({ id, e164, stateCode, more }) => {
      const phone = more?.further
        ? parsePhone(more.further, { defaultRegion: intake.region, allowFictional: true })
        : null;
      if (!phone?.ok || phone.e164 === e164) return [];
      const place = placeOf(phone.e164, stateCode);
      return [[id, phone.e164, place.country, place.zones.join(','), place.states.join(',')] as const];
    });
    const given = await store.storeFurther(w, intake.businessId, numbers);
    await this.contacts.arrived(w, intake.businessId, [...given.values()]);
    for (const id of given.keys()) await spreadRefusals(w, id);
    return given;
  }

  /** Those who are known, as the rules say of each field. @returns how many of them changed. */
  private async change(
    w: Writer,
    intake: IntakeModel,
    known: readonly { e164: string; contactId: string }[],
    kept: ReadonlyMap<string, { facts: RowFacts; more: IntakeMore }>,
    fields: ReadonlyMap<string, OwnField>,
  ): Promise<number> {
    // Of whom a consent is claimed or proven it is kept who they were, so that it can be taken back.
    const speaks = intake.consentClaim !== '' || [...kept.values()].some((x) => x.more.consent);
    const gives = intake.known['further'] !== 'leave' && known.some((x) => kept.get(x.e164)?.more.further);
    if (
      !speaks &&
      !gives &&
      fields.size === 0 &&
      Object.values(intake.known).every((x) => x === 'leave') &&
      Object.keys(intake.known).length >= 4
    )
      return 0;
    const rowOf = new Map(known.map((x) => [x.contactId, { e164: x.e164, ...kept.get(x.e164) }]));
    const contacts = await store.contactsToChange(w, [...rowOf.keys()]);
    const given = gives
      ? await this.giveFurther(
          w,
          intake,
          contacts.map(({ id, stateCode }) => ({
            id,
            stateCode,
            e164: '',
            ...rowOf.get(id),
            more: rowOf.get(id)?.more,
          })),
        )
      : new Map<string, string>();
    const before: { contactId: string; before: string; version: number }[] = [];
    let changed = 0;
    for (const contact of contacts) {
      const row = rowOf.get(contact.id)?.facts;
      const was = factsOf(contact);
      const then = row ? changedBy(was, row, intake.known) : null;
      const further = given.get(contact.id);
      const changes = then !== null || further !== undefined;
      if (changes || speaks)
        before.push({
          contactId: contact.id,
          before: JSON.stringify({ ...was, ...(further ? { further } : {}) } satisfies FactsBefore),
          version: contact.version + (changes ? 1 : 0),
        });
      if (!changes) continue;
      if (then) await writeFacts(w, contact, then);
      else await contact.update({ version: contact.version + 1 });
      changed++;
    }
    await store.keepBefore(w, intake.id, before);
    return changed;
  }

  /** On the lot's list and tags, and each on the tags of its row. */
  private async join(
    w: Writer,
    intake: IntakeModel,
    actor: Actor,
    kept: ReadonlyMap<string, { more: IntakeMore }>,
    known: ReadonlySet<string>,
  ): Promise<void> {
    const { businessId } = intake;
    const on = new Map<string, string[]>();
    const all = [...kept.keys()];
    if (intake.listId !== null) on.set(intake.listId, all);
    const tagged = new Map<string, string[]>(intake.tags.map((tag) => [tag, all]));
    for (const [e164, { more }] of kept)
      for (const tag of more.tags ?? []) {
        const of = tagged.get(tag);
        if (!of) tagged.set(tag, [e164]);
        else if (of !== all) of.push(e164);
      }
    for (const [tag, e164s] of tagged) on.set(await this.lists.ensure(w, actor, businessId, tag, 'tag'), e164s);
    for (const [listId, e164s] of on) {
      const joined = await store.listNumbers(w, businessId, listId, e164s);
      await store.keepJoins(
        w,
        intake.id,
        listId,
        joined.filter((id) => known.has(id)),
      );
    }
  }
}

export function factsOf(c: ContactModel): RowFacts {
  const { firstName, lastName, email, stateCode, language, street, city, postalCode, own } = c;
  return { firstName, lastName, email, stateCode, language, street, city, postalCode, own };
}

/** Writes what somebody becomes, with all that follows from it. */
export async function writeFacts(w: Writer, contact: ContactModel, then: RowFacts): Promise<void> {
  const numbers = await numbersOf(w, contact.id);
  const moved = then.stateCode !== contact.stateCode;
  await contact.update({
    ...then,
    ownWords: wordsOfOwn(then.own),
    sortName: sortName(then.firstName, then.lastName, numbers[0]?.e164 ?? ''),
    version: contact.version + 1,
  });
  if (!moved) return;
  for (const n of numbers) {
    const place = placeOf(n.e164, then.stateCode);
    await setPlace(w, n.id, place.zones.join(','), place.states.join(','));
  }
}
