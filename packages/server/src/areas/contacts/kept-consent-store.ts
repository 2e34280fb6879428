import type { ConsentState } from '@long-gate/core';
import { jsonRows, manyRows, type Reader, type Writer } from '../../platform/db.js';

// The ledger's state of now, as it is kept where the gate reads it.

/** What is kept of the consent of these numbers where the gate reads it. */
export async function keptConsent(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<{ e164: string; conversational: ConsentState; informational: ConsentState; promotional: ConsentState }[]> {
  return r.all(
    `SELECT cn.e164, cn.consent_conversational AS conversational, cn.consent_informational AS informational, cn.consent_promotional AS promotional
     FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value`,
    [businessId, jsonRows(e164s)],
  );
}

/** What is kept of the consent of the next contact numbers after one, in their order. */
export async function consentKeptAfter(
  r: Reader,
  businessId: string,
  after: string,
  limit: number,
): Promise<{ e164: string; conversational: ConsentState; informational: ConsentState; promotional: ConsentState }[]> {
  return r.all(
    `SELECT e164, consent_conversational AS conversational, consent_informational AS informational, consent_promotional AS promotional FROM contact_number
     WHERE business_id = $1 AND e164 > $2 ORDER BY e164 LIMIT ${limit}`,
    [businessId, after],
  );
}

/**
 * The state of now of these numbers, taken over into what the gate reads.
 * @returns those of them that a contact has.
 */
export async function setConsent(
  w: Writer,
  businessId: string,
  states: readonly (readonly [
    e164: string,
    conversational: string,
    informational: string,
    promotional: string,
    agreedAt: number | null,
  ])[],
): Promise<Set<string>> {
  const columns = ['number_row', 'e164', 'conversational', 'informational', 'promotional', 'agreed_at'] as const;
  const stands = await manyRows<Record<(typeof columns)[number], string | number | null>>(
    w,
    columns,
    `FROM (SELECT cn.id AS number_row, cn.e164, cn.consent_conversational AS conversational, cn.consent_informational AS informational,
       cn.consent_promotional AS promotional, cn.agreed_at FROM jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value) AS stands`,
    [businessId, jsonRows(states.map(([e164]) => e164))],
  );
  const next = new Map(states.map((s) => [s[0], s]));
  const changed: unknown[][] = [];
  const agreed: unknown[][] = [];
  for (const x of stands) {
    const to = next.get(String(x.e164));
    if (!to) continue;
    const [, conversational, informational, promotional, agreedAt] = to;
    if (x.conversational !== conversational || x.informational !== informational || x.promotional !== promotional)
      changed.push([x.number_row, conversational, informational, promotional, agreedAt]);
    else if (Number(x.agreed_at ?? -1) !== (agreedAt ?? -1)) agreed.push([x.number_row, agreedAt]);
  }
  // Each for those it changes: a column that is set moves its entries in the indexes, also to where they were.
  if (changed.length > 0)
    await w.run(
      `UPDATE contact_number SET consent_conversational = j.value->>1, consent_informational = j.value->>2, consent_promotional = j.value->>3, agreed_at = CAST(j.value->>4 AS BIGINT)
       FROM jsonb_each($1) AS j WHERE contact_number.id = CAST(j.value->>0 AS BIGINT)`,
      [jsonRows(changed)],
    );
  if (agreed.length > 0)
    await w.run(
      `UPDATE contact_number SET agreed_at = CAST(j.value->>1 AS BIGINT) FROM jsonb_each($1) AS j WHERE contact_number.id = CAST(j.value->>0 AS BIGINT)`,
      [jsonRows(agreed)],
    );
  return new Set(stands.map((x) => String(x.e164)));
}
