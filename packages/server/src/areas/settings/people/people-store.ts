import type { Flag, Reader, Writer } from '../../../platform/db.js';
import type { Role } from '../../../platform/http/route.js';
import { userTable } from './model.js';

export interface UserRow {
  id: string;
  email: string;
  name: string;
  password: string;
  mobile: string;
  mobile_pending: string;
  mobile_code: string;
  mobile_tries: number;
  /** The second factor's secret, sealed; empty where there is none. */
  factor_secret: string;
  factor_pending: string;
  /** The last time step for which a code was taken; none is taken twice. */
  factor_step: number;
  created_at: number;
}
export interface MembershipRow {
  business_id: string;
  role: Role;
  administrator_since: number | null;
  /** The business wants a second factor of its administrators. */
  second_factor: Flag;
}

export async function anyUser(r: Reader): Promise<boolean> {
  return (await r.one('SELECT id FROM "user" LIMIT 1')) !== undefined;
}

export async function userById(r: Reader, id: string): Promise<UserRow | undefined> {
  return r.one<UserRow>('SELECT * FROM "user" WHERE id = $1', [id]);
}

export async function userByEmail(r: Reader, email: string): Promise<UserRow | undefined> {
  return r.one<UserRow>('SELECT * FROM "user" WHERE email = $1', [email]);
}

/** Whose own mobile this is; null where nobody's. */
export async function nameByMobile(r: Reader, e164: string): Promise<string | null> {
  return (await r.of(userTable).findOne({ where: { mobile: e164 } }))?.name ?? null;
}

export async function addUser(
  w: Writer,
  u: { id: string; email: string; name: string; password: string; at: number },
): Promise<void> {
  await w.run('INSERT INTO "user" (id, email, name, password, created_at) VALUES ($1,$2,$3,$4,$5)', [
    u.id,
    u.email,
    u.name,
    u.password,
    u.at,
  ]);
}

export async function setPassword(w: Writer, userId: string, hash: string): Promise<void> {
  await w.run('UPDATE "user" SET password = $2 WHERE id = $1', [userId, hash]);
}

export async function setPendingMobile(w: Writer, userId: string, mobile: string, sealedCode: string): Promise<void> {
  await w.run(
    `UPDATE "user" SET mobile_pending = $2, mobile_code = $3, mobile_tries = 0, mobile = CASE WHEN $2 = '' THEN '' ELSE mobile END WHERE id = $1`,
    [userId, mobile, sealedCode],
  );
}

export async function countMobileTry(w: Writer, userId: string): Promise<void> {
  await w.run('UPDATE "user" SET mobile_tries = mobile_tries + 1 WHERE id = $1', [userId]);
}

export async function confirmPendingMobile(w: Writer, userId: string): Promise<void> {
  await w.run(`UPDATE "user" SET mobile = mobile_pending, mobile_pending = '', mobile_code = '' WHERE id = $1`, [
    userId,
  ]);
}

// -- second factor -------------------------------------------------------------------------------------------------

export async function setFactor(
  w: Writer,
  userId: string,
  f: { secret: string; pending: string; step: number },
): Promise<void> {
  await w.run('UPDATE "user" SET factor_secret = $2, factor_pending = $3, factor_step = $4 WHERE id = $1', [
    userId,
    f.secret,
    f.pending,
    f.step,
  ]);
}

export async function setRecoveryCodes(w: Writer, userId: string, hashes: readonly string[]): Promise<void> {
  await w.run('DELETE FROM recovery_code WHERE user_id = $1', [userId]);
  for (const hash of hashes)
    await w.run('INSERT INTO recovery_code (user_id, code_hash) VALUES ($1,$2)', [userId, hash]);
}

export async function recoveryCodesLeft(r: Reader, userId: string): Promise<number> {
  const row = await r.one<{ n: number }>(
    'SELECT count(*) AS n FROM recovery_code WHERE user_id = $1 AND used_wall IS NULL',
    [userId],
  );
  return row?.n ?? 0;
}

/** Uses up a recovery code; false where there is no such unused one. */
export async function takeRecoveryCode(w: Writer, userId: string, hash: string): Promise<boolean> {
  if (
    !(await w.one('SELECT 1 FROM recovery_code WHERE user_id = $1 AND code_hash = $2 AND used_wall IS NULL', [
      userId,
      hash,
    ]))
  )
    return false;
  await w.run('UPDATE recovery_code SET used_wall = $3 WHERE user_id = $1 AND code_hash = $2', [
    userId,
    hash,
    Date.now(),
  ]);
  return true;
}

// -- roles ---------------------------------------------------------------------------------------------------------

export async function membershipsOf(r: Reader, userId: string): Promise<MembershipRow[]> {
  return r.all<MembershipRow>(
    'SELECT m.business_id, m.role, m.administrator_since, b.second_factor FROM membership m JOIN business b ON b.id = m.business_id WHERE m.user_id = $1',
    [userId],
  );
}

export async function membership(r: Reader, userId: string, businessId: string): Promise<MembershipRow | undefined> {
  return (await membershipsOf(r, userId)).find((m) => m.business_id === businessId);
}

/** The moment since which somebody is an administrator stays while they are one, and begins anew when they become one. */
export async function setMembership(
  w: Writer,
  m: { userId: string; businessId: string; role: Role; at: number },
): Promise<void> {
  await w.run(
    `INSERT INTO membership (user_id, business_id, role, administrator_since) VALUES ($1,$2,$3,CASE WHEN $3 = 'administrator' THEN CAST($4 AS BIGINT) END)
     ON CONFLICT (user_id, business_id) DO UPDATE SET role = $3,
       administrator_since = CASE WHEN $3 <> 'administrator' THEN NULL WHEN membership.role = 'administrator' THEN membership.administrator_since ELSE CAST($4 AS BIGINT) END`,
    [m.userId, m.businessId, m.role, m.at],
  );
}

export async function endMembership(w: Writer, userId: string, businessId: string): Promise<void> {
  await w.run('DELETE FROM membership WHERE user_id = $1 AND business_id = $2', [userId, businessId]);
}

export async function otherAdministrators(r: Reader, businessId: string, userId: string): Promise<number> {
  const row = await r.one<{ n: number }>(
    `SELECT count(*) AS n FROM membership WHERE business_id = $1 AND role = 'administrator' AND user_id <> $2`,
    [businessId, userId],
  );
  return row?.n ?? 0;
}

export async function peopleOf(
  r: Reader,
  businessId: string,
): Promise<{ id: string; name: string; email: string; role: Role; factor: number }[]> {
  return r.all(
    `SELECT u.id, u.name, u.email, m.role, u.factor_secret <> '' AS factor FROM membership m JOIN "user" u ON u.id = m.user_id WHERE m.business_id = $1 ORDER BY u.name`,
    [businessId],
  );
}

export async function setSecondFactorWish(w: Writer, businessId: string, wanted: boolean): Promise<void> {
  await w.run('UPDATE business SET second_factor = $2, version = version + 1 WHERE id = $1', [
    businessId,
    wanted ? 1 : 0,
  ]);
}
