import { QueryTypes, type QueryInterface } from 'sequelize';
import { numberDigest } from '../areas/contacts/number-digest.js';
import { addColumn, flag, index } from '../platform/table.js';
import { tellFigures } from './figures-of-indexes.js';

interface Gone {
  business_id: string;
  e164: string;
}

/** Numbers in the ledger that no contact has any more are found by their figures; whoever was erased is not. */
export async function numbersOfNobody(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'consent_state', 'ofNobody', flag(false));
  await index(qi, 'consent_state', 'consent_state_of_nobody', ['business_id', 'e164'], { where: 'of_nobody' });
  await tellFigures(qi, { consent_state: { consent_state_of_nobody: '100000 50000 1' } });
  await markNobodys(qi);
}

/** Marks the numbers on file that are nobody's any more. */
export async function markNobodys(qi: QueryInterface): Promise<void> {
  const select = { type: QueryTypes.SELECT } as const;
  const gone = await qi.sequelize.query<Gone>(
    `SELECT s.business_id, s.e164 FROM consent_state s
     WHERE NOT EXISTS (SELECT 1 FROM contact_number cn WHERE cn.business_id = s.business_id AND cn.e164 = s.e164)`,
    select,
  );
  const erased = await erasedDigests(qi);
  for (const { business_id, e164 } of gone)
    if (!erased.has(numberDigest(business_id, e164)))
      await qi.sequelize.query(
        `UPDATE consent_state SET of_nobody = ${qi.sequelize.getDialect() === 'sqlite' ? '1' : 'TRUE'} WHERE business_id = $businessId AND e164 = $e164`,
        { bind: { businessId: business_id, e164 } },
      );
}

/** The digests of the numbers of everybody who was erased, as the trail has them. */
export async function erasedDigests(qi: QueryInterface): Promise<Set<string>> {
  const rows = await qi.sequelize.query<{ after: string | null }>(
    `SELECT "after" FROM audit WHERE action = 'person erased'`,
    { type: QueryTypes.SELECT },
  );
  return new Set(rows.flatMap(({ after }) => (JSON.parse(after ?? '{}') as { digests?: string[] }).digests ?? []));
}
