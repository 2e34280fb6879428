import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { pageVersionTable, type PageVersionModel } from './model.js';

/** Keeps a page as it is; the same again is not kept twice. */
export async function keepPage(w: Writer, page: CreationAttributes<PageVersionModel>): Promise<void> {
  await w.of(pageVersionTable).bulkCreate([page], { ignoreDuplicates: true });
}

/** The versions of an opt-in page, the last first, without what they say. */
export async function versionsOf(r: Reader, businessId: string, pageId: string): Promise<PageVersionModel[]> {
  return r.of(pageVersionTable).findAll({
    where: { businessId, pageId, behindLink: false },
    attributes: { exclude: ['html'] },
    order: [
      ['firstAt', 'DESC'],
      ['sha256', 'ASC'],
    ],
  });
}

export async function pagesByDigest(
  r: Reader,
  businessId: string,
  digests: readonly string[],
): Promise<PageVersionModel[]> {
  return r.of(pageVersionTable).findAll({ where: { businessId, sha256: [...digests] }, order: ['sha256'] });
}

/** Whether a page was ever shown to anybody. */
export async function wasPublished(r: Reader, businessId: string, pageId: string): Promise<boolean> {
  return (
    (await r
      .of(pageVersionTable)
      .findOne({ where: { businessId, pageId, behindLink: false }, attributes: ['pageId'] })) !== null
  );
}
