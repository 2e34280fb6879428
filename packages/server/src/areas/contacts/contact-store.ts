import type { CarrierKind, LineType, Textable, Trouble } from '@long-gate/core';
import { jsonRows, manyRows, type Reader, type Writer } from '../../platform/db.js';
import {
  contactTable,
  contactNumberTable,
  contactSenderTable,
  type ContactModel,
  type ContactNumberModel,
} from './model.js';
import { subjectColumns, type SubjectRow } from './subjects.js';

/** One line of the list: a contact number with its contact. */
export interface FullRow extends SubjectRow {
  contact_id: string;
  first_name: string;
  last_name: string;
  email: string;
  state_code: string;
  sort_name: string;
  version: number;
  number_row: number;
  /** Numbers of the contact beside this one. */
  further: number;
  label: string;
  last_reply_at: number | null;
  e164: string;
  line_type: string;
  carrier: string;
  looked_up_at: number | null;
}

/** A contact number, as others ask for it by its address. */
export interface KnownNumber {
  id: number;
  contactId: string;
  name: string;
  lookedUpAt: number | null;
  textable: Textable;
}

const NAME = `trim(c.first_name || ' ' || c.last_name)`;

// -- reading ---------------------------------------------------------------------------------------------------------

/** What a line of the list has beside what the gate reads. */
const BESIDE = [
  'contact_id',
  'first_name',
  'last_name',
  'email',
  'state_code',
  'sort_name',
  'version',
  'number_row',
  'further',
  'label',
  'last_reply_at',
  'e164',
  'line_type',
  'carrier',
  'looked_up_at',
  'conversation_until',
] as const satisfies readonly (keyof FullRow)[];

/** These contact numbers with their contacts, in the order they are named in. By id, each found by its key. */
export async function rowsByNumber(r: Reader, ids: readonly number[], now: number): Promise<FullRow[]> {
  const { select, names } = subjectColumns([]);
  return manyRows<FullRow>(
    r,
    [...names, ...BESIDE],
    `FROM (SELECT j.key AS place, ${select}, c.id AS contact_id, c.first_name, c.last_name, c.email, c.state_code, c.sort_name, c.version, cn.id AS number_row, (SELECT count(*) FROM contact_number f WHERE f.contact_id = c.id) - 1 AS further, cn.label, cn.last_reply_at, cn.e164, cn.line_type, cn.carrier, cn.looked_up_at, cn.conversation_until
     FROM jsonb_each($ids) j CROSS JOIN contact_number cn ON cn.id = CAST(j.value AS BIGINT) JOIN contact c ON c.id = cn.contact_id LEFT JOIN contact_sender cs ON FALSE) AS found
     ORDER BY place LIMIT ${ids.length}`,
    { ids: jsonRows(ids), now },
  );
}

/** What contacts have beside names, e-mail and state; further numbers joined by `; `. */
export async function besideOf(
  r: Reader,
  ids: readonly string[],
): Promise<
  Map<string, { street: string; city: string; postal_code: string; language: string; own: string; further: string }>
> {
  const rows = await r.all<{
    id: string;
    street: string;
    city: string;
    postal_code: string;
    language: string;
    own: string;
    further: string | null;
  }>(
    `SELECT c.id, c.street, c.city, c.postal_code, c.language, c.own, (SELECT ${r.dialect === 'sqlite' ? 'group_concat' : 'string_agg'}(f.e164, '; ') FROM contact_number f WHERE f.contact_id = c.id AND NOT f.preferred) AS further
     FROM jsonb_each($1) j CROSS JOIN contact c ON c.id = j.value`,
    [jsonRows([...new Set(ids)])],
  );
  return new Map(rows.map((x) => [x.id, { ...x, further: x.further ?? '' }]));
}

export async function contactById(r: Reader, businessId: string, id: string): Promise<ContactModel | null> {
  return r.of(contactTable).findOne({ where: { id, businessId } });
}

/** The contact numbers of a contact, the preferred first. */
export async function numbersOf(r: Reader, contactId: string): Promise<ContactNumberModel[]> {
  return r.of(contactNumberTable).findAll({
    where: { contactId },
    order: [
      ['preferred', 'DESC'],
      ['id', 'ASC'],
    ],
  });
}

