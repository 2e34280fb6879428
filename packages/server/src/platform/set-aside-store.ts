import { Op, type WhereOptions } from 'sequelize';
import type { Clock } from './clock.js';
import type { Reader, Writer } from './db.js';
import { setAsideTable, type SetAsideModel } from './model.js';

/** What could not be worked off and must not keep the rest waiting. */
export type SetAsideRow = SetAsideModel;

/** Puts one thing aside with its cause; the same thing again only renews the cause. */
export async function setAside(
  w: Writer,
  clock: Clock,
  what: { lane: SetAsideRow['lane']; key: string; kind: string; body: unknown; cause: string },
): Promise<void> {
  const cause = what.cause.slice(0, 2000);
  const known = await w.of(setAsideTable).findByPk(what.key);
  if (known) await known.update({ cause, at: clock.now(), state: 'open' });
  else await w.of(setAsideTable).create({ ...what, cause, at: clock.now() });
}

/** What waits for somebody to look, oldest first. */
export async function openSetAside(r: Reader, limit = 200): Promise<SetAsideRow[]> {
  return r.of(setAsideTable).findAll({ where: { state: 'open' }, order: ['at', 'key'], limit });
}

export async function closeSetAside(w: Writer, key: string, state: 'done' | 'left'): Promise<void> {
  await w.of(setAsideTable).update({ state }, { where: { key } });
}

/** In whose content one of these words stands: it is kept as text. */
const holding = (words: readonly string[]): WhereOptions => ({
  [Op.or]: words.map((word) => ({ body: { [Op.like]: `%${word}%` } })),
});

/** How many of those that wait for somebody to look hold one of these words. */
export async function countOpenWith(r: Reader, words: readonly string[]): Promise<number> {
  return r.of(setAsideTable).count({ where: { state: 'open', ...holding(words) } });
}

/** What holds one of these words loses its content and what was said of it, once somebody has looked at it. */
export async function forgetSetAside(w: Writer, words: readonly string[]): Promise<void> {
  const where = { state: { [Op.ne]: 'open' }, ...holding(words) };
  await w.of(setAsideTable).update({ body: {}, cause: '' }, { where });
}
