import { listAudit } from '@long-gate/contracts';
import type { Api } from '../../api/api';
import type { Change } from './autosave';

/** Who changed an object last, by the audit trail; null where nothing is on record. */
export async function lastChangeOf(
  api: Api,
  businessId: string,
  objectKind: string,
  objectId: string,
): Promise<Change | null> {
  const { items } = await api.call(listAudit, { params: { businessId }, query: { objectKind, objectId, limit: 1 } });
  const [last] = items;
  return last ? { by: last.actor, at: last.at } : null;
}
