import { bringOptOuts, listOptOuts, readOptOuts, type OptOutList } from '@long-gate/contracts';
import { signalStore, withFeature, withMethods } from '@ngrx/signals';
import type * as z from 'zod';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withOpened } from '../../../state/area-features/with-opened';
import { withPages } from '../../../state/area-features/with-pages';

/** Lists of people who had opted out before; `open` in the address is the one that is read. */
export const OptOutsStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withPages<OptOutList, object>(store, {
      topics: ['consent', 'jobs'],
      id: (x) => x.id,
      load: (api, _filters, { businessId, ...query }) => api.call(listOptOuts, { params: { businessId }, query }),
    }),
  ),
  withFeature((store) =>
    withOpened(store, {
      topics: ['consent', 'jobs'],
      id: (x) => x.id,
      load: (api, params, query) => api.call(listOptOuts, { params, query }),
    }),
  ),
  withMethods(({ _api, _at }) => ({
    /** @throws ApiProblem */
    bring: (body: z.input<typeof bringOptOuts.body>) => _api.call(bringOptOuts, { params: _at(), body }),
    document: (id: string) => _api.address(readOptOuts, { params: { ..._at(), id } }),
  })),
);
