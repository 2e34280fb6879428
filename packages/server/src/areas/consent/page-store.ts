import { literal, Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { optinPageTable, type OptinPageModel } from './model.js';

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

/** So many agreed on it; counted as they do, since the ledger is never walked for a number. */
export async function countOptIns(w: Writer, id: string, by: number): Promise<void> {
  await w.of(optinPageTable).increment({ optIns: by }, { where: { id } });
}
