import { Op } from 'sequelize';
import { jsonRows, type Flag, type Reader, type Writer } from '../../platform/db.js';
import { insertMany } from '../../platform/bulk.js';
import {
  contactNumberTable,
  contactTable,
  intakeChangeTable,
  intakeJoinTable,
  intakeTable,
  listMemberTable,
  type ContactModel,
  type IntakeChangeModel,
  type IntakeModel,
} from './model.js';

export async function addIntake(
  w: Writer,
  intake: {
    id: string;
    businessId: string;
    fileName: string;
    total: number;
    listId: string | null;
    consentClaim: string;
    digest: string;
    attestation: string;
    region: string;
    tags: string[];
    known: Record<string, string>;
    purposes: string[];
    documentId: string;
    documentDigest: string;
    createdBy: string;
    createdAt: number;
  },
): Promise<void> {
  const last = (await w.of(intakeTable).max<number, IntakeModel>('no')) ?? 0;
  await w.of(intakeTable).create({ ...intake, no: last + 1, state: 'reading' });
}

export async function intakeOf(r: Reader, businessId: string, id: string): Promise<IntakeModel | null> {
  return r.of(intakeTable).findOne({ where: { id, businessId } });
}

export async function intakeById(r: Reader, id: string): Promise<IntakeModel | null> {
  return r.of(intakeTable).findByPk(id);
}

export async function intakesByIds(r: Reader, businessId: string, ids: readonly string[]): Promise<IntakeModel[]> {
  return r.of(intakeTable).findAll({ where: { businessId, id: [...ids] } });
}

export async function latestIntakes(r: Reader, businessId: string, limit: number): Promise<IntakeModel[]> {
  return r.of(intakeTable).findAll({ where: { businessId }, order: [['createdAt', 'DESC']], limit });
}

/** Those begun before a moment that are neither stored nor thrown away, the last first. */
export async function readingIntakes(r: Reader, businessId: string, before: number): Promise<IntakeModel[]> {
  return r.of(intakeTable).findAll({
    where: { businessId, state: 'reading', createdAt: { [Op.lt]: before } },
    order: [['createdAt', 'DESC']],
    limit: 20,
  });
}

/**
 * Drops so many rows of an intake that is over, the first of them first: a stretch of the index, where a list of rows
 * would be looked for among all that are left. @returns whether any are left.
 */
export async function dropRows(w: Writer, intakeId: string, limit: number): Promise<boolean> {
  const next = await w.one<{ row: number }>(
    `SELECT "row" FROM intake_row WHERE intake_id = $1 ORDER BY "row" LIMIT 1 OFFSET ${limit}`,
    [intakeId],
  );
  await w.run(`DELETE FROM intake_row WHERE intake_id = $1${next ? ' AND "row" < $2' : ''}`, [
    intakeId,
    ...(next ? [next.row] : []),
  ]);
  return next !== undefined;
}

/** A row as it was checked: place, cells, number, and whether it is kept. */
export type CheckedRow = readonly [
  row: number,
  phone: string,
  firstName: string,
  lastName: string,
  email: string,
  stateCode: string,
  e164: string | null,
  outcome: string,
  reason: string,
  keep: 0 | 1,
  more: string,
];
/**
 * Keeps rows, one that is handed in again changing nothing, and how many have arrived. Thousands at a time, so one
 * statement for all, and what is there already is not counted again.
 */
export async function addRows(w: Writer, intake: IntakeModel, rows: readonly CheckedRow[]): Promise<void> {
  const added = await w.all(
    `INSERT INTO intake_row (intake_id, "row", phone, first_name, last_name, email, state_code, e164, outcome, reason, keep, more)
     SELECT $1, CAST(value->>0 AS BIGINT), value->>1, value->>2, value->>3, value->>4, value->>5, value->>6, value->>7, value->>8, CAST(value->>9 AS BOOLEAN), value->>10 FROM jsonb_each($2) WHERE true ON CONFLICT DO NOTHING RETURNING "row"`,
    [intake.id, jsonRows(rows)],
  );
  await intake.update({ received: intake.received + added.length });
}

