import { computed } from '@angular/core';
import { auditFacets, exportAudit, listAudit, type AuditEntry, type AuditFilter } from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { liveResource } from '../../state/live-resource';

const TOPICS = ['numbers', 'registration', 'contacts', 'consent', 'dispatch', 'inbox', 'settings'];

/** Everything anybody changed, newest first, as the address narrows it. */
export const AuditStore = signalStore(
  withBusiness(),
  withAddress(['objectKind', 'objectId', 'whole', 'actor', 'action', 'from', 'to']),
  withFeature((store) =>
    withPages<AuditEntry, AuditFilter>(store, {
      topics: TOPICS,
      id: (e) => e.id,
      size: 60,
      load: (api, filters, { businessId, ...query }) =>
        api.call(listAudit, { params: { businessId }, query: { ...filters, ...query } }),
    }),
  ),
  withProps(({ _api, session }) => ({
    _facets: liveResource(
      ['settings'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(auditFacets, { params: { businessId } }),
    ),
  })),
  withComputed(({ _facets }) => ({
    people: computed(() => (_facets.hasValue() ? (_facets.value()?.actors ?? []) : [])),
    kinds: computed(() => (_facets.hasValue() ? (_facets.value()?.kinds ?? []) : [])),
  })),
  withMethods((store) => ({
    /** The address of the file of what is shown. */
    file: () => store._api.address(exportAudit, { params: store._at(), query: store.filters() }),
  })),
);
