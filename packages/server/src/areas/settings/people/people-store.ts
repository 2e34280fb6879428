import { col, literal, Op } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Role } from '../../../platform/http/route.js';
import { businessTable } from '../model.js';
import { membershipTable, recoveryCodeTable, userTable, type UserModel } from './model.js';

/** A part somebody has in a business. */
export interface Membership {
  businessId: string;
  role: Role;
  /** Scenario time; null where they are none. */
  administratorSince: number | null;
  /** The business wants a second factor of its administrators. */
  wantsFactor: boolean;
}

export async function anyUser(r: Reader): Promise<boolean> {
  return (await r.of(userTable).findOne({ attributes: ['id'], raw: true })) !== null;
}

export async function userById(r: Reader, id: string): Promise<UserModel | null> {
  return r.of(userTable).findByPk(id);
}

/** Names of people by their ids. */
export async function namesOfUsers(r: Reader, ids: readonly string[]): Promise<Map<string, string>> {
  const rows = await r.of(userTable).findAll({ where: { id: [...ids] }, attributes: ['id', 'name'], raw: true });
  return new Map(rows.map((u) => [u.id, u.name]));
}

export async function userByEmail(r: Reader, email: string): Promise<UserModel | null> {
  return r.of(userTable).findOne({ where: { email } });
}

/** Whose own mobile this is; null where nobody's. */
export async function nameByMobile(r: Reader, e164: string): Promise<string | null> {
  return (await r.of(userTable).findOne({ where: { mobile: e164 } }))?.name ?? null;
}

export async function addUser(
  w: Writer,
  u: { id: string; email: string; name: string; password: string; at: number },
): Promise<void> {
  const { id, email, name, password, at } = u;
  await w.of(userTable).create({ id, email, name, password, createdAt: at });
}

export async function setPassword(w: Writer, userId: string, hash: string): Promise<void> {
  await w.of(userTable).update({ password: hash }, { where: { id: userId } });
}

/** A mobile that is to be confirmed; an empty one takes the confirmed one away too. */
export async function setPendingMobile(w: Writer, userId: string, mobile: string, sealedCode: string): Promise<void> {
  const pending = { mobilePending: mobile, mobileCode: sealedCode, mobileTries: 0 };
  await w.of(userTable).update({ ...pending, ...(mobile === '' ? { mobile } : {}) }, { where: { id: userId } });
}

/** No code is waited for any more; a mobile that was confirmed before stays. */
export async function dropPendingMobile(w: Writer, userId: string): Promise<void> {
  await w.of(userTable).update({ mobilePending: '', mobileCode: '', mobileTries: 0 }, { where: { id: userId } });
}

export async function countMobileTry(w: Writer, userId: string): Promise<void> {
  await w.of(userTable).update({ mobileTries: literal('mobile_tries + 1') }, { where: { id: userId } });
}

export async function confirmPendingMobile(w: Writer, userId: string): Promise<void> {
  const confirmed = { mobile: col('mobile_pending') as unknown as string, mobilePending: '', mobileCode: '' };
  await w.of(userTable).update(confirmed, { where: { id: userId } });
}

// -- second factor -------------------------------------------------------------------------------------------------

export async function setFactor(
  w: Writer,
  userId: string,
  f: { secret: string; pending: string; step: number },
): Promise<void> {
  const factor = { factorSecret: f.secret, factorPending: f.pending, factorStep: f.step };
  await w.of(userTable).update(factor, { where: { id: userId } });
}

export async function setRecoveryCodes(w: Writer, userId: string, hashes: readonly string[]): Promise<void> {
  await w.of(recoveryCodeTable).destroy({ where: { userId } });
  await w.of(recoveryCodeTable).bulkCreate(hashes.map((codeHash) => ({ userId, codeHash })));
}

export async function recoveryCodesLeft(r: Reader, userId: string): Promise<number> {
  return r.of(recoveryCodeTable).count({ where: { userId, usedWall: null } });
}

/** Uses up a recovery code; false where there is no such unused one. */
export async function takeRecoveryCode(w: Writer, userId: string, hash: string): Promise<boolean> {
  const unused = { userId, codeHash: hash, usedWall: null };
  const [taken] = await w.of(recoveryCodeTable).update({ usedWall: Date.now() }, { where: unused });
  return taken > 0;
}

// -- roles ---------------------------------------------------------------------------------------------------------

export async function membershipsOf(r: Reader, userId: string): Promise<Membership[]> {
  const rows = await r.of(membershipTable).findAll({ where: { userId } });
  const businesses = await r
    .of(businessTable)
    .findAll({ where: { id: rows.map((m) => m.businessId) }, attributes: ['id', 'secondFactor'] });
  const wanting = new Set(businesses.filter((b) => b.secondFactor).map((b) => b.id));
  return rows.map(({ businessId, role, administratorSince }) => ({
    businessId,
    role,
    administratorSince,
    wantsFactor: wanting.has(businessId),
  }));
}

export async function membership(r: Reader, userId: string, businessId: string): Promise<Membership | undefined> {
  return (await membershipsOf(r, userId)).find((m) => m.businessId === businessId);
}

/** The moment since which somebody is an administrator stays while they are one, and begins anew when they become one. */
export async function setMembership(
  w: Writer,
  m: { userId: string; businessId: string; role: Role; at: number },
): Promise<void> {
  const { userId, businessId, role } = m;
  const known = await w.of(membershipTable).findOne({ where: { userId, businessId } });
  const since = known?.role === 'administrator' ? known.administratorSince : m.at;
  const now = { role, administratorSince: role === 'administrator' ? since : null };
  if (known) await known.update(now);
  else await w.of(membershipTable).create({ userId, businessId, ...now });
}

export async function endMembership(w: Writer, userId: string, businessId: string): Promise<void> {
  await w.of(membershipTable).destroy({ where: { userId, businessId } });
}

export async function otherAdministrators(r: Reader, businessId: string, userId: string): Promise<number> {
  const where = { businessId, role: 'administrator', userId: { [Op.ne]: userId } } as const;
  return r.of(membershipTable).count({ where });
}

/** Everybody with a part in a business, by name. */
export async function peopleOf(
  r: Reader,
  businessId: string,
): Promise<{ id: string; name: string; email: string; role: Role; factor: boolean }[]> {
  const members = await r
    .of(membershipTable)
    .findAll({ where: { businessId }, include: { association: 'user' }, order: [['user', 'name', 'ASC']] });
  return members.flatMap(({ role, user }) =>
    user ? [{ id: user.id, name: user.name, email: user.email, role, factor: user.factorSecret !== '' }] : [],
  );
}

export async function setSecondFactorWish(w: Writer, businessId: string, wanted: boolean): Promise<void> {
  await w
    .of(businessTable)
    .update({ secondFactor: wanted, version: literal('version + 1') }, { where: { id: businessId } });
}
