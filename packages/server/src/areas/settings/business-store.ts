import { literal, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import type { BusinessRow } from './businesses.js';
import { businessTable, type BusinessModel } from './model.js';

/** A business as its row. By hand, since it is read with every text that leaves. */
export async function businessById(r: Reader, id: string): Promise<BusinessRow | undefined> {
  return r.one<BusinessRow>('SELECT * FROM business WHERE id = $1', [id]);
}

/** All businesses, the oldest first. */
/** Legal names of businesses by their ids. */
export async function namesOfBusinesses(r: Reader, ids: readonly string[]): Promise<Map<string, string>> {
  const rows = await r
    .of(businessTable)
    .findAll({ where: { id: [...ids] }, attributes: ['id', 'legalName'], raw: true });
  return new Map(rows.map((b) => [b.id, b.legalName]));
}

export async function businessIds(r: Reader): Promise<string[]> {
  const rows = await r.of(businessTable).findAll({ attributes: ['id'], order: ['createdAt', 'id'], raw: true });
  return rows.map((b) => b.id);
}

/** The businesses somebody has a part in, the oldest first. */
export async function businessesOf(r: Reader, userId: string): Promise<BusinessRow[]> {
  return r.all<BusinessRow>(
    'SELECT b.* FROM business b JOIN membership m ON m.business_id = b.id WHERE m.user_id = $1 ORDER BY b.created_at, b.id',
    [userId],
  );
}

export async function addBusiness(w: Writer, business: CreationAttributes<BusinessModel>): Promise<void> {
  await w.of(businessTable).create(business);
}

/** Changes some of a business's columns; whoever saw the one before is told that it has changed. */
export async function saveBusiness(
  w: Writer,
  id: string,
  change: Partial<Omit<CreationAttributes<BusinessModel>, 'id' | 'version'>>,
): Promise<void> {
  await w.of(businessTable).update({ ...change, version: literal('version + 1') }, { where: { id } });
}

/** Not a change of the business's own words: whoever edits those is not disturbed. */
export async function keepOpenCountries(w: Writer, id: string, codes: string): Promise<void> {
  await w.of(businessTable).update({ openCountries: codes }, { where: { id } });
}
