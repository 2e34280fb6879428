import type { Readable } from 'node:stream';
import type { ContactRow, Whom } from '@long-gate/contracts';
import { placeOf, textableBy, type CarrierKind, type ConsentState, type Trouble } from '@long-gate/core';
import type { LineAnswer } from '@long-gate/gateways';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import { packCursor, readCursor } from '../../platform/cursor.js';
import type { Platform } from '../../platform/platform.js';
import { textFromThread } from '../../platform/thread.js';
import { notFound } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { showContact } from './contact-row.js';
import type { ExportWish } from './contact-export.js';
import type { ContactNumberModel } from './model.js';
import { numbersBeside } from './number-store.js';
import { Refusals } from './refusals.js';
import { sortName } from './sort-name.js';
import { noteTroubles, settleTroubles, type Learnt } from './trouble-store.js';
import * as store from './contact-store.js';
import { listNames, membersAmong } from './list-store.js';
import { classesOf, countedClasses, facet, isCounted, repliedClasses, sum } from './class-store.js';
import {
  FACET_NAMES,
  numbersOfWhoever,
  type Whoever,
  type ContactFilter,
  type Facet,
  type Membership,
} from './filter-store.js';
import { keptConsent, setConsent } from './kept-consent-store.js';
import { pageOfNumbers, placeShape, type FoundNumber } from './page-store.js';
import type { Textability } from './textability.js';
import type { SubjectRow } from './subjects.js';
import { numbersOfWhom } from './whom-store.js';

const EXPORT = new URL('./contact-export.js', import.meta.url);

/** Contacts and their numbers. */
export class Contacts {
  private recall: (w: Writer, businessId: string, e164s: readonly string[]) => Promise<void> = () => Promise.resolve();

