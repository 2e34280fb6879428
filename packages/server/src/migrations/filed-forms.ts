import type { QueryInterface } from 'sequelize';
import { big, createTable, flag, index, key, refers, text, whole } from '../platform/table.js';

/** Forms that people signed, filed as proof of what they agreed to. */
export async function filedForms(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'filed_form', {
    id: key(text()),
    businessId: refers(text(), 'business'),
    purposes: text(),
    signedOn: text(),
    disclosure: text(),
    documentId: text(),
    name: text(),
    size: whole(),
    sha256: text(),
    people: whole(0),
    leftOut: whole(0),
    done: flag(false),
    filedBy: text(),
    filedAt: big(),
  });
  await index(qi, 'filed_form', 'filed_form_order', ['business_id', 'filed_at DESC']);
}
