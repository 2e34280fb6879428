import type { QueryInterface } from 'sequelize';
import { addColumn, flag, whole } from '../platform/table.js';

/**
 * What a person refused on one of their numbers is kept of the others too while these are nobody's; until now it was
 * what owners refused at their carrier alone.
 */
export async function refusalsKept(qi: QueryInterface): Promise<void> {
  await addColumn(qi, 'kept_refusal', 'byOwner', flag(true));
  await addColumn(qi, 'kept_refusal', 'refusedElsewhere', whole(0));
}
