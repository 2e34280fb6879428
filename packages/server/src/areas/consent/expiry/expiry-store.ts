import { Op, type CreationAttributes } from 'sequelize';
import { jsonRows, type Reader, type Writer } from '../../../platform/db.js';
import { expiringTable, expiryPolicyTable, type ExpiringModel, type ExpiryPolicyModel } from './model.js';

export async function policyRow(r: Reader, businessId: string): Promise<ExpiryPolicyModel | null> {
  return r.of(expiryPolicyTable).findByPk(businessId);
}
export async function addPolicy(w: Writer, policy: CreationAttributes<ExpiryPolicyModel>): Promise<void> {
  await w.of(expiryPolicyTable).create(policy);
}
/** Businesses in which consent ends by itself. */
export async function endingBusinesses(r: Reader): Promise<string[]> {
  const rows = await r.of(expiryPolicyTable).findAll({ where: { active: true }, order: ['businessId'] });
  return rows.map((x) => x.businessId);
}
export async function noteLooked(
  w: Writer,
  businessId: string,
  lookedAt: number,
  outlook: NonNullable<ExpiryPolicyModel['outlook']>,
): Promise<void> {
  await w.of(expiryPolicyTable).update({ lookedAt, outlook }, { where: { businessId } });
}

/** What is known of one that is listed. */
export type Listed = Pick<ExpiringModel, 'e164' | 'listedAt' | 'askedAt' | 'why'>;
/** Those of these numbers that are listed, each by its number. A set: a walk asks about thousands. */
export async function listedAmong(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<Map<string, Listed>> {
  const rows = await r.all<Listed>(
    `SELECT x.e164, x.listed_at AS "listedAt", x.asked_at AS "askedAt", x.why FROM jsonb_each($2) j CROSS JOIN consent_expiring x ON x.business_id = $1 AND x.e164 = j.value`,
    [businessId, jsonRows(e164s)],
  );
  return new Map(rows.map((x) => [x.e164, x] as const));
}
/** When the consent of those of these numbers who are listed ends. */
export async function expiryEnds(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<Map<string, number>> {
  const rows = await r.all<{ e164: string; ends_at: number }>(
    `SELECT x.e164, x.ends_at FROM jsonb_each($2) j CROSS JOIN consent_expiring x ON x.business_id = $1 AND x.e164 = j.value`,
    [businessId, jsonRows(e164s)],
  );
  return new Map(rows.map((x) => [x.e164, x.ends_at] as const));
}
export async function listExpiring(w: Writer, rows: readonly CreationAttributes<ExpiringModel>[]): Promise<void> {
  await w.of(expiringTable).bulkCreate([...rows], {
    updateOnDuplicate: ['contactId', 'lastAt', 'lastHow', 'endsAt', 'askedAt', 'why', 'seenAt'],
  });
}
/** These are listed no longer. */
export async function dropExpiring(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
  await w.of(expiringTable).destroy({ where: { businessId, e164: [...e164s] } });
}
/** Whoever a whole turn through the business did not find: in contact again, left, or no contact any more. */
export async function dropUnseen(w: Writer, businessId: string, turnAt: number): Promise<void> {
  await w.of(expiringTable).destroy({ where: { businessId, seenAt: { [Op.lt]: turnAt } } });
}

const asked = (which?: 'yes' | 'no') =>
  which === undefined ? {} : { askedAt: which === 'yes' ? { [Op.ne]: null } : null };
/** Those whose consent ends next, from a place on. */
export async function expiringAfter(
  r: Reader,
  businessId: string,
  which: 'yes' | 'no' | undefined,
  after: { endsAt: number; e164: string } | null,
  limit: number,
): Promise<ExpiringModel[]> {
  const beyond = after && {
    [Op.or]: [{ endsAt: { [Op.gt]: after.endsAt } }, { endsAt: after.endsAt, e164: { [Op.gt]: after.e164 } }],
  };
  return r.of(expiringTable).findAll({
    where: { businessId, ...asked(which), ...(beyond ?? {}) },
    order: ['endsAt', 'e164'],
    limit,
  });
}
export async function countExpiring(r: Reader, businessId: string, which?: 'yes' | 'no'): Promise<number> {
  return r.of(expiringTable).count({ where: { businessId, ...asked(which) } });
}
