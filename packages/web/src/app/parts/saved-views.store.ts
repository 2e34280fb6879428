import { computed, resource, signal } from '@angular/core';
import { dropView, listViews, saveView } from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { withBusiness } from '../state/area-features/with-business';

/** Filters of one area's list, kept under names for everybody of the business. */
export const SavedViewsStore = signalStore(
  withBusiness(),
  withProps(() => ({ _area: signal('') })),
  withProps(({ _api, _area, session }) => ({
    _views: resource({
      params: () => (session.businessId() && _area() ? { businessId: session.businessId(), area: _area() } : undefined),
      loader: ({ params }) => _api.call(listViews, { params }),
    }),
  })),
  withComputed(({ _views }) => ({ views: computed(() => (_views.hasValue() ? _views.value().items : [])) })),
  withMethods(({ _api, _at, _area, _views, views, acting }) => {
    const save = async (area: string, body: { name: string; query: string }): Promise<true> => {
      await _api.call(saveView, { params: { ..._at(), area }, body });
      _views.reload();
      return true;
    };
    return {
      of(area: string): void {
        _area.set(area);
      },
      /** @throws ApiProblem */
      save: (body: { name: string; query: string }): Promise<true> => save(_area(), body),
      async drop(id: string): Promise<void> {
        const [area, view] = [_area(), views().find((v) => v.id === id)];
        const dropped = await acting.did(() => _api.call(dropView, { params: { ..._at(), area, id } }));
        _views.reload();
        if (dropped && view)
          acting.done(`The view “${view.name}” is gone, for everybody.`, () =>
            save(area, { name: view.name, query: view.query }),
          );
      },
    };
  }),
);
