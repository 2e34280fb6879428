import type { ConsentState, Suppression } from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';
import { jsonRows } from '../../platform/db.js';
import {
  contactNumberTable,
  contactSenderTable,
  numberTroubleTable,
  type ContactNumberModel,
  type NumberTroubleModel,
} from './model.js';

export interface FurtherNumber {
  businessId: string;
  contactId: string;
  e164: string;
  label: string;
  sortName: string;
  country: string;
  zones: string;
  states: string;
}
/** A number beside the preferred one of a contact. */
export async function addFurther(w: Writer, n: FurtherNumber): Promise<ContactNumberModel> {
  return w.of(contactNumberTable).create({ ...n, preferred: false });
}

export async function numberOf(r: Reader, contactId: string, e164: string): Promise<ContactNumberModel | null> {
  return r.of(contactNumberTable).findOne({ where: { contactId, e164 } });
}

/** Texts go to this number of a contact from now on, and to no other. */
export async function prefer(w: Writer, contactId: string, id: number): Promise<void> {
  await w.of(contactNumberTable).update({ preferred: false }, { where: { contactId, preferred: true } });
  await w.of(contactNumberTable).update({ preferred: true }, { where: { contactId, id } });
}

/** Takes numbers away with what hangs on them; what was said by them stays in the ledger. */
export async function dropNumbers(w: Writer, ids: readonly number[]): Promise<void> {
  const all = [...ids];
  await w.of(contactSenderTable).destroy({ where: { contactNumberId: all } });
  await w.of(numberTroubleTable).destroy({ where: { contactNumberId: all } });
  await w.of(contactNumberTable).destroy({ where: { id: all } });
}

/** What lists keep from these contact numbers; only those that change are written. A set: a list has many. */
export async function setSuppressions(
  w: Writer,
  businessId: string,
  rows: readonly (readonly [e164: string, suppression: Suppression])[],
): Promise<void> {
  await w.run(
    `UPDATE contact_number SET suppression = j.value->>1 FROM jsonb_each($2) AS j
     WHERE contact_number.business_id = $1 AND contact_number.e164 = j.value->>0 AND contact_number.suppression <> j.value->>1`,
    [businessId, jsonRows(rows)],
  );
}

/** Until when these contact numbers are excepted from registries; only those that change are written. */
export async function setRelated(
  w: Writer,
  businessId: string,
  rows: readonly (readonly [e164: string, until: number | null])[],
): Promise<void> {
  await w.run(
    `UPDATE contact_number SET related_until = CAST(j.value->>1 AS BIGINT) FROM jsonb_each($2) AS j
     WHERE contact_number.business_id = $1 AND contact_number.e164 = j.value->>0 AND contact_number.related_until IS DISTINCT FROM CAST(j.value->>1 AS BIGINT)`,
    [businessId, jsonRows(rows)],
  );
}

/** The next contact numbers after one from which a list keeps something, with what their owners agreed to. */
export async function suppressedAfter(
  r: Reader,
  businessId: string,
  after: string,
  limit: number,
): Promise<{ e164: string; promotional: ConsentState }[]> {
  return r.all(
    `SELECT e164, consent_promotional AS promotional FROM contact_number WHERE business_id = $1 AND suppression <> 'none' AND e164 > $2 ORDER BY e164 LIMIT ${limit}`,
    [businessId, after],
  );
}

/** What was last learnt of these numbers' lines, and what kept texts from them, as evidence shows it. */
export async function learntOf(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<{ number: ContactNumberModel; troubles: NumberTroubleModel[] }[]> {
  const numbers = await r.of(contactNumberTable).findAll({ where: { businessId, e164: [...e164s] }, order: ['e164'] });
  const troubles = await r
    .of(numberTroubleTable)
    .findAll({ where: { contactNumberId: numbers.map((n) => n.id) }, order: ['firstAt', 'cause'] });
  return numbers.map((number) => ({ number, troubles: troubles.filter((t) => t.contactNumberId === number.id) }));
}

/** The other numbers of whoever has each of these. */
export async function numbersBeside(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<Map<string, string[]>> {
  const beside = new Map<string, string[]>();
  if (e164s.length === 0) return beside;
  const rows = await r.all<{ e164: string; other: string }>(
    `SELECT cn.e164, o.e164 AS other FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value CROSS JOIN contact_number o ON o.contact_id = cn.contact_id AND o.id <> cn.id`,
    [businessId, jsonRows(e164s)],
  );
  for (const x of rows) beside.set(x.e164, [...(beside.get(x.e164) ?? []), x.other]);
  return beside;
}
