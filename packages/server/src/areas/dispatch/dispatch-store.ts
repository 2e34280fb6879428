import { col, fn, Op, where, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { dispatchTable, type DispatchModel } from './model.js';

export async function dispatchOf(r: Reader, businessId: string, id: string): Promise<DispatchModel | null> {
  return r.of(dispatchTable).findOne({ where: { id, businessId } });
}

export async function dispatchById(r: Reader, id: string): Promise<DispatchModel | null> {
  return r.of(dispatchTable).findByPk(id);
}

/** A stretch of a business's dispatches, the latest sent or begun first. */
export async function dispatchesOf(
  r: Reader,
  businessId: string,
  offset: number,
  limit: number,
): Promise<{ rows: DispatchModel[]; total: number }> {
  const model = r.of(dispatchTable);
  const [rows, total] = await Promise.all([
    model.findAll({
      where: { businessId },
      order: [
        [fn('coalesce', col('sent_at'), col('created_at')), 'DESC'],
        ['id', 'ASC'],
      ],
      offset,
      limit,
    }),
    model.count({ where: { businessId } }),
  ]);
  return { rows, total };
}

export async function openDispatches(r: Reader, businessId: string, limit: number): Promise<DispatchModel[]> {
  return r
    .of(dispatchTable)
    .findAll({ where: { businessId, state: ['draft', 'sending'] }, order: [['createdAt', 'DESC']], limit });
}

/** Those whose title holds these words, in small letters; the newest first. */
export async function dispatchesNamed(
  r: Reader,
  businessId: string,
  words: string,
  limit: number,
): Promise<DispatchModel[]> {
  return r.of(dispatchTable).findAll({
    where: { [Op.and]: [{ businessId }, where(fn('instr', fn('lower', col('title')), words), Op.gt, 0)] },
    order: [['createdAt', 'DESC']],
    limit,
  });
}

/** Titles of what is written or being sent from a number. */
export async function titlesUsing(r: Reader, numberId: string): Promise<string[]> {
  const rows = await r
    .of(dispatchTable)
    .findAll({ where: { numberId, state: ['draft', 'sending'] }, order: ['createdAt'], attributes: ['title'] });
  return rows.map((d) => d.title);
}

export async function addDispatch(w: Writer, dispatch: CreationAttributes<DispatchModel>): Promise<void> {
  await w.of(dispatchTable).create(dispatch);
}

/** A step on its way; whoever saw it before sees that it changed. */
export async function setDispatchState(
  _w: Writer,
  row: DispatchModel,
  to: { state: DispatchModel['state']; sentAt?: number; endsAt?: number },
): Promise<void> {
  await row.update({ ...to, version: row.version + 1 });
}
