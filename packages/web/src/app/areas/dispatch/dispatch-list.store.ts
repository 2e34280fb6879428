import { listDispatches, type DispatchSort, type DispatchView } from '@long-gate/contracts';
import { signalStore, withFeature } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';

/** Dispatches, the newest first or as sorted. */
export const DispatchListStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withPages<DispatchView, object>(store, {
      topics: ['dispatch'],
      id: (d) => d.id,
      size: 50,
      load: (api, _, { businessId, ...query }) =>
        api.call(listDispatches, { params: { businessId }, query: query as typeof query & { sort?: DispatchSort } }),
    }),
  ),
);
