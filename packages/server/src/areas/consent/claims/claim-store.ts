import type { Reader } from '../../../platform/db.js';

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
/** Claims beside where their numbers stand now: each by the index of its kind and way, each number by its key. */
const CLAIMS = `FROM consent_event e INDEXED BY consent_event_way CROSS JOIN consent_state s ON s.business_id = e.business_id AND s.e164 = e.e164
  WHERE e.business_id = $1 AND e.kind = 'claimed' AND e.how = '${CLAIMED_BY}'`;
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
     ${CLAIMS} GROUP BY 1`,
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
  return r.all<OpenClaim>(
    `SELECT e.seq, e.e164, e.evidence, s.informational, s.promotional ${CLAIMS}
     AND coalesce(e.evidence->>'intake', '') = $2 AND e.seq > $3 AND ${OPEN} ORDER BY e.seq LIMIT $4`,
    [businessId, intakeId, after, limit],
  );
}
