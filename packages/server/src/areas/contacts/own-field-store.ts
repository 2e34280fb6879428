import type { ContactField } from '@long-gate/contracts';
import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { contactFieldTable, contactTable, type ContactFieldModel } from './model.js';

export const shownField = ({ id, name, kind, choices, outcome }: ContactFieldModel): ContactField => ({
  id,
  name,
  kind,
  choices,
  outcome,
});

export async function fieldsOf(r: Reader, businessId: string): Promise<ContactField[]> {
  return (await r.of(contactFieldTable).findAll({ where: { businessId }, order: ['createdAt', 'id'] })).map(shownField);
}
export async function fieldById(r: Reader, businessId: string, id: string): Promise<ContactFieldModel | null> {
  return r.of(contactFieldTable).findOne({ where: { id, businessId } });
}
export async function addField(w: Writer, field: CreationAttributes<ContactFieldModel>): Promise<void> {
  await w.of(contactFieldTable).create(field);
}

/** Some of the contacts in whose own fields anything stands, after one in the order of their ids. */
export async function contactsWithOwn(
  r: Reader,
  businessId: string,
  after: string,
  limit: number,
): Promise<{ id: string; own: string }[]> {
  return r.all(
    `SELECT id, own FROM contact WHERE business_id = $1 AND id > $2 AND own <> '{}' ORDER BY id LIMIT ${limit}`,
    [businessId, after],
  );
}

export async function setOwn(w: Writer, id: string, own: Record<string, string>, ownWords: string): Promise<void> {
  await w.of(contactTable).update({ own, ownWords }, { where: { id } });
}
