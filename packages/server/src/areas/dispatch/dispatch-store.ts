import { col, fn, literal, Op, where, type CreationAttributes, type WhereOptions } from 'sequelize';
import type { DispatchShow, DispatchSort } from '@long-gate/contracts';
import type { Reader, Writer } from '../../platform/db.js';
import { pageOf, type Ordered } from '../../platform/keyset.js';
import { dispatchTable, type DispatchModel } from './model.js';

/** Drafts that are to leave at a time. */
const SCHEDULED = literal('(SELECT dispatch_id FROM dispatch_schedule)');
/** What each kind of list shows. What is archived stands there alone. */
const SHOWN: Record<DispatchShow, WhereOptions<DispatchModel>> = {
  drafts: { state: 'draft', archivedAt: null, id: { [Op.notIn]: SCHEDULED } },
  scheduled: { state: 'draft', id: { [Op.in]: SCHEDULED } },
  'under way': { state: 'sending' },
  sent: { state: ['done', 'cancelled'], archivedAt: null },
  archived: { archivedAt: { [Op.ne]: null } },
};

/** What a list of dispatches is narrowed by. */
export interface DispatchFilter {
  show?: DispatchShow | undefined;
  category?: string | undefined;
  effort?: string | undefined;
}
const whereOf = (businessId: string, f: DispatchFilter): WhereOptions<DispatchModel> => ({
  businessId,
  ...(f.show ? SHOWN[f.show] : { archivedAt: null }),
  ...(f.category ? { category: f.category } : {}),
  ...(f.effort ? { effort: f.effort } : {}),
});

/** How many there are of each kind. */
export async function countShown(r: Reader, businessId: string): Promise<Record<string, number>> {
  const kinds = Object.keys(SHOWN) as DispatchShow[];
  const counts = await Promise.all(
    kinds.map((show) => r.of(dispatchTable).count({ where: whereOf(businessId, { show }) })),
  );
  return Object.fromEntries(kinds.map((kind, i) => [kind, counts[i] ?? 0]));
}

/** What dispatches are grouped by and how many each has, those archived left out. A grouped count, of few. */
export async function countGrouped(
  r: Reader,
  businessId: string,
  by: 'category' | 'effort',
): Promise<{ value: string; n: number }[]> {
  return r.all(
    `SELECT ${by} AS value, count(*) AS n FROM dispatch WHERE business_id = $1 AND ${by} <> '' AND archived_at IS NULL GROUP BY ${by} ORDER BY ${by}`,
    [businessId],
  );
}

/** Those that were sent from one moment to another. */
export async function sentBetween(r: Reader, businessId: string, from: number, to: number): Promise<DispatchModel[]> {
  return r.of(dispatchTable).findAll({
    where: { businessId, sentAt: { [Op.gte]: from, [Op.lt]: to } },
    order: ['sentAt'],
  });
}

/** What was sent last, the last first. */
export async function sentLast(r: Reader, businessId: string, limit: number): Promise<DispatchModel[]> {
  return r.of(dispatchTable).findAll({
    where: { businessId, state: ['sending', 'done', 'cancelled'], sentAt: { [Op.ne]: null } },
    order: [
      ['sentAt', 'DESC'],
      ['id', 'DESC'],
    ],
    limit,
  });
}

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
  filter: DispatchFilter,
  sort: DispatchSort,
  cursor: string | undefined,
  limit: number,
): Promise<{ rows: DispatchModel[]; next: string | null; total: number }> {
  const model = r.of(dispatchTable);
  const by = sort.replace('-', '') as keyof typeof SORTED;
  const first: Ordered = { by: SORTED[by], down: sort.startsWith('-'), is: by === 'sent' ? 'number' : 'text' };
  const [page, total] = await Promise.all([
    pageOf(model, {
      where: whereOf(businessId, filter),
      order: [
        first,
        ...(by === 'sent' ? [] : [{ by: SORTED.sent, down: true, is: 'number' } as const]),
        { by: 'id', down: false, is: 'text' },
      ],
      cursor,
      limit,
    }),
    model.count({ where: whereOf(businessId, filter) }),
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
  to: { state: DispatchModel['state']; sentAt?: number; endsAt?: number; ownTime?: string | null },
): Promise<void> {
  await row.update({ ...to, version: row.version + 1 });
}
