import { Op } from 'sequelize';
import type { Reader } from './db.js';
import { stoodTable, type StoodModel } from './model.js';

/**
 * What the gate read of a business, its numbers and its filings at a moment, by kind of object and object. Kept by the
 * database as it changes (`migrations/first/history.ts`).
 */
export async function stoodAt(r: Reader, businessId: string, at: number): Promise<StoodModel[]> {
  return r.of(stoodTable).findAll({
    where: { businessId, fromAt: { [Op.lte]: at }, toAt: { [Op.or]: [{ [Op.is]: null }, { [Op.gt]: at }] } },
    order: ['objectKind', 'objectId', 'fact', 'id'],
  });
}
