import { lastPacificMidnight, paceFor, type CarrierKind } from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';
import type { Sender } from '../numbers/index.js';

/** The key of what waits behind nothing. */
export const URGENT = '';

/**
 * What the carrier caps and paces for a text from this number to a network of this kind: a campaign as a whole, or
 * the number by itself (kind C; numbers in no campaign of their own pace). Kind B caps a brand's day and goes at the
 * campaign's pace. Source: rules.md, throughput by vetting and kind of network.
 */
export function paceKey(sender: Sender, kind: CarrierKind): string {
  return kind === 'C' || !sender.pacedByCampaign || sender.campaignId === null
    ? `number:${sender.id}`
    : `campaign:${sender.campaignId}`;
}

/** Segments a second for a text's pace. */
export function perSecond(sender: Sender, kind: CarrierKind): number {
  return paceFor(kind, sender.throughput);
}

/** The next free moment of each pace that has something due, and may go now. */
export async function freePaces(r: Reader, now: number): Promise<{ key: string; free_at: number }[]> {
  return r.all(
    `SELECT p.key, p.free_at FROM pace p WHERE p.key <> '' AND p.free_at <= $1
       AND EXISTS (SELECT 1 FROM message m WHERE m.state = 'waiting' AND m.pace_key = p.key AND m.due_at <= $1)`,
    [now],
  );
}

/** The moment the next text of these paces may leave; null where none waits. */
export async function nextFree(r: Reader, urgent: boolean): Promise<number | null> {
  const row = await r.one<{ at: number | null }>(
    `SELECT min(CASE WHEN w.free_at > w.due_at THEN w.free_at ELSE w.due_at END) AS at FROM (
       SELECT p.free_at, (SELECT min(m.due_at) FROM message m WHERE m.state = 'waiting' AND m.pace_key = p.key) AS due_at
       FROM pace p WHERE ${urgent ? `p.key = ''` : `p.key <> ''`}) AS w WHERE w.due_at IS NOT NULL`,
  );
  return row?.at ?? null;
}

export async function ensurePaces(w: Writer, keys: Iterable<string>): Promise<void> {
  await w.run(`INSERT INTO pace (key) SELECT value FROM jsonb_each($1) WHERE true ON CONFLICT DO NOTHING`, [
    JSON.stringify([...new Set(keys)]),
  ]);
}

export async function freeAt(r: Reader, key: string): Promise<number> {
  return (await r.one<{ free_at: number }>('SELECT free_at FROM pace WHERE key = $1', [key]))?.free_at ?? 0;
}

export async function keepPace(w: Writer, key: string, at: number): Promise<void> {
  await w.run(
    `INSERT INTO pace (key, free_at) VALUES ($1,$2) ON CONFLICT (key) DO UPDATE SET free_at = excluded.free_at`,
    [key, at],
  );
}

/** Segments of the business that left today for networks that cap a brand's day; days turn at midnight Pacific. */
export async function usedToday(r: Reader, businessId: string, now: number): Promise<number> {
  const row = await r.one<{ segments: number }>('SELECT segments FROM day_use WHERE business_id = $1 AND day = $2', [
    businessId,
    lastPacificMidnight(now),
  ]);
  return row?.segments ?? 0;
}

/** Books segments to the day in which they left; negative ones give back what the network did not take. */
export async function bookDay(w: Writer, businessId: string, at: number, segments: number): Promise<void> {
  await w.run(
    `INSERT INTO day_use (business_id, day, segments) VALUES ($1, $2, CASE WHEN $3 < 0 THEN 0 ELSE $3 END) ON CONFLICT (business_id, day) DO UPDATE SET segments = CASE WHEN day_use.segments + $3 < 0 THEN 0 ELSE day_use.segments + $3 END`,
    [businessId, lastPacificMidnight(at), segments],
  );
}
