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
/** One part of a charge, and what stands under it so far. */
export interface Part {
  id: string;
  amount: number;
}

/**
 * The part of a charge to which more may be added: the last one, unless money came in since. Then what was spent before
 * and after it is told apart, so that no balance on the statement is below nothing. By hand, since it is asked with
 * every lot of texts that leaves.
 */
export async function openPart(
  r: Reader,
  businessId: string,
  entryId: string,
): Promise<(Part & { at: number }) | undefined> {
  return r.one<Part & { at: number }>(
    `SELECT p.id, p.at, p.amount FROM (SELECT id, n, at, amount FROM money_entry WHERE part_of = $1 ORDER BY n DESC LIMIT 1) p
     WHERE NOT EXISTS (SELECT 1 FROM money_entry i WHERE i.business_id = $2 AND i.amount > 0 AND i.n > p.n)`,
    [entryId, businessId],
  );
}

/** Moves the balance, and adds as much to a part. */
export async function addToPart(w: Writer, businessId: string, part: Part, at: number, amount: number): Promise<Part> {
  await moveBalance(w, businessId, amount);
  await w.run('UPDATE money_entry SET amount = amount + $2, last_at = $3 WHERE id = $1', [part.id, amount, at]);
  return { id: part.id, amount: part.amount + amount };
}

/** What an entry is made of. */
export interface NewEntry {
  id: string;
  partOf: string;
  at: number;
  amount: number;
  what: string;
  objectKind: string;
  objectId: string;
}

/** Moves the balance, and writes an entry of its own. */
export async function addEntry(w: Writer, businessId: string, entry: NewEntry): Promise<Part> {
  await moveBalance(w, businessId, entry.amount);
  await w.of(moneyEntryTable).create({ ...entry, businessId });
  return { id: entry.id, amount: entry.amount };
}

/** By hand, since it is done in one breath with every lot of texts that leaves. */
async function moveBalance(w: Writer, businessId: string, amount: number): Promise<void> {
  await w.run('UPDATE business SET balance = balance + $2 WHERE id = $1', [businessId, amount]);
}

/** An entry without an amount, in the words that hold now, where it was noted first. */
export async function noteEntry(
  w: Writer,
  businessId: string,
  entry: Omit<NewEntry, 'amount' | 'partOf'>,
): Promise<void> {
  const { id, what } = entry;
  const [noted] = await w.of(moneyEntryTable).update({ what }, { where: { id } });
  if (noted === 0) await w.of(moneyEntryTable).create({ ...entry, partOf: id, businessId, amount: 0 });
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

/** What was spent after an entry, in the order they were booked; together with what came in. */
export async function bookedAfter(
  r: Reader,
  businessId: string,
  { at, n }: { at: number; n: number },
): Promise<number> {
  const row = await r.one<{ sum: number | null }>(
    'SELECT sum(amount) AS sum FROM money_entry WHERE business_id = $1 AND at >= $2 AND (at > $2 OR n > $3)',
    [businessId, at, n],
  );
  return row?.sum ?? 0;
}

/** A part lasts a day of the business at most; the longest has an hour more. */
const PART_LASTS_MS = 25 * 3_600_000;

/**
 * Charges for texts that were begun before a moment, and to which more was added at it or later: for which dispatch
 * (empty for texts outside any), and until when.
 */
export async function chargesAcross(
  r: Reader,
  businessId: string,
  at: number,
): Promise<{ dispatchId: string; until: number }[]> {
  const rows = await r.of(moneyEntryTable).findAll({
    where: {
      businessId,
      at: { [Op.gte]: at - PART_LASTS_MS, [Op.lt]: at },
      lastAt: { [Op.gte]: at },
      objectKind: ['dispatch', 'thread'],
    },
    attributes: ['objectId', 'lastAt'],
    raw: true,
  });
  return rows.map((x) => ({ dispatchId: x.objectId, until: x.lastAt ?? at }));
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
