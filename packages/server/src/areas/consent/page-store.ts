import { literal, Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { optinPageTable, pageWeekTable, type OptinPageModel, type PageWeekModel } from './model.js';

export async function pagesOf(r: Reader, businessId: string): Promise<OptinPageModel[]> {
  return r.of(optinPageTable).findAll({ where: { businessId }, order: ['createdAt'] });
}

export async function pageById(r: Reader, businessId: string, id: string): Promise<OptinPageModel | null> {
  return r.of(optinPageTable).findOne({ where: { id, businessId } });
}

export async function publishedPage(r: Reader, slug: string): Promise<OptinPageModel | null> {
  return r.of(optinPageTable).findOne({ where: { slug, published: true } });
}

/** The published pages whose texts come from a number. */
export async function pagesFrom(r: Reader, numberId: string): Promise<OptinPageModel[]> {
  return r.of(optinPageTable).findAll({ where: { numberId, published: true }, order: ['createdAt'] });
}

/** Whether another page has this name in its address. */
export async function slugIsTaken(r: Reader, slug: string, id: string): Promise<boolean> {
  return (await r.of(optinPageTable).count({ where: { slug, id: { [Op.ne]: id } } })) > 0;
}

export async function addPage(w: Writer, page: CreationAttributes<OptinPageModel>): Promise<void> {
  await w.of(optinPageTable).create(page);
}

/** @param words whether what people agree to changed with it, which begins a new version of the disclosure. */
export async function savePage(
  page: OptinPageModel,
  change: Partial<CreationAttributes<OptinPageModel>>,
  words: boolean,
): Promise<void> {
  await page.update({ ...change, pageVersion: page.pageVersion + (words ? 1 : 0), version: literal('version + 1') });
}

const DAY_MS = 86_400_000;
/** Weeks begin on Monday, UTC, and are counted from that of 1 January 1970: whole numbers any database can group by. */
export const weekOf = (at: number): number => Math.floor((at / DAY_MS + 3) / 7);
/** The Monday on which a week begins, as `2027-03-08`. */
export const mondayOf = (week: number): string => new Date((week * 7 - 3) * DAY_MS).toISOString().slice(0, 10);

/** So many kinds of text were agreed to on it; counted as they are, since the ledger is never walked for a number. */
export async function countOptIns(w: Writer, id: string, by: number, at: number): Promise<void> {
  await w.of(optinPageTable).increment({ optIns: by }, { where: { id } });
  await countInWeek(w, id, weekOf(at), by, 0);
}

/**
 * So many of them were confirmed: on the page of that business and address, where there still is one.
 * @param agreedAt when they were agreed to; that week counts them, so that it says how many of its own were confirmed.
 */
export async function countConfirmed(
  w: Writer,
  businessId: string,
  slug: string,
  by: number,
  agreedAt: number,
): Promise<void> {
  const page = await w.of(optinPageTable).findOne({ where: { businessId, slug }, attributes: ['id'], raw: true });
  if (page) await countInWeek(w, page.id, weekOf(agreedAt), 0, by);
}

/** Adds to a count that may not be there yet, which a model does in two statements. */
async function countInWeek(w: Writer, pageId: string, week: number, agreed: number, confirmed: number): Promise<void> {
  await w.run(
    `INSERT INTO page_week (page_id, week, agreed, confirmed) VALUES ($1, $2, $3, $4)
     ON CONFLICT (page_id, week) DO UPDATE SET agreed = page_week.agreed + excluded.agreed, confirmed = page_week.confirmed + excluded.confirmed`,
    [pageId, week, agreed, confirmed],
  );
}

/** What came of these pages in each week from one on; a week in which nothing did is not there. */
export async function weeksOf(r: Reader, pageIds: readonly string[], from: number): Promise<PageWeekModel[]> {
  return r.of(pageWeekTable).findAll({ where: { pageId: [...pageIds], week: { [Op.gte]: from } } });
}
