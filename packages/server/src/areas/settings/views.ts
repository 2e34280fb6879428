import { record, type Actor } from '../../platform/audit.js';
import { newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, refused } from '../../platform/problem.js';
import { addView, hasView, viewById, viewsOf } from './view-store.js';

export interface SavedView {
  id: string;
  name: string;
  /** The query part of the list's address. */
  query: string;
  by: string;
}

/** Filters of a list kept under a name, for everybody of the business. */
export class SavedViews {
  constructor(private readonly p: Platform) {}

  async list(businessId: string, area: string): Promise<SavedView[]> {
    const rows = await viewsOf(this.p.db, businessId, area);
    return rows.map(({ id, name, query, createdBy }) => ({ id, name, query, by: createdBy }));
  }

  async save(actor: Actor, businessId: string, area: string, name: string, query: string): Promise<SavedView> {
    const view = { id: newId('vue'), name, query, by: actor.name };
    await this.p.db.write(async (w) => {
      if (await hasView(w, businessId, area, name))
        throw refused(`There is a view “${name}” already.`, [{ field: 'name', message: 'Choose another name.' }]);
      await addView(w, {
        id: view.id,
        businessId,
        area,
        name,
        query,
        createdBy: actor.name,
        createdAt: Math.round(this.p.clock.now()),
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'view saved',
        objectKind: 'view',
        objectId: view.id,
        after: { area, name },
      });
    });
    return view;
  }

  async drop(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const view = await viewById(w, businessId, id);
      if (!view) throw notFound('view');
      await view.destroy();
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'view dropped',
        objectKind: 'view',
        objectId: id,
        before: { name: view.name },
      });
    });
  }
}
