import type { CreationAttributes } from 'sequelize';
import { Op } from 'sequelize';
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

/** Keeps a stretch in the place of the one that began there, if any. */
export async function keepStretch(w: Writer, stretch: CreationAttributes<ChainStretchModel>): Promise<void> {
  await w.of(chainStretchTable).upsert(stretch);
}