  private cameNew: (w: Writer, businessId: string) => Promise<void> = () => Promise.resolve();
  private readonly refusals: Refusals;

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly textability: Textability,
  ) {
    this.refusals = new Refusals(p);
  }

  // -- reading ---------------------------------------------------------------------------------------------------

  /** A page of the list. It says how many there are where that is known without counting; else the facets do. */
  async page(
    businessId: string,
    f: ContactFilter,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: ContactRow[]; next: string | null; total: number | null }> {
    const r = this.p.db;
    const now = this.p.clock.now();
    const after = cursor ? readCursor(placeShape(f), cursor) : null;
    const [found, counted] = await Promise.all([
      pageOfNumbers(r, businessId, f, after, limit + 1, now),
      !isCounted(f) ? null : f.replied ? repliedClasses(r, businessId, now) : countedClasses(r, businessId),
    ]);
    const whole = !cursor && found.length <= limit;
    const page = found.slice(0, limit);
    const last = page.at(-1);
    return {
      items: await this.show(r, businessId, page),
      next: found.length > limit && last ? packCursor(last.place) : null,
      total: counted ? sum(counted, f) : whole ? found.length : null,
    };
  }

  async facets(
    businessId: string,
    f: ContactFilter,
  ): Promise<Record<Facet | Membership, Record<string, number>> & { total: number }> {
    const [r, now] = [this.p.db, this.p.clock.now()];
    const [classes, { list, tag }] = await Promise.all([
      classesOf(r, businessId, f, now),
      membersAmong(r, businessId, f, now),
    ]);
    const counts = Object.fromEntries(FACET_NAMES.map((x) => [x, facet(classes, f, x)]));
    return { ...(counts as Record<Facet, Record<string, number>>), list, tag, total: sum(classes, f) };
  }

  /** How many contact numbers stand in a way that asks for something. */
  async open(businessId: string): Promise<{
    neverLookedUp: number;
    faultsInReview: number;
    unproven: number;
    unprovenFor: Record<'informational' | 'promotional', number>;
    voided: number;
  }> {
    const classes = await countedClasses(this.p.db, businessId);
    const count = (which: (c: (typeof classes)[number]) => boolean): number =>
      classes.filter(which).reduce((n, c) => n + c.n, 0);
    return {
      neverLookedUp: count((c) => !c.lookedUp),
      faultsInReview: count((c) => c.faultsInReview),
      unproven: count((c) => c.promotional === 'unproven' || c.informational === 'unproven'),
      unprovenFor: {
        informational: count((c) => c.informational === 'unproven'),
        promotional: count((c) => c.promotional === 'unproven'),
      },
      voided: count((c) => c.promotional === 'voided'),
    };
  }

  /** The list as CSV, written in a thread of its own. */
  export(businessId: string, filter: ContactFilter): Readable {
    const wish: ExportWish = { businessId, filter, now: this.p.clock.now() };
    return textFromThread(EXPORT, this.p.db.place, wish);
  }

  /** The first few that match words or digits. */
  async find(businessId: string, q: string, limit: number): Promise<{ id: string; name: string; e164: string }[]> {
    const r = this.p.db;
    const found = await pageOfNumbers(r, businessId, { q }, null, limit, this.p.clock.now());
    const ids = found.map((x) => x.id);
    return (await store.rowsByNumber(r, ids, this.p.clock.now())).map((x) => ({
      id: x.contact_id,
      name: `${x.first_name} ${x.last_name}`.trim(),
      e164: x.e164,
    }));
  }

  /** All numbers of those that words or a list mean; null where there are more than so many. */
  numbersOfWhoever(r: Reader, businessId: string, f: Whoever, most: number): Promise<string[] | null> {
    return numbersOfWhoever(r, businessId, f, most);
  }

  /** What lists show of these; all that it takes is asked for at once. */
  private async show(
    r: Reader,
    businessId: string,
    found: readonly Pick<FoundNumber, 'id' | 'contactId'>[],
  ): Promise<ContactRow[]> {
    const now = this.p.clock.now();
    const [rows, lists, business] = await Promise.all([
      store.rowsByNumber(
        r,
        found.map((x) => x.id),
        now,
      ),
      listNames(
        r,
        found.map((x) => x.contactId),
      ),
      this.businesses.row(r, businessId),
    ]);
    const openCountries = business.open_countries.split(',');
    return rows.map((row) => showContact(row, { openCountries, lists: lists.get(row.contact_id) ?? [], now }));
  }

  // -- writing ---------------------------------------------------------------------------------------------------

  /**
   * The contact number of this address, made with a contact where there is none yet.
   * @param given what somebody says of themselves. One who is known without a name is given this one; nothing else of
   * who is known is changed by what anybody may have filled in.
   */
  async ensure(
    w: Writer,
    actor: Actor,
    businessId: string,
    e164: string,
    given: { firstName?: string; lastName?: string; email?: string } = {},
  ): Promise<store.KnownNumber> {
    const { firstName = '', lastName = '', email = '' } = given;
    const name = sortName(firstName, lastName, e164);
    const known = await this.byAddress(w, businessId, e164);
    if (known) {
      if (firstName !== '' || lastName !== '') await store.nameContact(w, known.contactId, firstName, lastName, name);
      return known;
    }
    const id = newId('con');
    const place = placeOf(e164, '');
    await store.addContact(w, {
      id,
      businessId,
      e164,
      firstName,
      lastName,
      email,
      sortName: name,
      country: place.country,
      zones: place.zones.join(','),
      states: place.states.join(','),
      at: this.p.clock.now(),
    });
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: 'contact added',
      objectKind: 'contact',
      objectId: id,
      after: { e164, firstName, lastName, email },
    });
    await this.arrived(w, businessId, [e164]);
    await this.areNew(w, businessId);
    this.changed(w, businessId, id);
    return (await this.byAddress(w, businessId, e164)) as store.KnownNumber;
  }

  /** Whoever asks about lines is told that numbers have come. */
  whenNew(told: (w: Writer, businessId: string) => Promise<void>): void {
    this.cameNew = told;
  }
  /** New numbers are there, to be asked about where the business wants that. */
  areNew(w: Writer, businessId: string): Promise<void> {
    return this.cameNew(w, businessId);
  }

  /** Whoever keeps the ledger says what it knows of numbers that come (again). */
  recallConsent(recall: (w: Writer, businessId: string, e164s: readonly string[]) => Promise<void>): void {
    this.recall = recall;
  }

  /** Numbers have come: what the ledger and their owners said of them before stands from the first moment. */
  async arrived(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    if (e164s.length === 0) return;
    await this.recall(w, businessId, e164s);
    await this.refusals.restore(w, businessId, e164s);
  }

  /** Numbers are about to be taken away, which is told; what their owners refused at the carrier or elsewhere is kept. */
  async leave(w: Writer, businessId: string, numbers: readonly ContactNumberModel[]): Promise<void> {
    if (numbers.length === 0) return;
    w.tell('numbers.left', { businessId, e164s: numbers.map((n) => n.e164) });
    await this.refusals.keep(w, businessId, numbers);
  }

  byAddress(r: Reader, businessId: string, e164: string): Promise<store.KnownNumber | undefined> {
    return store.numberByAddress(r, businessId, e164);
  }

  /** Who these numbers belong to; a number that is no contact's is not in the answer. */
  async names(
    r: Reader,
    businessId: string,
    e164s: readonly string[],
  ): Promise<Map<string, { contactId: string; name: string }>> {
    return new Map((await store.namesByAddress(r, businessId, e164s)).map((x) => [x.e164, x]));
  }

  /** Whose these numbers are, with what letters to them are filled from. */
  people(r: Reader, businessId: string, e164s: readonly string[]): Promise<store.Person[]> {
    return store.peopleByAddress(r, businessId, e164s);
  }

  /** A contact number as the gate reads it, beside the number of ours that would text it; undefined where none is. */
  subjectRow(
    r: Reader,
    businessId: string,
    e164: string,
    numberId: string,
  ): Promise<(SubjectRow & { id: number }) | undefined> {
    return store.subjectRow(r, businessId, e164, numberId, this.p.clock.now());
  }

  /** Many contact numbers as the gate reads them, by their id. */
  async subjectRows(
    r: Reader,
    ids: readonly number[],
    numberId: string,
    emptyFields: readonly ('first_name' | 'last_name')[] = [],
  ): Promise<Map<number, SubjectRow & { first_name: string; last_name: string }>> {
    const rows = await store.subjectRows(r, ids, numberId, emptyFields, this.p.clock.now());
    return new Map(rows.map((x) => [x.id, x]));
  }

  /** Which kind of network these contact numbers are on. */
  carrierKinds(r: Reader, ids: readonly number[]): Promise<Map<number, CarrierKind>> {
    return store.carrierKinds(r, ids);
  }

  /** Until when this person may be answered; null where they never wrote or called. */
  answerableUntil(r: Reader, businessId: string, e164: string): Promise<number | null> {
    return store.answerableUntil(r, businessId, e164);
  }

  /** How many contact numbers there are in each country. */
  async byCountry(r: Reader, businessId: string): Promise<Map<string, number>> {
    return new Map((await store.countByCountry(r, businessId)).map((x) => [x.country, x.n]));
  }

  /** The numbers something is done for, and no more than so many of them. */
  numbersOf(r: Reader, businessId: string, whom: Whom, most: number): Promise<string[]> {
    return numbersOfWhom(r, businessId, whom, most, this.p.clock.now());
  }

  /** What is kept of the consent of these numbers where the gate reads it. */
  keptConsent(r: Reader, businessId: string, e164s: readonly string[]): ReturnType<typeof keptConsent> {
    return keptConsent(r, businessId, e164s);
  }

  /** Keeps what a lookup answered, as of our own clock: an answer dated in the past must not be asked for again at once. */
  async storeLookup(w: Writer, businessId: string, answers: readonly LineAnswer[]): Promise<void> {
    const policy = await this.textability.policy(w, businessId);
    const lines = answers.map((a) => ({ ...a, textable: textableBy(a.lineType, policy) }));
    const now = this.p.clock.now();
    await store.setLines(w, businessId, lines, now);
    const learnt = (which: (l: (typeof lines)[number]) => boolean): Learnt[] =>
      lines.filter(which).map((l) => ({ e164: l.e164, carrier: l.carrier, detail: l.lineType }));
    await noteTroubles(
      w,
      businessId,
      'not-textable',
      'lookup',
      learnt((l) => l.textable === 'no'),
      now,
    );
    await noteTroubles(
      w,
      businessId,
      'passing-fault',
      'lookup',
      learnt((l) => !l.reachable && l.textable !== 'no'),
      now,
    );
    await settleTroubles(
      w,
      businessId,
      lines.map((l) => l.e164),
    );
    w.tell('contacts.cleared', { businessId });
    this.changed(w, businessId);
  }

  /**
   * Somebody wrote or called: they may be answered. A text also says that texts reach this line, whatever a lookup said;
   * a call says nothing of the kind.
   */
  async heardFrom(
    w: Writer,
    businessId: string,
    e164: string,
    { heardAt, answerUntil, wrote }: { heardAt: number; answerUntil: number; wrote: boolean },
  ): Promise<void> {
    await store.setAnswerable(w, businessId, e164, answerUntil, heardAt);
    if (!wrote) return;
    await store.setTextable(w, businessId, e164, this.p.clock.now());
    await settleTroubles(w, businessId, [e164]);
    w.tell('contacts.cleared', { businessId });
  }

  /**
   * Keeps what delivery taught about numbers. A refusal by its owner stays, whatever comes later: nobody here can
   * clear it; and a passing fault never hides something worse.
   */
  async learnTrouble(
    w: Writer,
    businessId: string,
    learnt: readonly Learnt[],
    trouble: Exclude<Trouble, 'none'>,
    at = this.p.clock.now(),
  ): Promise<void> {
    const e164s = learnt.map((l) => l.e164);
    await store.setTrouble(w, businessId, e164s, trouble, at);
    await noteTroubles(w, businessId, trouble, 'receipt', learnt, at);
    await settleTroubles(w, businessId, e164s);
    if (trouble === 'refused-by-owner') await this.refusals.byOwners(w, businessId, e164s, at);
    this.changed(w, businessId);
  }

  /** Too many passing faults: the number is held until somebody looks. */
  async holdForFaults(w: Writer, businessId: string, e164: string): Promise<void> {
    await store.holdForFaults(w, businessId, e164);
    this.changed(w, businessId);
  }

  /** When faults of this contact number were last looked at; earlier ones count no more. */
  faultsSeenAt(r: Reader, row: number): Promise<number> {
    return store.faultsSeenAt(r, row);
  }

  /**
   * Ends the review of a number that was held after three passing faults: it is tried again, counting anew, or it is
   * kept out as out of service until a lookup or a text from it says otherwise.
   */
  async decideFaults(actor: Actor, businessId: string, e164: string, tryAgain: boolean): Promise<void> {
    await this.p.db.write(async (w) => {
      if (!(await store.endFaults(w, businessId, e164, tryAgain, this.p.clock.now())))
        throw notFound('number in review');
      const now = this.p.clock.now();
      if (!tryAgain)
        await noteTroubles(
          w,
          businessId,
          'out-of-service',
          'receipt',
          [{ e164, carrier: '', detail: 'kept out by hand' }],
          now,
        );
      await settleTroubles(w, businessId, [e164]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: tryAgain ? 'number tried again after faults' : 'number kept out after faults',
        objectKind: 'contact number',
        objectId: e164,
      });
      w.tell('contacts.cleared', { businessId });
      this.changed(w, businessId);
    });
  }

  /** The consent area's state of now, taken over into the columns the gate reads. @returns the numbers a contact has. */
  projectConsent(
    w: Writer,
    businessId: string,
    states: readonly (readonly [
      e164: string,
      conversational: ConsentState,
      informational: ConsentState,
      promotional: ConsentState,
      agreedAt: number | null,
    ])[],
  ): Promise<Set<string>> {
    return setConsent(w, businessId, states);
  }

  /** See {@link Refusals.spread}. */
  spreadWishes(w: Writer, businessId: string, said: Parameters<Refusals['spread']>[2]): Promise<void> {
    return this.refusals.spread(w, businessId, said);
  }

  /** See {@link Refusals.elsewhere}. */
  refusedElsewhere(r: Reader, businessId: string, e164: string): ReturnType<Refusals['elsewhere']> {
    return this.refusals.elsewhere(r, businessId, e164);
  }

  async setWishInReview(w: Writer, businessId: string, e164: string, inReview: boolean): Promise<void> {
    await store.setWish(w, businessId, e164, inReview);
    w.tell('consent.changed', { businessId, e164s: [e164] });
  }

  /** Notes texts the network has taken: the first from a number of ours, and the last that showed how to stop. */
  noteSent(w: Writer, sent: readonly store.Sent[]): Promise<void> {
    return store.noteSenders(w, sent, this.p.clock.now());
  }

  /** The other numbers of whoever has each of these; a number that is nobody's or has none beside it is not there. */
  numbersBeside(r: Reader, businessId: string, e164s: readonly string[]): Promise<Map<string, string[]>> {
    return numbersBeside(r, businessId, e164s);
  }

  /** Until when no further solicitation goes to numbers; one that is nobody's any more is let be. */
  capSolicitations(
    w: Writer,
    businessId: string,
    caps: readonly (readonly [e164: string, until: number | null])[],
  ): Promise<void> {
    return store.setCaps(w, businessId, caps);
  }

  /** How many contact numbers a number of ours has texted. */
  knowing(r: Reader, numberId: string): Promise<number> {
    return store.countTexted(r, numberId);
  }

  private changed(w: Writer, businessId: string, id?: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', ...(id === undefined ? {} : { id }) }));
  }
}
