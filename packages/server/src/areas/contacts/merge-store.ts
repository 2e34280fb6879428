import { Op, type CreationAttributes } from 'sequelize';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import {
  contactMergeTable,
  contactNumberTable,
  contactTable,
  listMemberTable,
  type ContactMergeModel,
  type ContactModel,
} from './model.js';

const NAME = `trim(c.first_name || ' ' || c.last_name)`;

/** Others of this e-mail, whatever its case. */
export async function alikeTo(
  r: Reader,
  businessId: string,
  email: string,
  except: string,
): Promise<{ id: string; name: string; e164: string }[]> {
  return r.all(
    `SELECT c.id, ${NAME} AS name, cn.e164 FROM contact c JOIN contact_number cn ON cn.contact_id = c.id AND cn.preferred
     WHERE c.business_id = $1 AND c.email <> '' AND lower(c.email) = lower($2) AND c.id <> $3 ORDER BY c.created_at LIMIT 20`,
    [businessId, email, except],
  );
}

/** E-mails that several contacts have, after one in their order; all of a business's e-mails are gone through. */
export async function sharedEmails(
  r: Reader,
  businessId: string,
  after: string,
  limit: number,
): Promise<{ email: string }[]> {
  return r.all(
    `SELECT lower(email) AS email FROM contact WHERE business_id = $1 AND email <> '' AND lower(email) > $2 GROUP BY lower(email) HAVING count(*) > 1 ORDER BY 1 LIMIT ${limit}`,
    [businessId, after],
  );
}

export async function contactsOfEmails(
  r: Reader,
  businessId: string,
  emails: readonly string[],
): Promise<{ id: string; email: string; name: string; e164: string; createdAt: number }[]> {
  return r.all(
    `SELECT c.id, lower(c.email) AS email, ${NAME} AS name, cn.e164, c.created_at AS "createdAt" FROM jsonb_each($2) j CROSS JOIN contact c ON c.business_id = $1 AND c.email <> '' AND lower(c.email) = j.value
     JOIN contact_number cn ON cn.contact_id = c.id AND cn.preferred ORDER BY c.created_at, c.id`,
    [businessId, jsonRows(emails)],
  );
}

/** The last merge into a contact that was not taken back. */
export async function openMerge(r: Reader, businessId: string, keptId: string): Promise<ContactMergeModel | null> {
  return r
    .of(contactMergeTable)
    .findOne({ where: { businessId, keptId, undoneAt: null }, order: [['mergedAt', 'DESC']] });
}
/** Merges into a contact after a moment that were not taken back. */
export async function mergesInto(
  r: Reader,
  businessId: string,
  keptId: string,
  after: number,
): Promise<ContactMergeModel[]> {
  return r
    .of(contactMergeTable)
    .findAll({ where: { businessId, keptId, undoneAt: null, mergedAt: { [Op.gt]: after } } });
}
export async function mergeById(r: Reader, businessId: string, id: string): Promise<ContactMergeModel | null> {
  return r.of(contactMergeTable).findOne({ where: { id, businessId } });
}
export async function addMerge(w: Writer, merge: CreationAttributes<ContactMergeModel>): Promise<void> {
  await w.of(contactMergeTable).create(merge);
}
/** What is kept of merges by which somebody could be known again goes. */
export async function dropMergesOf(w: Writer, businessId: string, contactId: string): Promise<void> {
  await w.of(contactMergeTable).destroy({ where: { businessId, keptId: contactId } });
  await w.of(contactMergeTable).destroy({ where: { businessId, goneId: contactId } });
}

/** The numbers of a contact become another's, none of them preferred. */
export async function moveNumbers(w: Writer, from: string, to: ContactModel): Promise<void> {
  await w
    .of(contactNumberTable)
    .update({ contactId: to.id, sortName: to.sortName, preferred: false }, { where: { contactId: from } });
}

/** Some of a contact's numbers become another's again, with the one that was preferred. */
export async function moveBack(
  w: Writer,
  numbers: readonly { id: number; preferred: boolean }[],
  to: { id: string; sortName: string },
): Promise<void> {
  for (const { id, preferred } of numbers)
    await w.of(contactNumberTable).update({ contactId: to.id, sortName: to.sortName, preferred }, { where: { id } });
}

export async function membershipsOf(r: Reader, contactId: string): Promise<string[]> {
  const rows = await r.of(listMemberTable).findAll({ where: { contactId }, attributes: ['listId'], raw: true });
  return rows.map((m) => m.listId);
}

/** A contact is taken off these lists. */
export async function leaveLists(w: Writer, contactId: string, listIds: readonly string[]): Promise<void> {
  await w.of(listMemberTable).destroy({ where: { contactId, listId: [...listIds] } });
}

export async function dropContact(w: Writer, id: string): Promise<void> {
  await w.of(contactTable).destroy({ where: { id } });
}
export async function restoreContact(w: Writer, contact: CreationAttributes<ContactModel>): Promise<void> {
  await w.of(contactTable).create(contact);
}

/** What purposes each of these numbers is barred for by a refusal elsewhere, set again as it was. */
export async function setRefused(
  w: Writer,
  refused: readonly { id: number; refusedElsewhere: number }[],
): Promise<void> {
  for (const { id, refusedElsewhere } of refused)
    await w.of(contactNumberTable).update({ refusedElsewhere }, { where: { id } });
}
