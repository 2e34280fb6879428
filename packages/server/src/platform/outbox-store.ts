import { literal, Op } from 'sequelize';
import type { Reader, Writer } from './db.js';
import { outboxTable, type OutboxModel } from './model.js';

/** Keeps a wish; one whose key there is already stays as it is. */
export async function addWish(
  w: Writer,
  wish: { key: string; kind: string; payload: unknown; dueAt: number },
): Promise<void> {
  await w.of(outboxTable).bulkCreate([wish], { ignoreDuplicates: true, validate: true });
}

/** How many wishes of a kind were ever kept under `owner:…`. */
export async function countWishes(r: Reader, kind: string, owner: string): Promise<number> {
  return r.of(outboxTable).count({ where: { kind, key: { [Op.gte]: `${owner}:`, [Op.lt]: `${owner};` } } });
}

/** When the next is due; null where none waits. Prepared once, since it is asked again and again. */
export async function nextWish(r: Reader): Promise<number | null> {
  return (
    (await r.one<{ at: number | null }>(`SELECT min(due_at) AS at FROM outbox WHERE state = 'waiting'`))?.at ?? null
  );
}

/** What is due, first due first. */
export async function dueWishes(r: Reader, now: number, limit: number): Promise<OutboxModel[]> {
  const next = await nextWish(r);
  if (next === null || next > now) return [];
  return r
    .of(outboxTable)
    .findAll({ where: { state: 'waiting', dueAt: { [Op.lte]: now } }, order: ['dueAt', 'key'], limit });
}

export async function endWish(
  w: Writer,
  key: string,
  state: 'delivered' | 'refused' | 'set aside',
  error?: string,
): Promise<void> {
  await w.of(outboxTable).update({ state, ...(error === undefined ? {} : { error }) }, { where: { key } });
}

export async function putOff(w: Writer, key: string, error: string, dueAt: number): Promise<void> {
  await w.of(outboxTable).update({ attempts: literal('attempts + 1'), error, dueAt }, { where: { key } });
}

/** The key stays, so that nothing is repeated, and nothing of what was said. */
export async function forgetWish(w: Writer, key: string): Promise<void> {
  await w.of(outboxTable).update({ payload: {} }, { where: { key } });
}

export async function takeUpWish(w: Writer, key: string, dueAt: number): Promise<void> {
  await w.of(outboxTable).update({ state: 'waiting', attempts: 0, dueAt }, { where: { key, state: 'set aside' } });
}
