import { Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { basketItemTable, numberTable, type BasketItemModel } from './model.js';

/** What was chosen and is or was kept aside until after a moment, in the order in which that ends. */
export async function itemsOf(r: Reader, businessId: string, since: number): Promise<BasketItemModel[]> {
  return r
    .of(basketItemTable)
    .findAll({ where: { businessId, heldUntil: { [Op.gt]: since } }, order: ['heldUntil', 'e164'] });
}

export async function itemOf(r: Reader, businessId: string, e164: string): Promise<BasketItemModel | null> {
  return r.of(basketItemTable).findOne({ where: { businessId, e164 } });
}

/** Keeps a number aside; one that is there already is kept longer. */
export async function putItem(w: Writer, item: CreationAttributes<BasketItemModel>): Promise<void> {
  await w.of(basketItemTable).upsert(item);
}

export async function dropStale(w: Writer, businessId: string, before: number): Promise<void> {
  await w.of(basketItemTable).destroy({ where: { businessId, heldUntil: { [Op.lte]: before } } });
}

export async function emptyBasket(w: Writer, businessId: string): Promise<void> {
  await w.of(basketItemTable).destroy({ where: { businessId } });
}

/** Whether numbers were ordered under this id already. */
/** The numbers of orders by the orders' ids. */
export async function orderedNumbers(
  r: Reader,
  businessId: string,
  ids: readonly string[],
): Promise<Map<string, string[]>> {
  const rows = await r
    .of(numberTable)
    .findAll({ where: { businessId, orderId: [...ids] }, attributes: ['orderId', 'e164'], order: ['e164'], raw: true });
  const out = new Map<string, string[]>();
  for (const { orderId, e164 } of rows) out.set(orderId, [...(out.get(orderId) ?? []), e164]);
  return out;
}

export async function isOrdered(r: Reader, businessId: string, orderId: string): Promise<boolean> {
  return (await r.of(numberTable).count({ where: { businessId, orderId } })) > 0;
}
