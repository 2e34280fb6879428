import { col, fn, Op, where, type WhereOptions } from 'sequelize';
import type { Reader, Writer } from './db.js';
import type { Thing } from './objects.js';
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

/** What the trail is narrowed by; moments, the end exclusive. */
export interface TrailFilter {
  objectKind?: string | undefined;
  objectId?: string | undefined;
  /** Any of these things, instead of one of them. */
  things?: readonly Thing[] | undefined;
  actor?: string | undefined;
  action?: string | undefined;
  from?: number | undefined;
  to?: number | undefined;
}

const trailWhere = (businessId: string, q: TrailFilter): WhereOptions<AuditModel> => ({
  businessId,
  ...(q.things
    ? { [Op.or]: q.things.map(({ kind, id }) => ({ objectKind: kind, objectId: id })) }
    : { ...(q.objectKind ? { objectKind: q.objectKind } : {}), ...(q.objectId ? { objectId: q.objectId } : {}) }),
  ...(q.actor ? { actorName: q.actor } : {}),
  ...(q.from === undefined && q.to === undefined
    ? {}
    : { at: { [Op.gte]: q.from ?? 0, [Op.lt]: q.to ?? Number.MAX_SAFE_INTEGER } }),
  // Words as they are written, not as a pattern.
  ...(q.action ? { [Op.and]: [where(fn('instr', fn('lower', col('action')), q.action.toLowerCase()), Op.gt, 0)] } : {}),
});

/** Entries of a business before one, as the filter leaves them, the newest first. */
export async function entriesBefore(
  r: Reader,
  businessId: string,
  { before, limit, ...filter }: TrailFilter & { before: number; limit: number },
): Promise<AuditModel[]> {
  return r.of(auditTable).findAll({
    where: { [Op.and]: [trailWhere(businessId, filter), { n: { [Op.lt]: before } }] },
    order: [['n', 'DESC']],
    limit,
    raw: true,
  });
}

/** How many entries of a business the filter leaves. */
export async function countOfTrail(r: Reader, businessId: string, filter: TrailFilter): Promise<number> {
  return r.of(auditTable).count({ where: trailWhere(businessId, filter) });
}

/** Who is in the trail of a business, and of what kinds of things it speaks. Two grouped scans of it. */
export async function inTrail(r: Reader, businessId: string): Promise<{ actors: string[]; kinds: string[] }> {
  const [actors, kinds] = await Promise.all([
    r.all<{ value: string }>(`SELECT DISTINCT actor_name AS value FROM audit WHERE business_id = $1 ORDER BY 1`, [
      businessId,
    ]),
    r.all<{ value: string }>(`SELECT DISTINCT object_kind AS value FROM audit WHERE business_id = $1 ORDER BY 1`, [
      businessId,
    ]),
  ]);
  return { actors: actors.map((a) => a.value), kinds: kinds.map((k) => k.value) };
}
