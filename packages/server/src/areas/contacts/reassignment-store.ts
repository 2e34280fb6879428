import type { Whom } from '@long-gate/contracts';
import type { Reassignment } from '@long-gate/core';
import { Op } from 'sequelize';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import { audienceSql, type Audience } from './audience-store.js';
import { contactNumberTable } from './model.js';
import { fromWhom } from './whom-store.js';

/** Whose numbers are asked about: those that are due before a dispatch, or some of those whose owners agreed. */
export type ReassignedScope = 'due' | Whom;
/** Agreed, and neither agreed nor asked about since a moment. */
const STALE = `cn.agreed_at < $before AND (cn.reassignment_asked_at IS NULL OR cn.reassignment_asked_at < $before)`;

async function scopeSql(
  r: Reader,
  businessId: string,
  scope: ReassignedScope,
  before: number,
  now: number,
): Promise<{ from: string; bind: Record<string, unknown> }> {
  if (scope === 'due')
    return {
      // Both are said, since an index of those alone that are not clear is known by the second.
      from: `FROM contact_number cn WHERE cn.business_id = $businessId AND cn.reassignment = 'due' AND cn.reassignment <> 'clear'`,
      bind: { businessId },
    };
  const { from, bind } = await fromWhom(r, businessId, scope, now);
  return { from: `${from} AND ${STALE}`, bind: { ...bind, before } };
}

/** How many numbers would be asked about. @param before asked about only where both consent and the last answer are older. */
export async function countAsked(
  r: Reader,
  businessId: string,
  scope: ReassignedScope,
  before: number,
  now: number,
): Promise<number> {
  const { from, bind } = await scopeSql(r, businessId, scope, before, now);
  return (await r.one<{ n: number }>(`SELECT count(*) AS n ${from}`, bind))?.n ?? 0;
}
/** The next few of them, after one in the order of their ids. */
export async function nextAsked(
  r: Reader,
  businessId: string,
  scope: ReassignedScope,
  before: number,
  now: number,
  after: number,
  limit: number,
): Promise<{ id: number; e164: string }[]> {
  const { from, bind } = await scopeSql(r, businessId, scope, before, now);
  return r.all(`SELECT cn.id, cn.e164 ${from} AND cn.id > $after ORDER BY cn.id LIMIT ${limit}`, { ...bind, after });
}

/** How many of an audience are to be asked about before anything goes to them. */
export async function countDueIn(r: Reader, audience: Audience, before: number): Promise<number> {
  const { sql, bind } = await audienceSql(r, audience);
  const row = await r.one<{ n: number }>(`SELECT count(*) AS n ${sql} AND (${STALE} OR cn.reassignment = 'due')`, {
    ...bind,
    before,
  });
  return row?.n ?? 0;
}
/**
 * Nothing goes to these of an audience before they were asked about. A set in one statement, since it stands in the write
 * that begins a dispatch. @returns how many of the business wait to be asked about.
 */
export async function markDue(w: Writer, audience: Audience, before: number): Promise<number> {
  const { sql, bind } = await audienceSql(w, audience);
  await w.run(`UPDATE contact_number SET reassignment = 'due' WHERE id IN (SELECT cn.id ${sql} AND ${STALE})`, {
    ...bind,
    before,
  });
  return w.of(contactNumberTable).count({
    where: { businessId: audience.businessId, reassignment: { [Op.eq]: 'due', [Op.ne]: 'clear' } },
  });
}

/** What was learnt of numbers, where the gate reads it; `askedAt` null leaves the moment of asking as it is. */
export async function setReassignments(
  w: Writer,
  businessId: string,
  rows: readonly (readonly [e164: string, reassignment: Reassignment, askedAt: number | null])[],
): Promise<void> {
  if (rows.length === 0) return;
  await w.run(
    `UPDATE contact_number SET reassignment = j.value->>1, reassignment_asked_at = coalesce(CAST(j.value->>2 AS BIGINT), reassignment_asked_at)
     FROM jsonb_each($2) AS j WHERE contact_number.business_id = $1 AND contact_number.e164 = j.value->>0`,
    [businessId, jsonRows(rows)],
  );
}
