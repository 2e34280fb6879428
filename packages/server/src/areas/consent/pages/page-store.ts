import { literal, Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import {
  optinPageTable,
  pageVersionCountTable,
  pageVisitTable,
  pageWeekTable,
  type OptinPageModel,
  type PageVersionCountModel,
  type PageVisitModel,
  type PageWeekModel,
} from './model.js';

export async function pagesOf(r: Reader, businessId: string): Promise<OptinPageModel[]> {
  return r.of(optinPageTable).findAll({ where: { businessId }, order: ['createdAt'] });
}

export async function pageById(r: Reader, businessId: string, id: string): Promise<OptinPageModel | null> {
  return r.of(optinPageTable).findOne({ where: { id, businessId } });
}

export async function pageBySlug(r: Reader, slug: string): Promise<OptinPageModel | null> {
  return r.of(optinPageTable).findOne({ where: { slug } });
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

/** A page, the version of its words, and the moment whose week counts it. */
export interface CountedPage {
  pageId: string;
  pageVersion: number;
  at: number;
}

/** So many kinds of text were agreed to on it; counted as they are, since the ledger is never walked for a number. */
export async function countOptIns(w: Writer, page: CountedPage, by: number): Promise<void> {
  await w.of(optinPageTable).increment({ optIns: by }, { where: { id: page.pageId } });
  await countStep(w, page, 'agreed', by);
}

/**
 * One kind of text was confirmed: on the page of that business and address, where there still is one.
 * @param agreed what was agreed to: its week and its words count it, so that they say how many of their own were confirmed.
 */
export async function countConfirmed(
  w: Writer,
  businessId: string,
  slug: string,
  agreed: { at: number; disclosureVersion: string },
): Promise<void> {
  const page = await w.of(optinPageTable).findOne({ where: { businessId, slug }, attributes: ['id'], raw: true });
  const pageVersion = Number(/, version (\d+)$/.exec(agreed.disclosureVersion)?.[1] ?? 0);
  if (page) await countStep(w, { pageId: page.id, pageVersion, at: agreed.at }, 'confirmed', 1);
}

/** Adds to counts that may not be there yet, which a model does in two statements. */
async function countStep(
  w: Writer,
  { pageId, pageVersion, at }: CountedPage,
  step: 'agreed' | 'confirmed',
  by: number,
): Promise<void> {
  await w.run(
    `INSERT INTO page_week (page_id, week, ${step}) VALUES ($1, $2, $3)
     ON CONFLICT (page_id, week) DO UPDATE SET ${step} = page_week.${step} + excluded.${step}`,
    [pageId, weekOf(at), by],
  );
  await w.run(
    `INSERT INTO page_version_count (page_id, page_version, ${step}) VALUES ($1, $2, $3)
     ON CONFLICT (page_id, page_version) DO UPDATE SET ${step} = page_version_count.${step} + excluded.${step}`,
    [pageId, pageVersion, by],
  );
}

/** A visit saw the page, or began to fill it in. */
export async function countVisit(w: Writer, page: CountedPage, step: 'seen' | 'begun'): Promise<void> {
  await w.run(
    `INSERT INTO page_visit (page_id, page_version, week, ${step}) VALUES ($1, $2, $3, 1)
     ON CONFLICT (page_id, page_version, week) DO UPDATE SET ${step} = page_visit.${step} + 1`,
    [page.pageId, page.pageVersion, weekOf(page.at)],
  );
}

/** All visits to these pages, by week and version. */
export async function visitsTo(r: Reader, pageIds: readonly string[]): Promise<PageVisitModel[]> {
  return r.of(pageVisitTable).findAll({ where: { pageId: [...pageIds] } });
}

/** What came of these pages in each week from one on; a week in which nothing did is not there. */
export async function weeksOf(r: Reader, pageIds: readonly string[], from: number): Promise<PageWeekModel[]> {
  return r.of(pageWeekTable).findAll({ where: { pageId: [...pageIds], week: { [Op.gte]: from } } });
}

/** What came of each version of these pages, the last first. */
export async function versionCountsOf(r: Reader, pageIds: readonly string[]): Promise<PageVersionCountModel[]> {
  return r.of(pageVersionCountTable).findAll({ where: { pageId: [...pageIds] }, order: [['pageVersion', 'DESC']] });
}
