import type { Relationship } from '@long-gate/contracts';
import { Op, type CreationAttributes, type WhereOptions } from 'sequelize';
import { insertMany } from '../../../platform/bulk.js';
import { jsonRows, type Reader, type Writer } from '../../../platform/db.js';
import { oneById, pageOf } from '../../../platform/keyset.js';
import {
  relationshipFileTable,
  relationshipTable,
  type RelationshipFileModel,
  type RelationshipModel,
} from './model.js';

export interface RelationshipFilter {
  q?: string | undefined;
  kind?: Relationship['kind'] | undefined;
  standing?: Relationship['standing'] | undefined;
  id?: string | undefined;
}

const STANDS = { withdrawnAt: null, brokenAt: null };

function whereOf(businessId: string, f: RelationshipFilter, now: number): WhereOptions {
  const by: Record<Relationship['standing'], WhereOptions> = {
    stands: { ...STANDS, endsAt: { [Op.gt]: now } },
    over: { ...STANDS, endsAt: { [Op.lte]: now } },
    broken: { withdrawnAt: null, brokenAt: { [Op.ne]: null } },
    withdrawn: { withdrawnAt: { [Op.ne]: null } },
  };
  const figures = (f.q ?? '').replace(/\D/g, '');
  const words = f.q?.trim();
  return {
    [Op.and]: [
      { businessId, ...oneById(f.id) },
      f.kind ? { kind: f.kind } : {},
      f.standing ? by[f.standing] : {},
      words
        ? {
            [Op.or]: [
              { reference: { [Op.substring]: words } },
              ...(figures === '' ? [] : [{ e164: { [Op.substring]: figures } }]),
            ],
          }
        : {},
    ],
  };
}

/** A page of what is on record, that recorded last first. */
export async function relationshipsPage(
  r: Reader,
  businessId: string,
  filter: RelationshipFilter,
  now: number,
  page: { cursor: string | undefined; limit: number },
): Promise<{ rows: RelationshipModel[]; next: string | null }> {
  return pageOf(r.of(relationshipTable), {
    where: whereOf(businessId, filter, now),
    order: [
      { by: 'recorded_at', down: true, is: 'number' },
      { by: 'id', down: true, is: 'text' },
    ],
    ...page,
  });
}
export async function countRelationships(
  r: Reader,
  businessId: string,
  filter: RelationshipFilter,
  now: number,
): Promise<number> {
  return r.of(relationshipTable).count({ where: whereOf(businessId, filter, now) });
}

export async function relationshipById(r: Reader, businessId: string, id: string): Promise<RelationshipModel | null> {
  return r.of(relationshipTable).findOne({ where: { id, businessId } });
}
/** Whether a business has recorded any at all; most have not. */
export async function hasRelationships(r: Reader, businessId: string): Promise<boolean> {
  return (await r.of(relationshipTable).findOne({ where: { businessId }, attributes: ['id'], raw: true })) !== null;
}
/** All that is on record of these numbers, withdrawn or not. */
export async function relationshipsOf(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<RelationshipModel[]> {
  return r
    .of(relationshipTable)
    .findAll({ where: { businessId, e164: [...e164s] }, order: ['e164', 'recordedAt', 'id'] });
}
export async function addRelationships(
  w: Writer,
  rows: readonly CreationAttributes<RelationshipModel>[],
): Promise<void> {
  await insertMany(w, relationshipTable, rows);
}
/** Says since when one is broken, or that it is not. */
export async function breakRelationship(w: Writer, id: string, brokenAt: number | null): Promise<void> {
  await w.of(relationshipTable).update({ brokenAt }, { where: { id } });
}
export async function dropRelationships(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
  await w.of(relationshipTable).destroy({ where: { businessId, e164: [...e164s] } });
}

/** Until when each of these numbers is excepted; null for those that nothing excepts. A set: a file has thousands. */
export async function exceptedUntil(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<{ e164: string; until: number | null }[]> {
  return r.all(
    `SELECT j.value AS e164, max(x.ends_at) AS until FROM jsonb_each($2) j
     LEFT JOIN consent_relationship x ON x.business_id = $1 AND x.e164 = j.value AND x.withdrawn_at IS NULL AND x.broken_at IS NULL GROUP BY j.value`,
    [businessId, jsonRows(e164s)],
  );
}

export async function fileById(r: Reader, businessId: string, id: string): Promise<RelationshipFileModel | null> {
  return r.of(relationshipFileTable).findOne({ where: { id, businessId } });
}
export async function addFile(
  w: Writer,
  file: CreationAttributes<RelationshipFileModel>,
): Promise<RelationshipFileModel> {
  return w.of(relationshipFileTable).create(file);
}
/** What these files are called. */
export async function fileNames(r: Reader, businessId: string, ids: readonly string[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map();
  const rows = await r
    .of(relationshipFileTable)
    .findAll({ where: { businessId, id: [...ids] }, attributes: ['id', 'name'], raw: true });
  return new Map(rows.map((x) => [x.id, x.name] as const));
}