export interface StoredRow {
  row: number;
  first_name: string;
  last_name: string;
  email: string;
  state_code: string;
  e164: string | null;
  keep: Flag;
  more: string;
}
/** The next rows after one, in the file's order. */
export async function rowsAfter(r: Reader, intakeId: string, after: number, limit: number): Promise<StoredRow[]> {
  return r.all<StoredRow>(
    `SELECT "row", first_name, last_name, email, state_code, e164, keep, more FROM intake_row WHERE intake_id = $1 AND "row" > $2 ORDER BY "row" LIMIT ${limit}`,
    [intakeId, after],
  );
}

/** Which of these numbers are contacts already, and whether by an earlier row of this same intake, as its number or as another. */
export async function knownAmong(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
  intakeId: string,
  upTo: number,
): Promise<{ e164: string; contactId: string; mine: number }[]> {
  return r.all(
    `SELECT cn.e164, cn.contact_id AS "contactId", EXISTS (SELECT 1 FROM intake_row i WHERE i.intake_id = $3 AND i.e164 = cn.e164 AND i."row" <= $4 AND i.keep) OR EXISTS (SELECT 1 FROM contact c WHERE c.id = cn.contact_id AND c.intake_id = $3) AS mine
     FROM jsonb_each($1) j CROSS JOIN contact_number cn ON cn.business_id = $2 AND cn.e164 = j.value`,
    [jsonRows(e164s), businessId, intakeId, upTo],
  );
}

/** A contact to be stored with its number. */
export interface FreshContact {
  id: string;
  firstName: string;
  lastName: string;
  email: string;
  stateCode: string;
  language: string;
  street: string;
  city: string;
  postalCode: string;
  own: string;
  ownWords: string;
  sortName: string;
  e164: string;
  country: string;
  zones: string;
  states: string;
}
/** Stores a lot of contacts with their numbers, not shown yet: two statements for thousands. */
export async function storeContacts(
  w: Writer,
  businessId: string,
  contacts: readonly FreshContact[],
  at: number,
  intake: { id: string; no: number },
): Promise<void> {
  if (contacts.length === 0) return;
  const rows = jsonRows(
    contacts.map((c) => [
      c.id,
      c.firstName,
      c.lastName,
      c.email,
      c.stateCode,
      c.sortName,
      c.e164,
      c.country,
      c.zones,
      c.states,
      c.language,
      c.street,
      c.city,
      c.postalCode,
      c.own,
      c.ownWords,
    ]),
  );
  await w.run(
    `INSERT INTO contact (id, business_id, first_name, last_name, email, state_code, sort_name, created_at, intake_id, language, street, city, postal_code, own, own_words)
     SELECT value->>0, $2, value->>1, value->>2, value->>3, value->>4, value->>5, $3, $4, value->>10, value->>11, value->>12, value->>13, value->>14, value->>15 FROM jsonb_each($1) WHERE true ON CONFLICT DO NOTHING`,
    [rows, businessId, at, intake.id],
  );
  await w.run(
    `INSERT INTO contact_number (business_id, contact_id, e164, country, zones, states, sort_name, staged_no) SELECT $2, value->>0, value->>6, value->>7, value->>8, value->>9, value->>5, $3 FROM jsonb_each($1) WHERE true ON CONFLICT DO NOTHING`,
    [rows, businessId, intake.no],
  );
}

/**
 * Further numbers of contacts; one that is somebody's already is left where it is.
 * @returns those that were stored, by contact.
 */
export async function storeFurther(
  w: Writer,
  businessId: string,
  numbers: readonly (readonly [contactId: string, e164: string, country: string, zones: string, states: string])[],
): Promise<Map<string, string>> {
  if (numbers.length === 0) return new Map();
  const given = await w.all<{ contact_id: string; e164: string }>(
    `INSERT INTO contact_number (business_id, contact_id, e164, country, zones, states, sort_name, preferred)
     SELECT $2, c.id, value->>1, value->>2, value->>3, value->>4, c.sort_name, FALSE FROM jsonb_each($1) j CROSS JOIN contact c ON c.id = j.value->>0 WHERE true ON CONFLICT DO NOTHING RETURNING contact_id, e164`,
    [jsonRows(numbers), businessId],
  );
  return new Map(given.map((x) => [x.contact_id, x.e164]));
}

/** Puts the contacts of these numbers on a list. @returns those who were not on it. */
export async function listNumbers(
  w: Writer,
  businessId: string,
  listId: string,
  e164s: readonly string[],
): Promise<string[]> {
  const put = await w.all<{ contact_id: string }>(
    `INSERT INTO list_member (list_id, contact_id, sort_name) SELECT $1, cn.contact_id, cn.sort_name FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $3 AND cn.e164 = j.value WHERE true ON CONFLICT DO NOTHING RETURNING contact_id`,
    [listId, jsonRows(e164s), businessId],
  );
  return put.map((x) => x.contact_id);
}

