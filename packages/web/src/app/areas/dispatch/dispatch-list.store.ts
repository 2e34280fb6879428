import { computed } from '@angular/core';
import {
  countDispatches,
  DISPATCH_SHOWS,
  listDispatches,
  type DispatchShow,
  type DispatchSort,
  type DispatchView,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { liveResource } from '../../state/live-resource';

/** What the list can be narrowed by. */
interface Filters {
  show?: DispatchShow;
  category?: string;
  effort?: string;
}

/** Dispatches, the newest first or as sorted; those archived only where they are asked for. */
export const DispatchListStore = signalStore(
  withBusiness(),
  withAddress(['show', 'category', 'effort']),
  withFeature((store) =>
    withPages<DispatchView, object>(store, {
      topics: ['dispatch'],
      id: (d) => d.id,
      size: 50,
      load: (api, filters, { businessId, ...query }) =>
        api.call(listDispatches, {
          params: { businessId },
          query: { ...(filters as Filters), ...query } as typeof query & Filters & { sort?: DispatchSort },
        }),
    }),
  ),
  withProps(({ _api, session }) => ({
    _counts: liveResource(
      ['dispatch'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(countDispatches, { params: { businessId } }),
    ),
  })),
  withComputed(({ _counts, address }) => {
    const counts = computed(() => (_counts.hasValue() ? _counts.value() : undefined));
    const grouped = (of: 'categories' | 'efforts', key: 'category' | 'effort') =>
      computed(() => (counts()?.[of] ?? []).map((c) => ({ ...c, on: address()[key] === c.value })));
    return {
      shows: computed(() =>
        DISPATCH_SHOWS.map((value) => ({ value, n: counts()?.shows[value] ?? 0, on: address().show === value })),
      ),
      categories: grouped('categories', 'category'),
      efforts: grouped('efforts', 'effort'),
    };
  }),
);
