import { Op } from 'sequelize';
import type { CarrierKind, Reassignment, Suppression, Textable, Trouble } from '@long-gate/core';
import type { Reader } from '../../../platform/db.js';
import { setting } from '../../../platform/setting-store.js';
import { contactNumberTable, contactSenderTable, contactTable, type ContactNumberModel } from '../model.js';
import type { SubjectRow } from '../subjects.js';
import { contactNumberWasTable, KEPT_SINCE, type ContactNumberWasModel } from './model.js';

/** What the gate reads of a contact number by itself: neither its consent nor what was sent to it. */
export type NumberFacts = Pick<
  SubjectRow,
  | 'country'
  | 'zones'
  | 'states'
  | 'looked_up'
  | 'textable'
  | 'reachable'
  | 'trouble'
  | 'faults_in_review'
  | 'suppression'
  | 'wish_in_review'
  | 'carrier_kind'
  | 'refused_elsewhere'
  | 'reassignment'
>;

export interface NumberThen {
  /** The row of the contact number. */
  id: number;
  contactId: string;
  /** Since when there is such a contact here, milliseconds. */
  contactSince: number;
  firstName: string;
  lastName: string;
  facts: NumberFacts;
  lineType: string;
  carrier: string;
  lookedUpAt: number | null;
  /** Until when this stood; null where it stands still. */
  until: number | null;
}

type Kept = Omit<ContactNumberWasModel, 'id' | 'contactNumberId' | 'untilAt'> | ContactNumberModel;
const factsOf = (x: Kept): NumberFacts => ({
  country: x.country,
  zones: x.zones,
  states: x.states,
  looked_up: x.lookedUpAt !== null,
  textable: x.textable as Textable,
  reachable: x.reachable,
  trouble: x.trouble as Trouble,
  faults_in_review: x.faultsInReview,
  suppression: x.suppression as Suppression,
  wish_in_review: x.wishInReview,
  carrier_kind: x.carrierKind as CarrierKind,
  refused_elsewhere: x.refusedElsewhere,
  reassignment: x.reassignment as Reassignment,
});

/** A contact number as it stood at a moment; undefined where no contact has it now. */
export async function numberAt(
  r: Reader,
  businessId: string,
  e164: string,
  at: number,
): Promise<NumberThen | undefined> {
  const now = await r.of(contactNumberTable).findOne({ where: { businessId, e164 } });
  if (!now) return undefined;
  const contact = await r.of(contactTable).findByPk(now.contactId, { rejectOnEmpty: true });
  const was = await r.of(contactNumberWasTable).findOne({
    where: { contactNumberId: now.id, untilAt: { [Op.gt]: at } },
    order: ['untilAt', 'id'],
  });
  const then = was ?? now;
  return {
    id: now.id,
    contactId: now.contactId,
    contactSince: contact.createdAt,
    firstName: contact.firstName,
    lastName: contact.lastName,
    facts: factsOf(then),
    lineType: then.lineType,
    carrier: then.carrier,
    lookedUpAt: then.lookedUpAt,
    until: was?.untilAt ?? null,
  };
}

/** Since when contact numbers keep their history, milliseconds; 0 where they have from the first. */
export async function numbersKeptSince(r: Reader): Promise<number> {
  return Number((await setting(r, KEPT_SINCE)) ?? 0);
}

/** How a number has stood before it stands as it does, the first first. */
export async function numberHistory(r: Reader, ids: readonly number[]): Promise<ContactNumberWasModel[]> {
  return r.of(contactNumberWasTable).findAll({
    where: { contactNumberId: [...ids] },
    order: ['contactNumberId', 'untilAt', 'id'],
  });
}

/** When one of our numbers first wrote to a contact number, and when it last showed the way out; undefined for never. */
export async function senderTo(
  r: Reader,
  contactNumberId: number,
  numberId: string,
): Promise<{ firstAt: number; stopLineAt: number | null } | undefined> {
  return (await r.of(contactSenderTable).findOne({ where: { contactNumberId, numberId }, raw: true })) ?? undefined;
}
