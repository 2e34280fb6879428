import { Op } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { pageOf } from '../../platform/keyset.js';
import { moneyEntryTable, type MoneyEntryModel } from './model.js';

export async function isBooked(r: Reader, entryId: string): Promise<boolean> {
  return (await r.of(moneyEntryTable).count({ where: { id: entryId } })) > 0;
}

export async function isBookedUnder(r: Reader, entryId: string): Promise<boolean> {
  const made = { [Op.or]: [entryId, { [Op.between]: [`${entryId}-`, `${entryId}-~`] }] };
  return (await r.of(moneyEntryTable).count({ where: { id: made } })) > 0;
}
export async function bookedAmount(r: Reader, entryId: string): Promise<number | null> {
  const row = await r.of(moneyEntryTable).findOne({ where: { id: entryId }, attributes: ['amount'], raw: true });
  return row?.amount ?? null;
}

/**
 * Moves the balance and writes the entry; a further amount under the same id is added to it. By hand, since it is done
 * in one breath with every lot of texts that leaves.
 */
export async function bookEntry(
  w: Writer,
  businessId: string,
  entry: { id: string; at: number; amount: number; what: string; objectKind: string; objectId: string },
): Promise<void> {
  await w.run('UPDATE business SET balance = balance + $2 WHERE id = $1', [businessId, entry.amount]);
  await w.run(
    `INSERT INTO money_entry (id, business_id, at, amount, what, object_kind, object_id, balance_after) SELECT $1, id, $3, $4, $5, $6, $7, balance FROM business WHERE id = $2
     ON CONFLICT (id) DO UPDATE SET amount = money_entry.amount + excluded.amount, balance_after = excluded.balance_after, at = excluded.at`,
    [entry.id, businessId, entry.at, entry.amount, entry.what, entry.objectKind, entry.objectId],
  );
}

/** An entry without an amount, in the words that hold now. */
export async function noteEntry(
  w: Writer,
  businessId: string,
  entry: { id: string; at: number; what: string; objectKind: string; objectId: string },
): Promise<void> {
  await bookEntry(w, businessId, { ...entry, amount: 0 });
  await w.of(moneyEntryTable).update({ what: entry.what }, { where: { id: entry.id } });
}

/** How often something was booked since a moment. */
export async function countEntries(r: Reader, businessId: string, what: string, since: number): Promise<number> {
  return r.of(moneyEntryTable).count({ where: { businessId, what, at: { [Op.gt]: since } } });
}

/** A page of a business's entries, the last first, and how many there are. */
export async function pageOfEntries(
  r: Reader,
  businessId: string,
  cursor: string | undefined,
  limit: number,
): Promise<{ rows: MoneyEntryModel[]; next: string | null; total: number }> {
  const model = r.of(moneyEntryTable);
  const page = await pageOf(model, {
    where: { businessId },
    order: [
      { by: 'at', down: true, is: 'number' },
      { by: 'n', down: true, is: 'number' },
    ],
    cursor,
    limit,
  });
  return { ...page, total: await model.count({ where: { businessId } }) };
}

/** The entries from one moment to another, in the order they were booked. */
export async function entriesBetween(
  r: Reader,
  businessId: string,
  from: number,
  to: number,
): Promise<MoneyEntryModel[]> {
  return r.of(moneyEntryTable).findAll({
    where: { businessId, at: { [Op.gte]: from, [Op.lt]: to } },
    order: ['at', 'n'],
  });
}

/** What had been booked before a moment, all together. */
export async function balanceBefore(r: Reader, businessId: string, at: number): Promise<number> {
  return (await r.of(moneyEntryTable).sum('amount', { where: { businessId, at: { [Op.lt]: at } } })) || 0;
}

/**
 * Of which dispatches a charge that was begun before a moment was added to after it, up to another: an entry has the
 * whole of a day. The id of a dispatch; empty for texts outside any.
 */
export async function chargedAcross(r: Reader, businessId: string, at: number, until: number): Promise<string[]> {
  const rows = await r.of(moneyEntryTable).findAll({
    where: { businessId, at: { [Op.gte]: at, [Op.lt]: until }, objectKind: ['dispatch', 'thread'] },
    attributes: ['objectId'],
    raw: true,
  });
  return rows.map((x) => x.objectId);
}

/** What was booked from a moment on, all together. */
export async function bookedSince(r: Reader, businessId: string, at: number): Promise<number> {
  return (await r.of(moneyEntryTable).sum('amount', { where: { businessId, at: { [Op.gte]: at } } })) || 0;
}

/** What texts and lookups have cost since a moment. A grouped scan of those days. */
export async function spentSince(
  r: Reader,
  businessId: string,
  since: number,
): Promise<{ kind: string; spent: number }[]> {
  return r.all(
    `SELECT CASE object_kind WHEN 'dispatch' THEN 'texts' WHEN 'thread' THEN 'texts' ELSE 'lookups' END AS kind, -sum(amount) AS spent
     FROM money_entry WHERE business_id = $1 AND at >= $2 AND amount < 0 AND object_kind IN ('dispatch','thread','lookups') GROUP BY 1 ORDER BY 1 DESC`,
    [businessId, since],
  );
}
