import type Router from '@koa/router';
import { isTollFree, LOOKUP_PACE_PER_SECOND, type LineType } from '@long-gate/core';
import type { Context } from 'koa';
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

/** From this day on carriers have told the database which numbers were given up for good; it knows nothing of before. */
const DATABASE_BEGINS = '2021-01-27';
/** Of so many numbers in a hundred the database knows nothing: their carriers do not tell it. */
const UNTOLD = 0.015;
const GIVEN_UP = 0.008;
/** Days from the database's beginning over which numbers were given up. */
const SPAN_DAYS = 2100;

/** The day on which a number was given up for good; null where it never was. */
async function givenUpOn(outside: Outside, e164: string): Promise<string | null> {
  const fixed = await outside.store.one<{ day: string }>('SELECT day FROM given_up WHERE e164 = $1', [e164]);
  if (fixed) return fixed.day;
  if (outside.chance('given up', e164) >= GIVEN_UP) return null;
  const days = Math.floor(outside.chance('given up on', e164) * SPAN_DAYS);
  return new Date(Date.parse(DATABASE_BEGINS) + days * 86_400_000).toISOString().slice(0, 10);
}

/** Whether a number was given up for good after a day (47 CFR 64.1200(m)). */
async function reassignedAfter(outside: Outside, e164: string, day: string): Promise<'yes' | 'no' | 'no data'> {
  const givenUp = await givenUpOn(outside, e164);
  const today = new Date(outside.now()).toISOString().slice(0, 10);
  if (givenUp !== null && givenUp <= today) return givenUp > day ? 'yes' : 'no';
  return day < DATABASE_BEGINS || outside.chance('untold', e164) < UNTOLD ? 'no data' : 'no';
}

/** A bad moment may take so long. */
const LATE_MS = 400;
const Question = z.object({ key: z.string().min(8).max(200), e164: z.string().regex(/^\+\d{7,15}$/) });
const DayQuestion = Question.extend({ day: z.iso.date() });

/**
 * Answers lookups and queries about reassigned numbers at the permitted pace, which they share, and refuses above it.
 * The pace is wall time, as a real service's would be.
 */
export function addLines(router: Router, outside: Outside, faults = 0): void {
  const { store } = outside;
  let recent: number[] = [];
  const wait = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
  /** A service has bad moments: what it answers comes late or never arrives. */
  const stumble = async (ctx: Context, answer: () => Promise<object>): Promise<void> => {
    const body = await answer();
    if (faults > 0) await wait(Math.random() * LATE_MS);
    if (Math.random() < faults / 2) {
      ctx.respond = false;
      ctx.req.socket.destroy();
      return;
    }
    ctx.body = body;
  };

  /** What was asked and paid for under a key is answered alike the second time, whatever the pace. */
  const answered = async <Q extends { key: string; e164: string }>(
    question: Q,
    answer: (q: Q) => Promise<object>,
  ): Promise<object> => {
    const { key, e164 } = question;
    const kept = await store.one<{ body: string }>('SELECT body FROM lookup_answer WHERE key = $1', [key]);
    if (kept) return JSON.parse(kept.body) as object;
    const wall = Date.now();
    recent = recent.filter((t) => wall - t < 1000);
    if (recent.length >= LOOKUP_PACE_PER_SECOND)
      throw new Refusal(429, 'too-fast', `No more than ${LOOKUP_PACE_PER_SECOND} questions a second.`, 1);
    recent.push(wall);
    await store.run('INSERT INTO lookup (wall_at, e164) VALUES ($1, $2)', [wall, e164]);
    if (Math.random() < faults / 2)
      throw new Refusal(503, 'out-of-order', 'The line service is out of order for a moment.', 1);
    const body = await answer(question);
    await store.run('INSERT INTO lookup_answer (key, body) VALUES ($1, $2) ON CONFLICT (key) DO NOTHING', [
      key,
      JSON.stringify(body),
    ]);
    return body;
  };

  router.post('/lines/lookups', (ctx) =>
    stumble(ctx, () =>
      answered(Question.parse(ctx.request.body), async ({ e164 }) => {
        const line = await lineOf(outside, e164);
        const carrierKind = MOBILE.find((m) => m.name === line.carrier)?.kind ?? 'A';
        return { e164, ...line, carrierKind, askedAt: outside.now() };
      }),
    ),
  );

  router.post('/lines/reassigned', (ctx) =>
    stumble(ctx, () =>
      answered(DayQuestion.parse(ctx.request.body), async ({ e164, day }) => ({
        e164,
        day,
        answer: await reassignedAfter(outside, e164, day),
        askedAt: outside.now(),
      })),
    ),
  );

  // For tests and the curious: the busiest second so far, when the first and nineteen of twenty were asked, and which lines were paid for more than once.
  router.get('/lines/pace', async (ctx) => {
    const times = (await store.all<{ t: number }>('SELECT wall_at AS t FROM lookup ORDER BY wall_at')).map((r) => r.t);
    let busiest = 0;
    let from = 0;
    times.forEach((t, i) => {
      while (t - (times[from] ?? t) >= 1000) from++;
      busiest = Math.max(busiest, i - from + 1);
    });
    const twice = await store.all<{ e164: string }>(
      `SELECT body->>'e164' AS e164 FROM lookup_answer WHERE body->>'day' IS NULL GROUP BY 1 HAVING count(*) > 1 ORDER BY 1`,
    );
    ctx.body = {
      lookups: times.length,
      busiestSecond: busiest,
      firstMs: times[0] ?? 0,
      mostMs: times[Math.floor(times.length * 0.95)] ?? 0,
      twice: twice.map((x) => x.e164),
    };
  });
}
