import { Op, type Model, type WhereOptions } from 'sequelize';
import type { Reader } from './db.js';
import type { Table } from './table.js';

/** Things of a business by their ids, from whatever table an area keeps them in. */
export async function thingsById<M extends Model>(
  r: Reader,
  things: Table<M>,
  businessId: string,
  ids: readonly string[],
  key: string,
): Promise<M[]> {
  const where: WhereOptions = { businessId, [key]: { [Op.in]: ids } };
  return r.of(things).findAll({ where });
}
