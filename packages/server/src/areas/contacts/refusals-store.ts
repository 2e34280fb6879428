import type { Purpose } from '@long-gate/core';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import { contactNumberTable, REFUSED } from './model.js';

/** What purposes count together in `refused_elsewhere`. */
export function refusedBits(purposes: readonly Purpose[]): number {
  return Object.entries(REFUSED).reduce((n, [p, bit]) => (purposes.includes(p as Purpose) ? n | bit : n), 0);
}
export function refusedPurposes(bits: number): ('informational' | 'promotional')[] {
  return (['informational', 'promotional'] as const).filter((p) => (bits & REFUSED[p]) !== 0);
}

/** What bars a number; nothing where it is nobody's. */
export async function refusedBitsOf(r: Reader, businessId: string, e164: string): Promise<number> {
  const row = await r
    .of(contactNumberTable)
    .findOne({ where: { businessId, e164 }, attributes: ['refusedElsewhere'], raw: true });
  return row?.refusedElsewhere ?? 0;
}

/** People left by one of their numbers: their other numbers are texted no more for these purposes either. */
export async function refuseElsewhere(
  w: Writer,
  businessId: string,
  left: readonly (readonly [e164: string, bits: number])[],
): Promise<void> {
  await w.run(
    `WITH x AS MATERIALIZED (SELECT cn.id, cn.contact_id, CAST(j.value->>1 AS INTEGER) AS bits FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value->>0
       WHERE EXISTS (SELECT 1 FROM contact_number f WHERE f.contact_id = cn.contact_id AND NOT f.preferred))
     UPDATE contact_number SET refused_elsewhere = refused_elsewhere | x.bits FROM x WHERE contact_number.contact_id = x.contact_id AND contact_number.id <> x.id`,
    [businessId, jsonRows(left)],
  );
}

/** People agreed anew by these numbers themselves: what they refused on others before bars these no more. */
export async function agreedHere(
  w: Writer,
  businessId: string,
  agreed: readonly (readonly [e164: string, bits: number])[],
): Promise<void> {
  await w.run(
    `WITH x AS MATERIALIZED (SELECT cn.id, CAST(j.value->>1 AS INTEGER) AS bits FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value->>0 WHERE cn.refused_elsewhere > 0)
     UPDATE contact_number SET refused_elsewhere = refused_elsewhere & ~x.bits FROM x WHERE contact_number.id = x.id`,
    [businessId, jsonRows(agreed)],
  );
}

/** What stands as refused on one of a contact's numbers bars the others, from now on. */
export async function spreadRefusals(w: Writer, contactId: string): Promise<void> {
  const bits = Object.entries(REFUSED)
    .map(([p, bit]) => `CASE WHEN o.consent_${p} = 'revoked' THEN ${bit} ELSE 0 END`)
    .join(' + ');
  await w.run(
    `UPDATE contact_number SET refused_elsewhere = refused_elsewhere | coalesce((SELECT max((${bits}) & 1) + max((${bits}) & 2) FROM contact_number o WHERE o.contact_id = $1 AND o.id <> contact_number.id), 0) WHERE contact_id = $1`,
    [contactId],
  );
}
