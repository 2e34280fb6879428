import type { Reader } from '../../platform/db.js';
import { fromWhom } from './whom-store.js';
import type { Whom } from '@long-gate/contracts';

const DAY_MS = 86_400_000;

/** Whose lines are asked about; all where nothing is said. */
export interface LookupScope extends Whom {
  /** Also about those whose answer is still good: about all that were not asked since this moment. */
  askedBefore: number | null;
  /** How long an answer stays good. */
  terms: { staleDays: number; staleUnreachableDays: number };
}

/** Whose answer has gone stale, or never was: two stretches of the index by when a number was looked up. */
async function stretches(
  r: Reader,
  businessId: string,
  s: LookupScope,
  now: number,
): Promise<{ never: string; bind: Record<string, unknown>; stale: string; staleBind: Record<string, unknown> }> {
  const term = s.terms.staleDays * DAY_MS;
  const shortTerm = s.terms.staleUnreachableDays * DAY_MS;
  const { from, bind } = await fromWhom(r, businessId, s, now);
  return {
    bind,
    never: `${from} AND cn.looked_up_at IS NULL`,
    staleBind: { ...bind, now: s.askedBefore ?? now },
    stale:
      s.askedBefore === null
        ? // The shorter term first: only what is older than that can be stale at all.
          `${from} AND cn.looked_up_at < $now - ${Math.min(term, shortTerm)} AND cn.looked_up_at < $now - (CASE WHEN cn.reachable THEN ${term} ELSE ${shortTerm} END)`
        : `${from} AND cn.looked_up_at < $now`,
  };
}

/** How many contact numbers would be asked about. */
export async function countStale(r: Reader, businessId: string, s: LookupScope, now: number): Promise<number> {
  const { never, stale, staleBind } = await stretches(r, businessId, s, now);
  const row = await r.one<{ n: number }>(
    `SELECT (SELECT count(*) ${never}) + (SELECT count(*) ${stale}) AS n`,
    staleBind,
  );
  return row?.n ?? 0;
}

/** The next few to be asked about: those never asked first. */
export async function staleNumbers(
  r: Reader,
  businessId: string,
  s: LookupScope,
  now: number,
  limit: number,
): Promise<string[]> {
  const { never, bind, stale, staleBind } = await stretches(r, businessId, s, now);
  const fresh = await r.all<{ e164: string }>(`SELECT cn.e164 ${never} LIMIT ${limit}`, bind);
  const old =
    fresh.length === limit
      ? []
      : await r.all<{ e164: string }>(`SELECT cn.e164 ${stale} LIMIT ${limit - fresh.length}`, staleBind);
  return [...fresh, ...old].map((x) => x.e164);
}
