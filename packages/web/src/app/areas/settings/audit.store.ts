import { listAudit, type AuditEntry } from '@long-gate/contracts';
import { signalStore, withFeature } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';

/** Everything anybody changed, newest first. */
export const AuditStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withPages<AuditEntry, object>(store, {
      topics: ['numbers', 'registration', 'contacts', 'consent', 'dispatch', 'inbox', 'settings'],
      id: (e) => e.id,
      size: 60,
      load: (api, _, { businessId, ...query }) => api.call(listAudit, { params: { businessId }, query }),
    }),
  ),
);
