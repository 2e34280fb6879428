import type { Purpose } from '@long-gate/core';
import { insertMany } from '../../platform/bulk.js';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import { contactNumberTable, keptRefusalTable, REFUSED } from './model.js';

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

// -- of numbers that are nobody's for a while ------------------------------------------------------------------------

/** Whether anything of the kind was ever kept for a business. */
export async function hasKeptRefusals(r: Reader, businessId: string): Promise<boolean> {
  return (await r.of(keptRefusalTable).findOne({ where: { businessId }, raw: true })) !== null;
}

/**
 * Keeps by their digests what stands against numbers that are taken away, in place of what was kept of them before.
 * @param byOwner whether the carrier said that its owner refuses: nobody here can clear that.
 * @param elsewhere what its owner refused on another number of theirs, in {@link refusedBits}.
 */
export async function keepRefusals(
  w: Writer,
  businessId: string,
  numbers: readonly { digest: string; byOwner: boolean; elsewhere: number }[],
  at: number,
): Promise<void> {
  if (await hasKeptRefusals(w, businessId))
    await w.of(keptRefusalTable).destroy({ where: { businessId, digest: numbers.map((n) => n.digest) } });
  const refusing = numbers.filter((n) => n.byOwner || n.elsewhere > 0);
  if (refusing.length > 0)
    await insertMany(
      w,
      keptRefusalTable,
      refusing.map(({ digest, byOwner, elsewhere }) => ({
        businessId,
        digest,
        at,
        byOwner,
        refusedElsewhere: elsewhere,
      })),
    );
}

/** Carriers said of numbers that are nobody's here that their owners refuse. */
export async function refusedWhileGone(
  w: Writer,
  businessId: string,
  digests: readonly string[],
  at: number,
): Promise<void> {
  await w.run(
    `INSERT INTO kept_refusal (business_id, digest, at, by_owner, refused_elsewhere) SELECT $1, j.value, $3, TRUE, 0 FROM jsonb_each($2) j WHERE true
     ON CONFLICT (business_id, digest) DO UPDATE SET by_owner = TRUE, at = excluded.at`,
    [businessId, jsonRows(digests), at],
  );
}

/** What was refused elsewhere bars these numbers no more also once they come again: their owners agreed by them. */
export async function agreedWhileGone(
  w: Writer,
  businessId: string,
  agreed: readonly (readonly [digest: string, bits: number])[],
): Promise<void> {
  await w.run(
    `UPDATE kept_refusal SET refused_elsewhere = refused_elsewhere & ~CAST(j.value->>1 AS INTEGER) FROM jsonb_each($2) AS j WHERE kept_refusal.business_id = $1 AND kept_refusal.digest = j.value->>0`,
    [businessId, jsonRows(agreed)],
  );
}

/** Which of these numbers no contact has. */
export async function nobodysAmong(r: Reader, businessId: string, e164s: readonly string[]): Promise<string[]> {
  const rows = await r.all<{ e164: string }>(
    `SELECT j.value AS e164 FROM jsonb_each($2) j WHERE NOT EXISTS (SELECT 1 FROM contact_number cn WHERE cn.business_id = $1 AND cn.e164 = j.value)`,
    [businessId, jsonRows(e164s)],
  );
  return rows.map((x) => x.e164);
}

/**
 * What was kept of these numbers stands again with them. A set, since a list brought in has thousands.
 * @param digests under which something may have been kept of each.
 */
export async function restoreRefusals(
  w: Writer,
  businessId: string,
  digests: readonly (readonly [e164: string, digest: string])[],
): Promise<void> {
  await w.run(
    `WITH x AS MATERIALIZED (SELECT cn.id, max(k.at) AS at, max(CASE WHEN k.by_owner THEN 1 ELSE 0 END) AS by_owner, max(k.refused_elsewhere) AS elsewhere
       FROM jsonb_each($2) j CROSS JOIN kept_refusal k ON k.business_id = $1 AND k.digest = j.value->>1 CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value->>0 GROUP BY cn.id)
     UPDATE contact_number SET trouble = CASE WHEN x.by_owner = 1 THEN 'refused-by-owner' ELSE trouble END, trouble_at = CASE WHEN x.by_owner = 1 THEN x.at ELSE trouble_at END,
       refused_elsewhere = refused_elsewhere | x.elsewhere FROM x WHERE contact_number.id = x.id`,
    [businessId, jsonRows(digests)],
  );
}
