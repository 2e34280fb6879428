import { afterWord, type HandledAs, type Standing } from '@long-gate/core';
import { Op, type WhereOptions } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { keptTable, type Kept } from '../../platform/kept-counts-store.js';
import { pageOf, type Ordered } from '../../platform/keyset.js';
import { threadCountTable, threadTable, type ThreadModel } from './model.js';

export async function threadOf(r: Reader, businessId: string, e164: string): Promise<ThreadModel | null> {
  return r.of(threadTable).findOne({ where: { businessId, e164 } });
}

/** Conversations that are no more. */
export async function dropThreads(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
  await w.of(threadTable).destroy({ where: { businessId, e164: [...e164s] } });
}

/** Which conversations stand so at a moment; all where none is asked for. */
function standing(businessId: string, which: Standing | undefined, now: number): WhereOptions<ThreadModel> {
  switch (which) {
    case 'waiting':
      return { businessId, waitsUntil: { [Op.gt]: now } };
    case 'too late':
      return { businessId, waitsUntil: { [Op.lte]: now } };
    case 'by itself':
      return { businessId, waitsUntil: null, handled: { [Op.ne]: '' } };
    case 'answered':
      return { businessId, waitsUntil: null, handled: '' };
    default:
      return { businessId };
  }
}

const NEWEST_FIRST: readonly Ordered[] = [
  { by: 'last_at', down: true, is: 'number' },
  { by: 'e164', down: false, is: 'text' },
];
const LEAST_TIME_FIRST: readonly Ordered[] = [
  { by: 'waits_until', down: false, is: 'number' },
  { by: 'e164', down: false, is: 'text' },
];

/** A page of conversations: of those that wait that with the least time left first, else that with the last word. */
export async function threadsOf(
  r: Reader,
  businessId: string,
  which: Standing | undefined,
  now: number,
  cursor: string | undefined,
  limit: number,
): Promise<{ rows: ThreadModel[]; next: string | null }> {
  return pageOf(r.of(threadTable), {
    where: standing(businessId, which, now),
    order: which === 'waiting' ? LEAST_TIME_FIRST : NEWEST_FIRST,
    cursor,
    limit,
  });
}

/** How many conversations wait for an answer that is not too late: a day's at most. */
export async function countWaiting(r: Reader, businessId: string, now: number): Promise<number> {
  return r.of(threadTable).count({ where: standing(businessId, 'waiting', now) });
}

/** How many conversations stand how. */
export async function countStandings(r: Reader, businessId: string, now: number): Promise<Record<Standing, number>> {
  const [rows, waiting] = await Promise.all([
    r.of(threadCountTable).findAll({ where: { businessId }, raw: true }),
    countWaiting(r, businessId, now),
  ]);
  const kept = new Map(rows.map((x) => [x.standing, x.n]));
  return {
    waiting,
    // Counted a moment apart: never fewer than none.
    'too late': Math.max(0, (kept.get('open') ?? 0) - waiting),
    answered: kept.get('answered') ?? 0,
    'by itself': kept.get('by itself') ?? 0,
  };
}

export const INBOX_COUNTS: readonly Kept[] = [
  keptTable({
    what: 'conversations by how they stand',
    table: threadCountTable,
    values: ['n'],
    counted: `SELECT business_id, CASE WHEN waits_until IS NOT NULL THEN 'open' WHEN handled = '' THEN 'answered' ELSE 'by itself' END AS standing, count(*) AS n FROM thread GROUP BY 1, 2`,
  }),
];

/** When the first of what waits for an answer is too late; null where nothing waits. */
export async function firstWaiting(r: Reader, businessId: string, now: number): Promise<number | null> {
  return r
    .of(threadTable)
    .min<number | null, ThreadModel>('waitsUntil', { where: standing(businessId, 'waiting', now) });
}

/** Something came in: its conversation goes to the head. What was carried out by itself is nothing new to read. */
export async function noteIncoming(
  w: Writer,
  t: { businessId: string; e164: string; numberId: string; at: number; text: string; handled: HandledAs },
): Promise<void> {
  const known = await threadOf(w, t.businessId, t.e164);
  const waiting = afterWord(known ?? { waitsUntil: null, handled: '' }, t.at, t.handled);
  const last = { numberId: t.numberId, lastAt: t.at, lastText: t.text, ...waiting };
  const news = t.handled === '' ? 1 : 0;
  if (known) await known.update({ ...last, unread: known.unread + news });
  else await w.of(threadTable).create({ businessId: t.businessId, e164: t.e164, ...last, unread: news });
}
