import { jsonRows, type Reader, type Writer } from '../../../platform/db.js';
import { keptTable } from '../../../platform/kept-counts-store.js';
import { EVERY_EVENT, walkOf } from '../ledger/event-search-store.js';
import { CLAIMED_BY, type ClaimRow } from './claim-tally.js';
import { claimLotTable, type ClaimLotModel } from './model.js';

/** Takes over what of lots of claims changed. A set, since an intake's claims come by the thousand. */
export async function addClaims(w: Writer, businessId: string, rows: readonly ClaimRow[]): Promise<void> {
  if (rows.length === 0) return;
  const counts = ['people', 'open', 'informational', 'promotional', 'agreed'];
  await w.run(
    `INSERT INTO claim_lot (business_id, intake_id, ${counts.join(', ')}, first_seq, last_seq)
     SELECT $1, value->>0, ${[1, 2, 3, 4, 5, 6, 7].map((i) => `CAST(value->>${i} AS BIGINT)`).join(', ')} FROM jsonb_each($2) WHERE true
     ON CONFLICT (business_id, intake_id) DO UPDATE SET ${counts.map((x) => `${x} = claim_lot.${x} + excluded.${x}`).join(', ')},
       last_seq = CASE WHEN excluded.last_seq > claim_lot.last_seq THEN excluded.last_seq ELSE claim_lot.last_seq END`,
    [
      businessId,
      jsonRows(
        rows.map((x) => [
          x.intakeId,
          x.people,
          x.open,
          x.informational,
          x.promotional,
          x.agreed,
          x.firstSeq,
          x.lastSeq,
        ]),
      ),
    ],
  );
}

/** Each intake's claims, as they are counted. */
export function claimLots(r: Reader, businessId: string): Promise<ClaimLotModel[]> {
  return r.of(claimLotTable).findAll({ where: { businessId }, raw: true });
}

/** Where the number of a claim stands now. */
const STANDS = 'JOIN consent_state s ON s.business_id = e.business_id AND s.e164 = e.e164';
const OPEN = `(s.informational = 'unproven' OR s.promotional = 'unproven')`;

const sumOf = (which: string): string => `sum(CASE WHEN ${which} THEN 1 ELSE 0 END)`;
export const CLAIM_COUNTS = keptTable({
  what: 'claims of consent by the intakes they came with',
  table: claimLotTable,
  values: ['people', 'open', 'informational', 'promotional', 'agreed', 'firstSeq', 'lastSeq'],
  counted: `SELECT e.business_id, coalesce(e.evidence->>'intake', '') AS intake_id, count(*) AS people, ${sumOf(OPEN)} AS open,
      ${sumOf(`s.informational = 'unproven'`)} AS informational, ${sumOf(`s.promotional = 'unproven'`)} AS promotional,
      ${sumOf(`NOT ${OPEN} AND (s.informational = 'granted' OR s.promotional = 'granted')`)} AS agreed,
      min(e.seq) AS first_seq, max(e.seq) AS last_seq
    FROM consent_event e ${STANDS} WHERE e.kind = 'claimed' AND e.how = '${CLAIMED_BY}' GROUP BY 1, 2`,
});

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
  const lot = await r.of(claimLotTable).findOne({ where: { businessId, intakeId }, raw: true });
  if (!lot) return [];
  const bind: Record<string, unknown> = {};
  const { stretches } = await walkOf(r, businessId, { ...EVERY_EVENT, kinds: ['claimed'], hows: [CLAIMED_BY] }, bind);
  // Claims of a lot lie together in the chain, among those of others that were brought in at the same time.
  const claims = stretches.map(
    (x) =>
      `SELECT e.seq FROM ${x} AND e.seq > $after AND e.seq <= $last AND coalesce(e.evidence->>'intake', '') = $intakeId`,
  );
  return r.all<OpenClaim>(
    `SELECT e.seq, e.e164, e.evidence, s.informational, s.promotional FROM (${claims.join(' UNION ALL ')} ORDER BY seq) AS claim
     CROSS JOIN consent_event e ON e.business_id = $businessId AND e.seq = claim.seq CROSS ${STANDS} WHERE ${OPEN} ORDER BY claim.seq LIMIT $limit`,
    { ...bind, intakeId, after: Math.max(after, lot.firstSeq - 1), last: lot.lastSeq, limit },
  );
}
