import type { TextabilityPolicyView } from '@long-gate/contracts';
import type { Reader, Writer } from '../../platform/db.js';
import { contactCountTable, textabilityPolicyTable, type TextabilityPolicyModel } from './model.js';

export async function policyRow(r: Reader, businessId: string): Promise<TextabilityPolicyModel | null> {
  return r.of(textabilityPolicyTable).findByPk(businessId);
}
export async function addPolicy(w: Writer, businessId: string, policy: TextabilityPolicyView): Promise<void> {
  await w.of(textabilityPolicyTable).create({ businessId, ...policy });
}
/** Who pays for questions about a business's numbers; empty for itself. */
export async function paidByOf(r: Reader, businessId: string): Promise<string> {
  const row = await r.of(textabilityPolicyTable).findByPk(businessId, { attributes: ['paidBy'], raw: true });
  return row?.paidBy ?? '';
}
export async function policiesPaidBy(r: Reader, payer: string): Promise<string[]> {
  const rows = await r.of(textabilityPolicyTable).findAll({ where: { paidBy: payer }, attributes: ['businessId'] });
  return rows.map((x) => x.businessId);
}
/** Businesses that have what is stale asked about again by itself. */
export async function recheckingBusinesses(r: Reader): Promise<string[]> {
  const rows = await r.of(textabilityPolicyTable).findAll({ where: { recheck: true }, attributes: ['businessId'] });
  return rows.map((x) => x.businessId);
}

/** Businesses that have numbers asked about by themselves, whether they changed hands. */
export async function scheduledBusinesses(r: Reader): Promise<string[]> {
  const rows = await r
    .of(textabilityPolicyTable)
    .findAll({ where: { reassignedOnSchedule: true }, attributes: ['businessId'] });
  return rows.map((x) => x.businessId);
}

/** Contact numbers by line type and whether they are textable, from what is counted already. */
export async function countByLine(
  r: Reader,
  businessId: string,
): Promise<{ line: string; textable: string; n: number }[]> {
  const rows = await r.of(contactCountTable).findAll({ where: { businessId }, raw: true });
  const sums = new Map<string, { line: string; textable: string; n: number }>();
  for (const { lineType: line, textable, n } of rows) {
    const known = sums.get(`${line}|${textable}`);
    if (known) known.n += n;
    else sums.set(`${line}|${textable}`, { line, textable, n });
  }
  return [...sums.values()];
}
/** The same of those who wrote or called: what came from a number outranks every policy. */
export async function repliedByLine(
  r: Reader,
  businessId: string,
): Promise<{ line: string; textable: string; n: number }[]> {
  return r.all(
    `SELECT line_type AS line, textable, count(*) AS n FROM contact_number INDEXED BY contact_number_replied WHERE business_id = $1 AND last_reply_at IS NOT NULL GROUP BY 1, 2`,
    [businessId],
  );
}

/** The highest contact number there is: a job walks up to it. */
export async function lastNumberId(r: Reader): Promise<number> {
  return (await r.one<{ id: number | null }>('SELECT max(id) AS id FROM contact_number'))?.id ?? 0;
}

/**
 * Numbers of one line type in a stretch of ids become textable, or are no longer; such as somebody wrote from stay as
 * they are. @returns those that changed.
 */
export async function setByLine(
  w: Writer,
  businessId: string,
  line: 'voip' | 'toll-free',
  textable: 'yes' | 'no',
  stretch: { after: number; upTo: number },
): Promise<{ e164: string; carrier: string }[]> {
  return w.all(
    `UPDATE contact_number SET textable = $3, trouble = CASE WHEN $3 = 'yes' AND trouble = 'not-textable' THEN 'none' ELSE trouble END
     WHERE id > $4 AND id <= $5 AND business_id = $1 AND line_type = $2 AND textable <> $3 AND last_reply_at IS NULL RETURNING e164, carrier`,
    [businessId, line, textable, stretch.after, stretch.upTo],
  );
}
