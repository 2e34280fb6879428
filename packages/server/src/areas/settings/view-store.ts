import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { savedViewTable, type SavedViewModel } from './model.js';

export async function viewsOf(r: Reader, businessId: string, area: string): Promise<SavedViewModel[]> {
  return r.of(savedViewTable).findAll({ where: { businessId, area }, order: ['createdAt', 'id'] });
}

export async function viewById(r: Reader, businessId: string, id: string): Promise<SavedViewModel | null> {
  return r.of(savedViewTable).findOne({ where: { id, businessId } });
}

export async function hasView(r: Reader, businessId: string, area: string, name: string): Promise<boolean> {
  return (await r.of(savedViewTable).count({ where: { businessId, area, name } })) > 0;
}

export async function addView(w: Writer, view: CreationAttributes<SavedViewModel>): Promise<void> {
  await w.of(savedViewTable).create(view);
}
