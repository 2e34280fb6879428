import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import {
  contactNumberTable,
  contactSenderTable,
  intakeChangeTable,
  intakeTable,
  listMemberTable,
  numberTroubleTable,
  type ContactNumberModel,
} from './model.js';

/** All numbers of these contacts of a business. */
export async function numbersOfContacts(
  r: Reader,
  businessId: string,
  ids: readonly string[],
): Promise<ContactNumberModel[]> {
  return r.of(contactNumberTable).findAll({ where: { businessId, contactId: [...ids] } });
}

/** Contacts with all that hangs on them. A set, since a selection may be thousands. @returns how many there were. */
export async function removeContacts(w: Writer, businessId: string, ids: readonly string[]): Promise<number> {
  const contactId = [...ids];
  const numbers = (await numbersOfContacts(w, businessId, ids)).map((n) => n.id);
  await w.of(contactSenderTable).destroy({ where: { contactNumberId: numbers } });
  await w.of(numberTroubleTable).destroy({ where: { contactNumberId: numbers } });
  await w.of(listMemberTable).destroy({ where: { contactId } });
  await w.of(contactNumberTable).destroy({ where: { id: numbers } });
  // What they were called before a list called them otherwise. Asked by intake, in whose order it is kept.
  const intakes = await w.of(intakeTable).findAll({ where: { businessId }, attributes: ['id'], raw: true });
  await w.of(intakeChangeTable).destroy({ where: { intakeId: intakes.map((i) => i.id), contactId } });
  const gone = await w.all<{ id: string }>(
    `DELETE FROM contact WHERE business_id = $1 AND id IN (SELECT value FROM jsonb_each($2)) RETURNING id`,
    [businessId, jsonRows(contactId)],
  );
  return gone.length;
}
