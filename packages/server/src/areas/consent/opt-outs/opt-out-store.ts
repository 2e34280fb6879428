import { literal, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { oneById, pageOf, type PageOrOne } from '../../../platform/keyset.js';
import { optOutListTable, type OptOutListModel } from './model.js';

/** A page of the lists that were brought in, the last first. */
export async function optOutLists(
  r: Reader,
  businessId: string,
  { id, cursor, limit }: PageOrOne,
): Promise<{ rows: OptOutListModel[]; next: string | null }> {
  return pageOf(r.of(optOutListTable), {
    where: { businessId, ...oneById(id) },
    order: [
      { by: 'brought_at', down: true, is: 'number' },
      { by: 'id', down: true, is: 'text' },
    ],
    cursor,
    limit,
  });
}
export async function countLists(r: Reader, businessId: string): Promise<number> {
  return r.of(optOutListTable).count({ where: { businessId } });
}
export async function optOutListById(r: Reader, businessId: string, id: string): Promise<OptOutListModel | null> {
  return r.of(optOutListTable).findOne({ where: { id, businessId } });
}
export async function addOptOutList(w: Writer, list: CreationAttributes<OptOutListModel>): Promise<void> {
  await w.of(optOutListTable).create(list);
}
/** Counts a lot of those who are on a list. */
export async function countOptedOut(
  w: Writer,
  id: string,
  more: { people: number; agreedSince: number; already: number },
): Promise<void> {
  await w.of(optOutListTable).update(
    {
      people: literal(`people + ${more.people}`),
      agreedSince: literal(`agreed_since + ${more.agreedSince}`),
      already: literal(`already + ${more.already}`),
    },
    { where: { id } },
  );
}
