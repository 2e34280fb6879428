import type { Whom } from '@long-gate/contracts';
import { jsonRows, type Reader } from '../../platform/db.js';
import { among, hiddenIntakes, isThere } from './filter-store.js';

/** The contact numbers `cn` something is done for, as what follows a `SELECT`, with its binds. */
export async function fromWhom(
  r: Reader,
  businessId: string,
  { listId, filter, e164s }: Whom,
  now: number,
): Promise<{ from: string; bind: Record<string, unknown> }> {
  const bind: Record<string, unknown> = { businessId };
  const hidden = await hiddenIntakes(r, businessId);
  const parts = ['cn.business_id = $businessId', isThere(hidden)];
  if (listId !== null) {
    bind['listId'] = listId;
    parts.push('EXISTS (SELECT 1 FROM list_member m WHERE m.list_id = $listId AND m.contact_id = cn.contact_id)');
  }
  if (filter !== null) parts.push(among(r, filter, bind, { now, hidden }));
  if (e164s !== null) {
    bind['e164s'] = jsonRows(e164s);
    parts.push('cn.e164 IN (SELECT value FROM jsonb_each($e164s))');
  }
  return { from: `FROM contact_number cn WHERE ${parts.join(' AND ')}`, bind };
}

/** Their numbers, and no more than so many of them. */
export async function numbersOfWhom(
  r: Reader,
  businessId: string,
  whom: Whom,
  most: number,
  now: number,
): Promise<string[]> {
  const { from, bind } = await fromWhom(r, businessId, whom, now);
  return (await r.all<{ e164: string }>(`SELECT cn.e164 ${from} ORDER BY cn.id LIMIT ${most}`, bind)).map(
    (x) => x.e164,
  );
}
