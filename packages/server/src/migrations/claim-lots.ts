import type { QueryInterface } from 'sequelize';
import { big, createTable, key, text, whole } from '../platform/table.js';

/** What intakes claimed was gone through after each write; from here on it is counted with each event of a claim's number. */
export async function claimLots(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'claim_lot', {
    businessId: key(text()),
    intakeId: key(text()),
    people: whole(),
    open: whole(),
    informational: whole(),
    promotional: whole(),
    agreed: whole(),
    firstSeq: big(),
    lastSeq: big(),
  });
  const open = `(s.informational = 'unproven' OR s.promotional = 'unproven')`;
  const sum = (which: string): string => `sum(CASE WHEN ${which} THEN 1 ELSE 0 END)`;
  await qi.sequelize.query(
    `INSERT INTO claim_lot (business_id, intake_id, people, open, informational, promotional, agreed, first_seq, last_seq)
     SELECT e.business_id, coalesce(e.evidence->>'intake', ''), count(*), ${sum(open)}, ${sum(`s.informational = 'unproven'`)},
       ${sum(`s.promotional = 'unproven'`)}, ${sum(`NOT ${open} AND (s.informational = 'granted' OR s.promotional = 'granted')`)}, min(e.seq), max(e.seq)
     FROM consent_event e JOIN consent_state s ON s.business_id = e.business_id AND s.e164 = e.e164
     WHERE e.kind = 'claimed' AND e.how = 'imported record' GROUP BY 1, 2`,
  );
}
