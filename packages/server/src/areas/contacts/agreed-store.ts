import { jsonRows, type Reader } from '../../platform/db.js';

/** A contact number with consent in force, and when its person was last in contact by their own word. */
export interface AgreedNumber {
  e164: string;
  contactId: string;
  agreedAt: number;
  heardAt: number | null;
  informational: boolean;
  promotional: boolean;
}
/** Numbers in a stretch of ids, or these. */
export type AgreedScope = { after: number; upTo: number } | { e164s: readonly string[] };

/** Those of a business's numbers with consent in force to a kind of text. */
export async function agreedOf(r: Reader, businessId: string, scope: AgreedScope): Promise<AgreedNumber[]> {
  const [from, bind]: [string, unknown[]] =
    'e164s' in scope
      ? [
          'jsonb_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $1 AND cn.e164 = j.value WHERE',
          [jsonRows(scope.e164s)],
        ]
      : ['contact_number cn WHERE cn.id > $2 AND cn.id <= $3 AND cn.business_id = $1 AND', [scope.after, scope.upTo]];
  const rows = await r.all<
    Omit<AgreedNumber, 'informational' | 'promotional'> & Record<'informational' | 'promotional', string>
  >(
    `SELECT cn.e164, cn.contact_id AS "contactId", cn.agreed_at AS "agreedAt", cn.last_reply_at AS "heardAt",
            cn.consent_informational AS informational, cn.consent_promotional AS promotional
     FROM ${from} cn.agreed_at IS NOT NULL AND (cn.consent_informational = 'granted' OR cn.consent_promotional = 'granted') ORDER BY cn.id`,
    [businessId, ...bind],
  );
  return rows.map((x) => ({
    ...x,
    informational: x.informational === 'granted',
    promotional: x.promotional === 'granted',
  }));
}
