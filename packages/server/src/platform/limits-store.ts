import { Op } from 'sequelize';
import type { Reader, Writer } from './db.js';
import { publicActTable } from './model.js';

/** How many acts under this name stand since a wall moment. */
export async function actsSince(r: Reader, who: string, since: number): Promise<number> {
  return r.of(publicActTable).count({ where: { who, wallAt: { [Op.gte]: since } } });
}

export async function noteAct(w: Writer, who: string, wallAt: number): Promise<void> {
  await w.of(publicActTable).create({ who, wallAt });
}

export async function forgetActs(w: Writer, before: number): Promise<void> {
  await w.of(publicActTable).destroy({ where: { wallAt: { [Op.lt]: before } } });
}

/** Forgets what was counted under one name, as when the right password was given at last. */
export async function forgiveActs(w: Writer, who: string): Promise<void> {
  await w.of(publicActTable).destroy({ where: { who } });
}
