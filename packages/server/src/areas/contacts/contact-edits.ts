import type { ContactDetail, editContact } from '@long-gate/contracts';
import { formatPhone, parsePhone, PHONE_REFUSALS, placeOf } from '@long-gate/core';
import type { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { contactDetail } from './contact-detail.js';
import { contactById, numberByAddress, numbersOf, setPlace } from './contact-store.js';
import type { Contacts } from './contacts.js';
import type { ContactModel } from './model.js';
import { addFurther, dropNumbers, numberOf, prefer } from './number-store.js';
import { wordsOfOwn, type OwnFields } from './own-fields.js';
import { spreadRefusals } from './refusals-store.js';
import { sortName } from './sort-name.js';

/** What staff write of a contact, and which numbers it has. */
export class ContactEdits {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly fields: OwnFields,
  ) {}

  detail(r: Reader, businessId: string, id: string): Promise<ContactDetail> {
    return contactDetail(this.p, this.businesses, r, businessId, id);
  }

  async edit(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    edit: z.output<typeof editContact.body>,
  ): Promise<ContactDetail> {
    return this.change(actor, businessId, id, 'contact edited', async (w, contact) => {
      expectVersion('contact', contact, seen);
      const { own: wanted, ...facts } = edit;
      const own = wanted ? await this.fields.merged(w, businessId, contact.own, wanted) : contact.own;
      const before = Object.fromEntries(Object.keys(edit).map((k) => [k, contact.get(k)]));
      const numbers = await numbersOf(w, id);
      await contact.update({
        ...facts,
        own,
        ownWords: wordsOfOwn(own),
        sortName: sortName(edit.firstName, edit.lastName, numbers[0]?.e164 ?? ''),
      });
      for (const n of numbers) {
        const place = placeOf(n.e164, edit.stateCode);
        await setPlace(w, n.id, place.zones.join(','), place.states.join(','));
      }
      return { before, after: { ...facts, ...(wanted ? { own } : {}) } };
    });
  }

  /**
   * Gives a contact a further number. What the same person refused on others bars it, until they say otherwise from it.
   * @throws Problem 422 where it is no number, 409 where it is somebody's already.
   */
  async addNumber(
    actor: Actor,
    businessId: string,
    id: string,
    { number, label }: { number: string; label: string },
  ): Promise<ContactDetail> {
    const phone = parsePhone(number, { defaultRegion: 'US', allowFictional: true });
    if (!phone.ok)
      throw refused(`“${number}”: ${PHONE_REFUSALS[phone.reason]}.`, [
        { field: 'number', message: PHONE_REFUSALS[phone.reason] },
      ]);
    const { e164 } = phone;
    return this.change(actor, businessId, id, 'number added', async (w, contact) => {
      const known = await numberByAddress(w, businessId, e164);
      if (known)
        throw conflict(
          known.contactId === id
            ? `${formatPhone(e164)} is a number of this contact already.`
            : `${formatPhone(e164)} belongs to ${known.name || 'a contact without a name'}. Merge the two if they are one person.`,
        );
      await this.further(w, contact, e164, label);
      return { after: { e164, label } };
    });
  }

  async preferNumber(actor: Actor, businessId: string, id: string, e164: string): Promise<ContactDetail> {
    return this.change(actor, businessId, id, 'number preferred', async (w) => {
      const number = await numberOf(w, id, e164);
      if (!number) throw notFound('number');
      const before = (await numbersOf(w, id))[0]?.e164 ?? '';
      await prefer(w, id, number.id);
      w.tell('contacts.cleared', { businessId });
      return { before: { preferred: before }, after: { preferred: e164 } };
    });
  }

  /** @throws Problem 409 for the last number of a contact, and for the preferred one. */
  async dropNumber(actor: Actor, businessId: string, id: string, e164: string): Promise<ContactDetail> {
    return this.change(actor, businessId, id, 'number taken off', async (w) => {
      const number = await numberOf(w, id, e164);
      if (!number) throw notFound('number');
      if (number.preferred) throw conflict('Texts go to this number. Prefer another one first, or delete the contact.');
      await this.contacts.leave(w, businessId, [number]);
      await dropNumbers(w, [number.id]);
      return { before: { e164, label: number.label } };
    });
  }

  /** A number the person gave themselves, on their contact; one that is somebody's stays there. */
  async gave(w: Writer, businessId: string, id: string, e164: string): Promise<void> {
    const contact = await contactById(w, businessId, id);
    if (!contact) throw notFound('contact');
    if (await numberByAddress(w, businessId, e164)) return;
    await this.further(w, contact, e164, '');
    await contact.update({ version: contact.version + 1 });
  }

  /** Texts go to a number of the contact that its handset confirmed. @returns false where it is not the contact's. */
  async takeUp(w: Writer, businessId: string, id: string, e164: string): Promise<boolean> {
    const [contact, number] = [await contactById(w, businessId, id), await numberOf(w, id, e164)];
    if (!contact || !number) return false;
    await prefer(w, id, number.id);
    await contact.update({ version: contact.version + 1 });
    w.tell('contacts.cleared', { businessId });
    return true;
  }

  private async further(w: Writer, contact: ContactModel, e164: string, label: string): Promise<void> {
    const { id, businessId } = contact;
    const place = placeOf(e164, contact.stateCode);
    await addFurther(w, {
      businessId,
      contactId: id,
      e164,
      label,
      sortName: contact.sortName,
      country: place.country,
      zones: place.zones.join(','),
      states: place.states.join(','),
    });
    await this.contacts.arrived(w, businessId, [e164]);
    await this.contacts.areNew(w, businessId);
    await spreadRefusals(w, id);
  }

  private async change(
    actor: Actor,
    businessId: string,
    id: string,
    action: string,
    work: (w: Writer, contact: ContactModel) => Promise<{ before?: unknown; after?: unknown }>,
  ): Promise<ContactDetail> {
    await this.p.db.write(async (w) => {
      const contact = await contactById(w, businessId, id);
      if (!contact) throw notFound('contact');
      const { version } = contact;
      const what = await work(w, contact);
      await contact.update({ version: version + 1 });
      await record(w, this.p.clock, { businessId, actor, action, objectKind: 'contact', objectId: id, ...what });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts', id }));
    });
    return this.detail(this.p.db, businessId, id);
  }
}