export async function numberByAddress(r: Reader, businessId: string, e164: string): Promise<KnownNumber | undefined> {
  return r.one<KnownNumber>(
    `SELECT cn.id, cn.contact_id AS "contactId", ${NAME} AS name, cn.looked_up_at AS "lookedUpAt", cn.textable FROM contact_number cn JOIN contact c ON c.id = cn.contact_id WHERE cn.business_id = $1 AND cn.e164 = $2`,
    [businessId, e164],
  );
}

/** Who these numbers belong to; a number that is no contact's is not among them. */
export async function namesByAddress(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<{ e164: string; contactId: string; name: string }[]> {
  if (e164s.length === 0) return [];
  return r.all(
    `SELECT cn.e164, cn.contact_id AS "contactId", ${NAME} AS name FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value JOIN contact c ON c.id = cn.contact_id`,
    [businessId, jsonRows([...new Set(e164s)])],
  );
}

/** Whose a number is, with what letters to them are filled from. */
export interface Person {
  e164: string;
  contactId: string;
  firstName: string;
  lastName: string;
  email: string;
}
export async function peopleByAddress(r: Reader, businessId: string, e164s: readonly string[]): Promise<Person[]> {
  return r.all(
    `SELECT cn.e164, cn.contact_id AS "contactId", c.first_name AS "firstName", c.last_name AS "lastName", c.email FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value JOIN contact c ON c.id = cn.contact_id`,
    [businessId, jsonRows([...new Set(e164s)])],
  );
}

/** Names and first numbers of contacts. */
export async function namesById(
  r: Reader,
  businessId: string,
  ids: readonly string[],
): Promise<{ id: string; name: string; e164: string }[]> {
  return r.all(
    `SELECT c.id, ${NAME} AS name, coalesce((SELECT cn.e164 FROM contact_number cn WHERE cn.contact_id = c.id AND cn.preferred LIMIT 1), '') AS e164
     FROM jsonb_each($2) j CROSS JOIN contact c ON c.id = j.value AND c.business_id = $1`,
    [businessId, jsonRows(ids)],
  );
}

/** Until when this person may be answered; null where they never wrote or called. */
export async function answerableUntil(r: Reader, businessId: string, e164: string): Promise<number | null> {
  const row = await r
    .of(contactNumberTable)
    .findOne({ where: { businessId, e164 }, attributes: ['conversationUntil'], raw: true });
  return row?.conversationUntil ?? null;
}

/** How many contact numbers a number of ours has texted. */
export async function countTexted(r: Reader, numberId: string): Promise<number> {
  return r.of(contactSenderTable).count({ where: { numberId } });
}

/** Contact numbers by country, from what is counted already. */
export async function countByCountry(r: Reader, businessId: string): Promise<{ country: string; n: number }[]> {
  return r.all('SELECT country, sum(n) AS n FROM contact_count WHERE business_id = $1 AND n > 0 GROUP BY country', [
    businessId,
  ]);
}

/** A contact number as the gate reads it, beside the number of ours that would text it. */
export async function subjectRow(
  r: Reader,
  businessId: string,
  e164: string,
  numberId: string,
  now: number,
): Promise<(SubjectRow & { id: number }) | undefined> {
  return r.one<SubjectRow & { id: number }>(
    `SELECT ${subjectColumns([]).select}, cn.conversation_until, cn.id FROM contact_number cn JOIN contact c ON c.id = cn.contact_id
     LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId WHERE cn.business_id = $businessId AND cn.e164 = $e164`,
    { businessId, e164, numberId, now },
  );
}

/** Many contact numbers as the gate reads them, with what merge fields are filled from. One statement for a lot. */
export async function subjectRows(
  r: Reader,
  ids: readonly number[],
  numberId: string,
  emptyFields: readonly ('first_name' | 'last_name')[],
  now: number,
): Promise<(SubjectRow & { id: number; first_name: string; last_name: string })[]> {
  return r.all(
    `SELECT ${subjectColumns(emptyFields).select}, cn.conversation_until, cn.id, c.first_name, c.last_name FROM jsonb_each($ids) j CROSS JOIN contact_number cn ON cn.id = CAST(j.value AS BIGINT) JOIN contact c ON c.id = cn.contact_id
     LEFT JOIN contact_sender cs ON cs.contact_number_id = cn.id AND cs.number_id = $numberId`,
    { ids: jsonRows(ids), numberId, now },
  );
}

/** Which kind of network these contact numbers are on. */
export async function carrierKinds(r: Reader, ids: readonly number[]): Promise<Map<number, CarrierKind>> {
  const rows = await r.all<{ id: number; kind: CarrierKind }>(
    `SELECT cn.id, cn.carrier_kind AS kind FROM jsonb_each($1) j CROSS JOIN contact_number cn ON cn.id = CAST(j.value AS BIGINT)`,
    [jsonRows(ids)],
  );
  return new Map(rows.map((x) => [x.id, x.kind]));
}

/**
 * Rows `[e164, …]` of `$2`, each with the contact number of business `$1` it speaks of. Worked out first and in this
 * order: the planner, left to itself, walks all of a business's numbers for every row, or all numbers there are.
 */
const BY_ADDRESS = `WITH x AS MATERIALIZED (SELECT cn.id, j.value FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value->>0)`;

// -- writing ---------------------------------------------------------------------------------------------------------

export interface NewContact {
  id: string;
  businessId: string;
  e164: string;
  firstName: string;
  lastName: string;
  email: string;
  sortName: string;
  country: string;
  zones: string;
  states: string;
  at: number;
}
export async function addContact(w: Writer, c: NewContact): Promise<void> {
  const { id, businessId, firstName, lastName, email, sortName, at } = c;
  await w.of(contactTable).create({ id, businessId, firstName, lastName, email, sortName, createdAt: at });
  const { e164, country, zones, states } = c;
  await w.of(contactNumberTable).create({ businessId, contactId: id, e164, sortName, country, zones, states });
}

/** Gives a nameless contact a name; one that has a name keeps it. */
export async function nameContact(
  w: Writer,
  id: string,
  firstName: string,
  lastName: string,
  sortName: string,
): Promise<void> {
  const contact = await w.of(contactTable).findOne({ where: { id, firstName: '', lastName: '' } });
  await contact?.update({ firstName, lastName, sortName, version: contact.version + 1 });
}

export async function setPlace(w: Writer, numberRow: number, zones: string, states: string): Promise<void> {
  await w.of(contactNumberTable).update({ zones, states }, { where: { id: numberRow } });
}

export interface LineFacts {
  e164: string;
  lineType: LineType;
  carrier: string;
  carrierKind: CarrierKind;
  reachable: boolean;
  textable: Textable;
}
/** What lookups answered. A later answer that says textable lifts the bar of an earlier one, and nothing else. */
export async function setLines(w: Writer, businessId: string, lines: readonly LineFacts[], at: number): Promise<void> {
  await w.run(
    `${BY_ADDRESS} UPDATE contact_number SET line_type = x.value->>1, carrier = x.value->>2, carrier_kind = x.value->>3, reachable = CAST(x.value->>4 AS BOOLEAN), textable = x.value->>5, looked_up_at = $3,
       trouble = CASE WHEN trouble = 'not-textable' AND x.value->>5 = 'yes' THEN 'none' ELSE trouble END
     FROM x WHERE contact_number.id = x.id`,
    [
      businessId,
      jsonRows(lines.map((l) => [l.e164, l.lineType, l.carrier, l.carrierKind, l.reachable, l.textable])),
      at,
    ],
  );
}

/** They wrote or called, and may be answered until then; never sooner than was said before. */
export async function setAnswerable(
  w: Writer,
  businessId: string,
  e164: string,
  until: number,
  heardAt: number,
): Promise<void> {
  await w.run(
    `UPDATE contact_number SET conversation_until = $3, last_reply_at = $4 WHERE business_id = $1 AND e164 = $2 AND (conversation_until IS NULL OR conversation_until < $3)`,
    [businessId, e164, until, heardAt],
  );
}

/** A text came from it: texts reach this line, whatever a lookup said. */
export async function setTextable(w: Writer, businessId: string, e164: string, at: number): Promise<void> {
  await w.run(
    `UPDATE contact_number SET textable = 'yes', reachable = TRUE, looked_up_at = coalesce(looked_up_at, $3), line_type = CASE WHEN line_type IN ('unknown','none') THEN 'mobile' ELSE line_type END,
       trouble = CASE WHEN trouble IN ('not-textable','out-of-service') THEN 'none' ELSE trouble END WHERE business_id = $1 AND e164 = $2`,
    [businessId, e164, at],
  );
}

/** What delivery taught. A refusal by its owner stays, and a passing fault never hides something worse. */
export async function setTrouble(
  w: Writer,
  businessId: string,
  e164s: readonly string[],
  trouble: Trouble,
  at: number,
): Promise<void> {
  await w.run(
    `UPDATE contact_number SET trouble = CASE WHEN trouble = 'refused-by-owner' OR ($3 = 'passing-fault' AND trouble <> 'none') THEN trouble ELSE $3 END, trouble_at = $4
     WHERE business_id = $1 AND e164 IN (SELECT value FROM jsonb_each($2))`,
    [businessId, jsonRows(e164s), trouble, at],
  );
}

export async function holdForFaults(w: Writer, businessId: string, e164: string): Promise<void> {
  await w.of(contactNumberTable).update({ faultsInReview: true }, { where: { businessId, e164 } });
}

/** When faults of this contact number were last looked at; earlier ones count no more. */
export async function faultsSeenAt(r: Reader, id: number): Promise<number> {
  const row = await r.of(contactNumberTable).findByPk(id, { attributes: ['faultsSeenAt'], raw: true });
  return row?.faultsSeenAt ?? 0;
}

/** Ends the review of faults. @returns false where none was open. */
export async function endFaults(
  w: Writer,
  businessId: string,
  e164: string,
  tryAgain: boolean,
  at: number,
): Promise<boolean> {
  const row = await w.of(contactNumberTable).findOne({ where: { businessId, e164, faultsInReview: true } });
  if (!row) return false;
  const trouble = !tryAgain ? 'out-of-service' : row.trouble === 'passing-fault' ? 'none' : row.trouble;
  await row.update({ faultsInReview: false, faultsSeenAt: at, troubleAt: at, trouble });
  return true;
}

export async function setWish(w: Writer, businessId: string, e164: string, wishInReview: boolean): Promise<void> {
  await w.of(contactNumberTable).update({ wishInReview }, { where: { businessId, e164 } });
}

export interface Sent {
  numberRow: number;
  numberId: string;
  showsStop: boolean;
}
/**
 * The first text from a number of ours to a contact number, and the last that showed how to stop. Of numbers that were
 * taken away while a text to them was on its way nothing is noted.
 */
export async function noteSenders(w: Writer, sent: readonly Sent[], at: number): Promise<void> {
  await w.run(
    `INSERT INTO contact_sender (contact_number_id, number_id, first_at, stop_line_at) SELECT CAST(value->>0 AS BIGINT), value->>1, $2, CASE WHEN CAST(value->>2 AS BOOLEAN) THEN CAST($2 AS BIGINT) END FROM jsonb_each($1)
     WHERE EXISTS (SELECT 1 FROM contact_number WHERE id = CAST(value->>0 AS BIGINT))
     ON CONFLICT (contact_number_id, number_id) DO UPDATE SET stop_line_at = coalesce(excluded.stop_line_at, contact_sender.stop_line_at)`,
    [jsonRows(sent.map((s) => [s.numberRow, s.numberId, s.showsStop])), at],
  );
}

/** Until when no further solicitation goes to these numbers; null for no cap. */
export async function setCaps(
  w: Writer,
  businessId: string,
  caps: readonly (readonly [e164: string, until: number | null])[],
): Promise<void> {
  await w.run(
    `UPDATE contact_number SET promotional_cap_until = CAST(j.value->>1 AS BIGINT) FROM jsonb_each($2) AS j WHERE contact_number.business_id = $1 AND contact_number.e164 = j.value->>0`,
    [businessId, jsonRows(caps)],
  );
}
