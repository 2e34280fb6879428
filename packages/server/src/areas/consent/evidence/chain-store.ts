import { Op, type CreationAttributes, type Order } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { chainStretchTable, type ChainStretchModel } from './model.js';

/** The next kept stretches of a chain that begin after one of its events or later, in their order. */
export async function stretchesAfter(
  r: Reader,
  businessId: string,
  seq: number,
  limit: number,
): Promise<ChainStretchModel[]> {
  return r
    .of(chainStretchTable)
    .findAll({ where: { businessId, afterSeq: { [Op.gte]: seq } }, order: ['afterSeq'], limit });
}

/** Up to which of its events a chain is kept; 0 where nothing is. */
export async function lastKept(r: Reader, businessId: string): Promise<number> {
  const where = { businessId };
  const order: Order = [['afterSeq', 'DESC']];
  return (await r.of(chainStretchTable).findOne({ where, order, attributes: ['lastSeq'], raw: true }))?.lastSeq ?? 0;
}

/** Keeps a stretch in the place of the one that began there, if any. */
export async function keepStretch(w: Writer, stretch: CreationAttributes<ChainStretchModel>): Promise<void> {
  await w.of(chainStretchTable).upsert(stretch);
}
