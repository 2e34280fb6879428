import { DEFAULT_TEXTABILITY } from '@long-gate/core';
import type { Reader } from '../../platform/db.js';

const DAY_MS = 86_400_000;

/** Whose answer has gone stale, or never was: two stretches of the index by when a number was looked up. */
function scope(listId: string | null): { never: string; stale: string } {
  const term = DEFAULT_TEXTABILITY.staleDays * DAY_MS;
  const shortTerm = DEFAULT_TEXTABILITY.staleUnreachableDays * DAY_MS;
  const on =
    listId === null
      ? ''
      : ' AND EXISTS (SELECT 1 FROM list_member m WHERE m.list_id = $listId AND m.contact_id = cn.contact_id)';
  return {
    never: `FROM contact_number cn WHERE cn.business_id = $businessId AND cn.looked_up_at IS NULL${on}`,
    // The shorter term first: only what is older than that can be stale at all.
    stale: `FROM contact_number cn WHERE cn.business_id = $businessId AND cn.looked_up_at < $now - ${shortTerm} AND cn.looked_up_at < $now - (CASE WHEN cn.reachable THEN ${term} ELSE ${shortTerm} END)${on}`,
  };
}

const bindOf = (businessId: string, listId: string | null): Record<string, unknown> => ({
  businessId,
  ...(listId === null ? {} : { listId }),
});

/** How many contact numbers would be asked about. */
export async function countStale(r: Reader, businessId: string, listId: string | null, now: number): Promise<number> {
  const { never, stale } = scope(listId);
  const row = await r.one<{ n: number }>(`SELECT (SELECT count(*) ${never}) + (SELECT count(*) ${stale}) AS n`, {
    ...bindOf(businessId, listId),
    now,
  });
  return row?.n ?? 0;
}

/** The next few to be asked about: those never asked first. */
export async function staleNumbers(
  r: Reader,
  businessId: string,
  listId: string | null,
  now: number,
  limit: number,
): Promise<string[]> {
  const { never, stale } = scope(listId);
  const fresh = await r.all<{ e164: string }>(`SELECT cn.e164 ${never} LIMIT ${limit}`, bindOf(businessId, listId));
  const old =
    fresh.length === limit
      ? []
      : await r.all<{ e164: string }>(`SELECT cn.e164 ${stale} LIMIT ${limit - fresh.length}`, {
          ...bindOf(businessId, listId),
          now,
        });
  return [...fresh, ...old].map((x) => x.e164);
}
