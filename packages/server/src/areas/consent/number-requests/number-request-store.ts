import { Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { jsonRows } from '../../../platform/db.js';
import { numberRequestTable, type NumberRequestModel } from './model.js';

export async function addRequest(w: Writer, request: CreationAttributes<NumberRequestModel>): Promise<void> {
  await w.of(numberRequestTable).create(request);
}
export async function requestByHash(r: Reader, tokenHash: string): Promise<NumberRequestModel | null> {
  return r.of(numberRequestTable).findOne({ where: { tokenHash } });
}

/** A request, whosever it is. */
export async function requestOfAnybody(r: Reader, id: string): Promise<NumberRequestModel | null> {
  return r.of(numberRequestTable).findByPk(id);
}

export async function requestById(r: Reader, businessId: string, id: string): Promise<NumberRequestModel | null> {
  return r.of(numberRequestTable).findOne({ where: { id, businessId } });
}

/** Which of these contacts were asked since a moment, by a letter that left. */
export async function askedSince(r: Reader, contactIds: readonly string[], since: number): Promise<Set<string>> {
  const rows = await r.all<{ contactId: string }>(
    `SELECT DISTINCT q.contact_id AS "contactId" FROM jsonb_each($1) j CROSS JOIN number_request q ON q.contact_id = j.value AND q.asked_at > $2 AND q.failed <> 'held back'`,
    [jsonRows(contactIds), since],
  );
  return new Set(rows.map((x) => x.contactId));
}

/** Those asked, the last first, from a place on. */
export async function requestsAfter(
  r: Reader,
  businessId: string,
  after: { askedAt: number; id: string } | null,
  limit: number,
): Promise<NumberRequestModel[]> {
  const beyond = after && {
    [Op.or]: [{ askedAt: { [Op.lt]: after.askedAt } }, { askedAt: after.askedAt, id: { [Op.lt]: after.id } }],
  };
  return r.of(numberRequestTable).findAll({
    where: { businessId, ...(beyond ?? {}) },
    order: [
      ['askedAt', 'DESC'],
      ['id', 'DESC'],
    ],
    limit,
  });
}
export async function countRequests(r: Reader, businessId: string): Promise<number> {
  return r.of(numberRequestTable).count({ where: { businessId } });
}

/**
 * Requests whose new number waits for the handset's YES, among these numbers. Which they are is asked as a set: with
 * every event of a list brought in it is asked again, and a list of thousands in a statement's own words takes longer
 * than recording them.
 */
export async function waitingForYes(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<NumberRequestModel[]> {
  const found = await r.all<{ id: string }>(
    `SELECT q.id FROM jsonb_each($2) j CROSS JOIN number_request q ON q.business_id = $1 AND q.new_e164 = j.value AND q.state = 'answered'`,
    [businessId, jsonRows(e164s)],
  );
  return found.length === 0 ? [] : r.of(numberRequestTable).findAll({ where: { id: found.map((x) => x.id) } });
}

/** What was asked of people who were erased goes. */
export async function dropRequestsFor(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
  for (const column of ['oldE164', 'newE164'] as const)
    await w.of(numberRequestTable).destroy({ where: { businessId, [column]: [...e164s] } });
}

/**
 * Everything that was asked of the owners of these numbers; where a number and the one given for it are both among them,
 * twice. Of a number that was given, once its handset said YES: before, it may be anybody's.
 */
export async function requestsTo(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<NumberRequestModel[]> {
  const numbers = [...e164s];
  // One question for each: asked together, all requests of the business are walked.
  const requests = r.of(numberRequestTable);
  const asked = await requests.findAll({ where: { businessId, oldE164: numbers } });
  const given = await requests.findAll({ where: { businessId, newE164: numbers, state: 'confirmed' } });
  return [...asked, ...given];
}
