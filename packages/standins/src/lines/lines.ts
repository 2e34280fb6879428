import type Router from '@koa/router';
import { isTollFree, LOOKUP_PACE_PER_SECOND, type LineType } from '@long-gate/core';
import { z } from 'zod';
import { Refusal, type Outside } from '../outside/outside.js';

export interface Line {
  lineType: LineType;
  carrier: string;
  reachable: boolean;
}

/** The mobile carriers of the made-up world, how many lines they have, and how they limit what is sent to them. */
const MOBILE = [
  { name: 'Tessary Wireless', upTo: 0.46, kind: 'A' },
  { name: 'Nimbrel Mobile', upTo: 0.8, kind: 'B' },
  { name: 'Cobalt Ridge Cellular', upTo: 1, kind: 'C' },
] as const;

/** What a line in the made-up world is: a fixed entry where one was set, else drawn from the seed. */
export async function lineOf(outside: Outside, e164: string): Promise<Line> {
  const fixed = await outside.store.one<{ line_type: LineType; carrier: string; reachable: number }>(
    'SELECT * FROM line WHERE e164 = $1',
    [e164],
  );
  if (fixed) return { lineType: fixed.line_type, carrier: fixed.carrier, reachable: fixed.reachable === 1 };
  if (isTollFree(e164)) return { lineType: 'toll-free', carrier: 'Harth Telephone', reachable: true };
  const x = outside.chance('line', e164);
  const reachable = outside.chance('reach', e164) > 0.015;
  if (x < 0.84) {
    const c = outside.chance('carrier', e164);
    return {
      lineType: 'mobile',
      carrier: MOBILE.find((m) => c < m.upTo)?.name ?? '',
      reachable,
    };
  }
  if (x < 0.93) return { lineType: 'landline', carrier: 'Harth Telephone', reachable: true };
  if (x < 0.98) return { lineType: 'voip', carrier: 'Voxmere', reachable };
  return x < 0.995
    ? { lineType: 'none', carrier: '', reachable: false }
    : { lineType: 'unknown', carrier: '', reachable: true };
}

/** Answers lookups at the permitted pace, and refuses above it. The pace is wall time, as a real service's would be. */
export function addLines(router: Router, outside: Outside): void {
  const { store } = outside;
  let recent: number[] = [];

  router.post('/lines/lookups', async (ctx) => {
    const b = z
      .object({ key: z.string().min(8).max(200), e164: z.string().regex(/^\+\d{7,15}$/) })
      .parse(ctx.request.body);
    const kept = await store.one<{ body: string }>('SELECT body FROM lookup_answer WHERE key = $1', [b.key]);
    if (kept) {
      ctx.body = JSON.parse(kept.body) as object;
      return;
    }
    const wall = Date.now();
    recent = recent.filter((t) => wall - t < 1000);
    if (recent.length >= LOOKUP_PACE_PER_SECOND)
      throw new Refusal(429, 'too-fast', `No more than ${LOOKUP_PACE_PER_SECOND} lookups a second.`, 1);
    recent.push(wall);
    await store.run('INSERT INTO lookup (wall_at, e164) VALUES ($1, $2)', [wall, b.e164]);
    const line = await lineOf(outside, b.e164);
    const carrierKind = MOBILE.find((m) => m.name === line.carrier)?.kind ?? 'A';
    const answer = { e164: b.e164, ...line, carrierKind, askedAt: outside.now() };
    await store.run('INSERT INTO lookup_answer (key, body) VALUES ($1, $2) ON CONFLICT (key) DO NOTHING', [
      b.key,
      JSON.stringify(answer),
    ]);
    ctx.body = answer;
  });

  // For tests and the curious: the busiest second so far.
  router.get('/lines/pace', async (ctx) => {
    const times = (await store.all<{ t: number }>('SELECT wall_at AS t FROM lookup ORDER BY wall_at')).map((r) => r.t);
    let busiest = 0;
    let from = 0;
    times.forEach((t, i) => {
      while (t - (times[from] ?? t) >= 1000) from++;
      busiest = Math.max(busiest, i - from + 1);
    });
    ctx.body = { lookups: times.length, busiestSecond: busiest };
  });
}