// -- who is known ----------------------------------------------------------------------------------------------------

/** Contacts as they are before an intake changes them. */
export async function contactsToChange(r: Reader, ids: readonly string[]): Promise<ContactModel[]> {
  return ids.length === 0 ? [] : r.of(contactTable).findAll({ where: { id: [...ids] } });
}

/** Keeps what contacts were before an intake changed them. */
export async function keepBefore(
  w: Writer,
  intakeId: string,
  changes: readonly { contactId: string; before: string; version: number }[],
): Promise<void> {
  await insertMany(
    w,
    intakeChangeTable,
    changes.map((c) => ({ intakeId, ...c })),
  );
}
export async function keepJoins(
  w: Writer,
  intakeId: string,
  listId: string,
  contactIds: readonly string[],
): Promise<void> {
  await insertMany(
    w,
    intakeJoinTable,
    contactIds.map((contactId) => ({ intakeId, listId, contactId })),
  );
}

/** Which of these numbers are contacts of a business. */
export async function knownOf(r: Reader, businessId: string, e164s: readonly string[]): Promise<string[]> {
  const rows = await r.all<{ e164: string }>(
    `SELECT cn.e164 FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value`,
    [businessId, jsonRows(e164s)],
  );
  return rows.map((x) => x.e164);
}

// -- being there, and being taken back -------------------------------------------------------------------------------

/** What an intake brought, some of it after a place. */
export async function broughtBy(r: Reader, intakeId: string, after: string, limit: number): Promise<{ id: string }[]> {
  return r
    .of(contactTable)
    .findAll({ where: { intakeId, id: { [Op.gt]: after } }, attributes: ['id'], order: ['id'], limit, raw: true });
}

/** What was brought in is told apart no more: the intake is through. */
export async function unstage(w: Writer, contactIds: readonly string[]): Promise<void> {
  await w.of(contactNumberTable).update({ stagedNo: 0 }, { where: { contactId: [...contactIds] } });
}

/** What somebody did since with what an intake brought, in a sentence; empty where nobody did anything. */
export async function touchedSince(r: Reader, intakeId: string): Promise<string> {
  const edited = await r.one<{ n: number }>(`SELECT 1 AS n FROM contact WHERE intake_id = $1 AND version > 1 LIMIT 1`, [
    intakeId,
  ]);
  if (edited) return 'one of its contacts was edited or merged since';
  const texted = await r.one<{ n: number }>(
    `SELECT 1 AS n FROM contact c CROSS JOIN contact_number cn ON cn.contact_id = c.id WHERE c.intake_id = $1 AND (cn.last_reply_at IS NOT NULL OR EXISTS (SELECT 1 FROM contact_sender s WHERE s.contact_number_id = cn.id)) LIMIT 1`,
    [intakeId],
  );
  if (texted) return 'one of its contacts was texted, wrote or called since';
  const changed = await r.one<{ n: number }>(
    `SELECT 1 AS n FROM intake_change x CROSS JOIN contact c ON c.id = x.contact_id WHERE x.intake_id = $1 AND c.version <> x.version LIMIT 1`,
    [intakeId],
  );
  return changed ? 'one of those who were known was edited since' : '';
}

export async function changesOf(r: Reader, intakeId: string, limit: number): Promise<IntakeChangeModel[]> {
  return r.of(intakeChangeTable).findAll({ where: { intakeId }, order: ['contactId'], limit });
}
export async function dropChanges(w: Writer, intakeId: string, contactIds: readonly string[]): Promise<void> {
  await w.of(intakeChangeTable).destroy({ where: { intakeId, contactId: [...contactIds] } });
}
/** Takes off lists whom an intake put on them, some at a time. @returns how many it still had. */
export async function undoJoins(w: Writer, intakeId: string, limit: number): Promise<number> {
  const joins = await w.of(intakeJoinTable).findAll({ where: { intakeId }, limit });
  for (const { listId, contactId } of joins) {
    await w.of(listMemberTable).destroy({ where: { listId, contactId } });
    await w.of(intakeJoinTable).destroy({ where: { intakeId, listId, contactId } });
  }
  return joins.length;
}
