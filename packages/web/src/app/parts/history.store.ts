import { computed, signal } from '@angular/core';
import { listAudit } from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { withBusiness } from '../state/area-features/with-business';
import { liveResource } from '../state/live-resource';

/** What was done to one object, newest first. */
export const HistoryStore = signalStore(
  withBusiness(),
  withProps(() => ({ _of: signal<{ objectKind: string; objectId: string } | null>(null) })),
  withProps(({ _api, _of, session }) => ({
    _entries: liveResource(
      ['numbers', 'registration', 'contacts', 'consent', 'dispatch', 'inbox', 'settings'],
      () => {
        const of = _of();
        return of ? { businessId: session.businessId(), ...of } : undefined;
      },
      ({ businessId, ...query }) =>
        _api.call(listAudit, { params: { businessId }, query: { ...query, whole: 'yes', limit: 40 } }),
    ),
  })),
  withComputed(({ _entries }) => ({
    entries: computed(() => (_entries.hasValue() ? (_entries.value()?.items ?? []) : [])),
    loading: computed(() => _entries.isLoading()),
  })),
  withMethods(({ _of }) => ({
    of(objectKind: string, objectId: string): void {
      _of.set({ objectKind, objectId });
    },
  })),
);
