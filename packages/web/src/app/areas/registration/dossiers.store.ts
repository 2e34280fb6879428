import { computed } from '@angular/core';
import { listDossiers } from '@long-gate/contracts';
import { signalStore, withComputed, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';

/** All businesses one works for, against the steps of their registration, as the address narrows them. */
export const DossiersStore = signalStore(
  withBusiness(),
  withAddress(['waits']),
  withProps(({ _api, session }) => ({
    asked: liveResource(
      ['registration', 'numbers', 'settings'],
      () => session.businessId() || undefined,
      () => _api.call(listDossiers),
    ),
  })),
  withComputed(({ asked, address }) => {
    const all = computed(() => (asked.hasValue() ? (asked.value()?.items ?? []) : []));
    return {
      all,
      shown: computed(() => {
        const waits = address().waits;
        return waits ? all().filter((d) => d.steps.some((s) => s.waitsOn === waits)) : all();
      }),
    };
  }),
);
