import { Op } from 'sequelize';
import { jsonRows, type Flag, type Reader, type Writer } from '../../platform/db.js';
import { intakeTable, type IntakeModel } from './model.js';

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
    createdBy: string;
    createdAt: number;
  },
): Promise<void> {
  await w.of(intakeTable).create({ ...intake, state: 'reading' });
}

export async function intakeOf(r: Reader, businessId: string, id: string): Promise<IntakeModel | null> {
  return r.of(intakeTable).findOne({ where: { id, businessId } });
}

export async function intakeById(r: Reader, id: string): Promise<IntakeModel | null> {
  return r.of(intakeTable).findByPk(id);
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
];
/**
 * Keeps rows, one that is handed in again changing nothing, and how many have arrived. Thousands at a time, so one
 * statement for all, and what is there already is not counted again.
 */
export async function addRows(w: Writer, intake: IntakeModel, rows: readonly CheckedRow[]): Promise<void> {
  const added = await w.all(
    `INSERT INTO intake_row (intake_id, "row", phone, first_name, last_name, email, state_code, e164, outcome, reason, keep)
     SELECT $1, CAST(value->>0 AS BIGINT), value->>1, value->>2, value->>3, value->>4, value->>5, value->>6, value->>7, value->>8, CAST(value->>9 AS BOOLEAN) FROM jsonb_each($2) WHERE true ON CONFLICT DO NOTHING RETURNING "row"`,
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
}
/** The next rows after one, in the file's order. */
export async function rowsAfter(r: Reader, intakeId: string, after: number, limit: number): Promise<StoredRow[]> {
  return r.all<StoredRow>(
    `SELECT "row", first_name, last_name, email, state_code, e164, keep FROM intake_row WHERE intake_id = $1 AND "row" > $2 ORDER BY "row" LIMIT ${limit}`,
    [intakeId, after],
  );
}

/** Which of these numbers are contacts already, and whether by an earlier row of this same intake. */
export async function knownAmong(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
  intakeId: string,
  upTo: number,
): Promise<{ e164: string; mine: number }[]> {
  return r.all(
    `SELECT cn.e164, EXISTS (SELECT 1 FROM intake_row i WHERE i.intake_id = $3 AND i.e164 = cn.e164 AND i."row" <= $4 AND i.keep) AS mine
     FROM jsonb_each($1) j CROSS JOIN contact_number cn ON cn.business_id = $2 AND cn.e164 = j.value`,
    [jsonRows(e164s), businessId, intakeId, upTo],
  );
}

/** A contact to be stored with its one number. */
export type FreshContact = readonly [
  id: string,
  firstName: string,
  lastName: string,
  email: string,
  stateCode: string,
  sortName: string,
  e164: string,
  country: string,
  zones: string,
  states: string,
];
/** Stores a lot of contacts with their numbers: two statements for thousands. */
export async function storeContacts(
  w: Writer,
  businessId: string,
  contacts: readonly FreshContact[],
  at: number,
  intakeId: string,
): Promise<void> {
  const rows = jsonRows(contacts);
  await w.run(
    `INSERT INTO contact (id, business_id, first_name, last_name, email, state_code, sort_name, created_at, intake_id) SELECT value->>0, $2, value->>1, value->>2, value->>3, value->>4, value->>5, $3, $4 FROM jsonb_each($1) WHERE true ON CONFLICT DO NOTHING`,
    [rows, businessId, at, intakeId],
  );
  await w.run(
    `INSERT INTO contact_number (business_id, contact_id, e164, country, zones, states, sort_name) SELECT $2, value->>0, value->>6, value->>7, value->>8, value->>9, value->>5 FROM jsonb_each($1) WHERE true ON CONFLICT DO NOTHING`,
    [rows, businessId],
  );
}

/** Puts the contacts of these numbers on a list. */
export async function listNumbers(
  w: Writer,
  businessId: string,
  listId: string,
  e164s: readonly string[],
): Promise<void> {
  await w.run(
    `INSERT INTO list_member (list_id, contact_id, sort_name) SELECT $1, cn.contact_id, cn.sort_name FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $3 AND cn.e164 = j.value WHERE true ON CONFLICT DO NOTHING`,
    [listId, jsonRows(e164s), businessId],
  );
}
