import { record, type Actor } from '../../platform/audit.js';
import { newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, refused } from '../../platform/problem.js';

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
    return this.p.db.all<SavedView>(
      'SELECT id, name, query, created_by AS by FROM saved_view WHERE business_id = $1 AND area = $2 ORDER BY created_at, id',
      [businessId, area],
    );
  }

  async save(actor: Actor, businessId: string, area: string, name: string, query: string): Promise<SavedView> {
    const view = { id: newId('vue'), name, query, by: actor.name };
    await this.p.db.write(async (w) => {
      if (
        await w.one('SELECT id FROM saved_view WHERE business_id = $1 AND area = $2 AND name = $3', [
          businessId,
          area,
          name,
        ])
      )
        throw refused(`There is a view “${name}” already.`, [{ field: 'name', message: 'Choose another name.' }]);
      await w.run(
        'INSERT INTO saved_view (id, business_id, area, name, query, created_by, created_at) VALUES ($1,$2,$3,$4,$5,$6,$7)',
        [view.id, businessId, area, name, query, actor.name, this.p.clock.now()],
      );
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
      const view = await w.one<SavedView>('SELECT * FROM saved_view WHERE id = $1 AND business_id = $2', [
        id,
        businessId,
      ]);
      if (!view) throw notFound('view');
      await w.run('DELETE FROM saved_view WHERE id = $1', [id]);
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
