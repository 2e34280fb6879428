import { Op } from 'sequelize';
import type { Reader, Writer } from './db.js';
import { auditTable, type AuditModel } from './model.js';

/** The last entry that is in the chain: its place, and its hash. */
export async function lastLink(r: Reader): Promise<{ n: number; hash: string } | undefined> {
  return r.one('SELECT n, hash FROM audit WHERE hash IS NOT NULL ORDER BY n DESC LIMIT 1');
}

/** The values of an entry in the order in which they are hashed. */
export type AuditValues = readonly [
  id: string,
  at: number,
  businessId: string,
  actorId: string,
  actorName: string,
  action: string,
  objectKind: string,
  objectId: string,
  before: string | null,
  after: string | null,
];
/** Appends an entry. By hand, as every change of anything makes one. */
export async function appendEntry(w: Writer, values: AuditValues, prevHash: string, hash: string): Promise<void> {
  await w.run(
    `INSERT INTO audit (id, at, business_id, actor_id, actor_name, action, object_kind, object_id, before, after, prev_hash, hash) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9,$10,$11,$12)`,
    [...values, prevHash, hash],
  );
}

/** The entries after one, in their order. */
export async function entriesAfter(r: Reader, after: number, limit: number): Promise<AuditModel[]> {
  return r.of(auditTable).findAll({ where: { n: { [Op.gt]: after } }, order: ['n'], limit, raw: true });
}

/** Entries of a business before one, the newest first, and how many there are; of one object where one is named. */
export async function pageOfTrail(
  r: Reader,
  businessId: string,
  q: { before: number; limit: number; objectKind?: string; objectId?: string },
): Promise<{ rows: AuditModel[]; total: number }> {
  const where = {
    businessId,
    ...(q.objectKind ? { objectKind: q.objectKind } : {}),
    ...(q.objectId ? { objectId: q.objectId } : {}),
  };
  const rows = await r
    .of(auditTable)
    .findAll({ where: { ...where, n: { [Op.lt]: q.before } }, order: [['n', 'DESC']], limit: q.limit, raw: true });
  return { rows, total: await r.of(auditTable).count({ where }) };
}
