import { col, fn, Op, where, type CreationAttributes } from 'sequelize';
import type { DispatchSort } from '@long-gate/contracts';
import type { Reader, Writer } from '../../platform/db.js';
import { pageOf, type Ordered } from '../../platform/keyset.js';
import { dispatchTable, type DispatchModel } from './model.js';

export async function dispatchOf(r: Reader, businessId: string, id: string): Promise<DispatchModel | null> {
  return r.of(dispatchTable).findOne({ where: { id, businessId } });
}

export async function dispatchById(r: Reader, id: string): Promise<DispatchModel | null> {
  return r.of(dispatchTable).findByPk(id);
}

/** Small letters beside capitals; what was not sent yet stands where it was begun. */
const SORTED = {
  title: fn('lower', col('title')),
  state: col('state'),
  sent: fn('coalesce', col('sent_at'), col('created_at')),
  purpose: fn('coalesce', col('purpose'), ''),
} satisfies Record<Exclude<DispatchSort, `-${string}`>, unknown>;

/** A page of a business's dispatches; those alike by their moment, the latest first. */
export async function dispatchesOf(
  r: Reader,
  businessId: string,
  sort: DispatchSort,
  cursor: string | undefined,
  limit: number,
): Promise<{ rows: DispatchModel[]; next: string | null; total: number }> {
  const model = r.of(dispatchTable);
  const by = sort.replace('-', '') as keyof typeof SORTED;
  const first: Ordered = { by: SORTED[by], down: sort.startsWith('-'), is: by === 'sent' ? 'number' : 'text' };
  const [page, total] = await Promise.all([
    pageOf(model, {
      where: { businessId },
      order: [
        first,
        ...(by === 'sent' ? [] : [{ by: SORTED.sent, down: true, is: 'number' } as const]),
        { by: 'id', down: false, is: 'text' },
      ],
      cursor,
      limit,
    }),
    model.count({ where: { businessId } }),
  ]);
  return { ...page, total };
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
