import { computed } from '@angular/core';
import { listDossiers, startDossiers } from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
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
  withMethods(({ _api, session, asked }) => ({
    /** @param sure false: it is only said what would become of each line. @throws ApiProblem where it is no list. */
    async start(csv: string, sure: boolean) {
      const { items } = await _api.call(startDossiers, { body: { csv, sure } });
      if (sure) {
        await session.load();
        asked.reload();
      }
      return items;
    },
  })),
);
