import { listForms, readForm, type FiledForm } from '@long-gate/contracts';
import { signalStore, withFeature, withMethods } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withOpened } from '../../state/area-features/with-opened';
import { withPages } from '../../state/area-features/with-pages';

/** Forms filed as proof of consent; `open` in the address is the one that is read. */
export const FormsStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withPages<FiledForm, object>(store, {
      topics: ['consent', 'jobs'],
      id: (f) => f.id,
      load: (api, _filters, { businessId, ...query }) => api.call(listForms, { params: { businessId }, query }),
    }),
  ),
  withFeature((store) =>
    withOpened(store, {
      topics: ['consent', 'jobs'],
      id: (x) => x.id,
      load: (api, params, query) => api.call(listForms, { params, query }),
    }),
  ),
  withMethods(({ _api, _at }) => ({
    document: (id: string) => _api.address(readForm, { params: { ..._at(), id } }),
  })),
);
