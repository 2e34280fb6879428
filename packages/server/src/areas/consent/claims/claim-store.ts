import type { Reader } from '../../../platform/db.js';
import { EVERY_EVENT, walkOf } from '../ledger/event-search-store.js';

/** How many claims an intake brought, and how many of them nothing proves yet. */
export interface LotCounts {
  intakeId: string;
  people: number;
  open: number;
  informational: number;
  promotional: number;
  agreed: number;
}

/** How every claim comes: with what was imported. */
export const CLAIMED_BY = 'imported record';
/** Where the number of a claim stands now. */
const STANDS = 'CROSS JOIN consent_state s ON s.business_id = e.business_id AND s.e164 = e.e164';
const OPEN = `(s.informational = 'unproven' OR s.promotional = 'unproven')`;

/**
 * Each intake's claims. SQL, since it is one grouped walk through all claims there are: a second and a half for a
 * million.
 */
export async function claimLots(r: Reader, businessId: string): Promise<LotCounts[]> {
  const of = (which: string): string => `sum(CASE WHEN ${which} THEN 1 ELSE 0 END)`;
  return r.all<LotCounts>(
    `SELECT coalesce(e.evidence->>'intake', '') AS "intakeId", count(*) AS people, ${of(OPEN)} AS open,
       ${of(`s.informational = 'unproven'`)} AS informational, ${of(`s.promotional = 'unproven'`)} AS promotional,
       ${of(`NOT ${OPEN} AND (s.informational = 'granted' OR s.promotional = 'granted')`)} AS agreed
     FROM consent_event e INDEXED BY consent_event_way ${STANDS} WHERE e.business_id = $1 AND e.kind = 'claimed' AND e.how = '${CLAIMED_BY}' GROUP BY 1`,
    [businessId],
  );
}

export interface OpenClaim {
  seq: number;
  e164: string;
  evidence: string;
  informational: string;
  promotional: string;
}

/** Claims of one intake that nothing proves yet, as they were brought in, after a place in the chain. */
export async function openClaims(
  r: Reader,
  businessId: string,
  intakeId: string,
  after: number,
  limit: number,
): Promise<OpenClaim[]> {
  const bind: Record<string, unknown> = {};
  const { stretches } = await walkOf(r, businessId, { ...EVERY_EVENT, kinds: ['claimed'], hows: [CLAIMED_BY] }, bind);
  if (stretches.length === 0) return [];
  const claims = stretches.map(
    (x) => `SELECT e.seq FROM ${x} AND e.seq > $after AND coalesce(e.evidence->>'intake', '') = $intakeId`,
  );
  return r.all<OpenClaim>(
    `SELECT e.seq, e.e164, e.evidence, s.informational, s.promotional FROM (${claims.join(' UNION ALL ')} ORDER BY seq) AS claim
     CROSS JOIN consent_event e ON e.business_id = $businessId AND e.seq = claim.seq ${STANDS} WHERE ${OPEN} ORDER BY claim.seq LIMIT $limit`,
    { ...bind, intakeId, after, limit },
  );
}
