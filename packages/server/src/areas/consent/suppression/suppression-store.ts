import type { Suppression, SuppressionKind } from '@long-gate/core';
import type { CreationAttributes } from 'sequelize';
import { jsonRows, type Reader, type Writer } from '../../../platform/db.js';
import { suppressionListTable, suppressionNumberTable, type SuppressionListModel } from './model.js';

export async function listsOf(r: Reader, businessId: string): Promise<SuppressionListModel[]> {
  return r
    .of(suppressionListTable)
    .scope('shown')
    .findAll({ where: { businessId }, order: ['name', 'id'] });
}
export async function listById(r: Reader, businessId: string, id: string): Promise<SuppressionListModel | null> {
  return r.of(suppressionListTable).findOne({ where: { id, businessId } });
}
/** A list of whatever business: for jobs. */
export async function listOfAnybody(r: Reader, id: string): Promise<SuppressionListModel | null> {
  return r.of(suppressionListTable).findByPk(id);
}
export async function addList(w: Writer, list: CreationAttributes<SuppressionListModel>): Promise<void> {
  await w.of(suppressionListTable).create(list);
}

/** Puts numbers on an edition of a list; those that are on it stay. A set: a part has thousands. */
export async function addNumbers(
  w: Writer,
  list: { businessId: string; id: string; edition: number },
  e164s: readonly string[],
): Promise<void> {
  await w.run(
    `INSERT INTO suppression_number (business_id, e164, list_id, edition) SELECT $1, j.value, $3, $4 FROM jsonb_each($2) j WHERE true ON CONFLICT DO NOTHING`,
    [list.businessId, jsonRows(e164s), list.id, list.edition],
  );
}
export async function countNumbers(r: Reader, listId: string, edition: number): Promise<number> {
  return r.of(suppressionNumberTable).count({ where: { listId, edition } });
}
/** Takes some numbers of an edition off. @returns those, none where none are left. */
export async function dropNumbers(w: Writer, listId: string, edition: number, limit: number): Promise<string[]> {
  const some = await w.of(suppressionNumberTable).findAll({
    where: { listId, edition },
    attributes: ['e164'],
    order: ['e164'],
    limit,
    raw: true,
  });
  const e164s = some.map((x) => x.e164);
  if (e164s.length > 0) await w.of(suppressionNumberTable).destroy({ where: { listId, edition, e164: e164s } });
  return e164s;
}

/** What the lists these numbers are on keep from them; those that are on none are not in the answer. */
export async function keptOff(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<{ e164: string; suppression: Suppression }[]> {
  return r.all(
    `SELECT j.value AS e164, CASE WHEN max(CASE WHEN l.kind IN ('national', 'state') THEN 1 ELSE 2 END) = 2 THEN 'all' ELSE 'solicitations' END AS suppression
     FROM jsonb_each($2) j CROSS JOIN suppression_number n ON n.business_id = $1 AND n.e164 = j.value JOIN suppression_list l ON l.id = n.list_id
     WHERE l.state <> 'gone' GROUP BY j.value`,
    [businessId, jsonRows(e164s)],
  );
}

/** Whether a business has any list at all; most numbers that come need not be looked for then. */
export async function hasLists(r: Reader, businessId: string): Promise<boolean> {
  return (await r.of(suppressionListTable).findOne({ where: { businessId }, attributes: ['id'], raw: true })) !== null;
}

/** Which of these numbers stand on an edition of a list. */
export async function onList(
  r: Reader,
  list: { businessId: string; id: string; edition: number },
  e164s: readonly string[],
): Promise<string[]> {
  const rows = await r.all<{ e164: string }>(
    `SELECT n.e164 FROM jsonb_each($2) j CROSS JOIN suppression_number n ON n.business_id = $1 AND n.e164 = j.value AND n.list_id = $3 AND n.edition = $4 ORDER BY j.key`,
    [list.businessId, jsonRows(e164s), list.id, list.edition],
  );
  return rows.map((x) => x.e164);
}
/** The lists that name these numbers, each with the day of its edition that stands, or that is being read where none does. */
export async function listsNaming(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<
  { e164: string; list: string; kind: SuppressionKind; source: string; datedOn: string; broughtAt: number | null }[]
> {
  return r.all(
    `SELECT DISTINCT n.e164, l.name AS list, l.kind, CASE WHEN l.edition = 0 THEN l.reading_source ELSE l.source END AS source,
       CASE WHEN l.edition = 0 THEN l.reading_dated_on ELSE l.dated_on END AS "datedOn", l.brought_at AS "broughtAt"
     FROM jsonb_each($2) j CROSS JOIN suppression_number n ON n.business_id = $1 AND n.e164 = j.value JOIN suppression_list l ON l.id = n.list_id
     WHERE l.state <> 'gone' ORDER BY n.e164, l.name`,
    [businessId, jsonRows(e164s)],
  );
}
/** Whether any number stands on any edition of a list. */
export async function anyNumber(r: Reader, listId: string): Promise<boolean> {
  return (await r.of(suppressionNumberTable).findOne({ where: { listId }, attributes: ['e164'], raw: true })) !== null;
}
