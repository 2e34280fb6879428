import { computed } from '@angular/core';
import { beginHosted, listHosted } from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods } from '@ngrx/signals';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withItems } from '../../../state/area-features/with-items';

/** Numbers that keep their voice service elsewhere; `e164` in the address is one to begin with. */
export const HostedStore = signalStore(
  withBusiness(),
  withAddress(['e164']),
  withFeature((store) =>
    withItems(store, ['numbers'], (api, businessId) => api.call(listHosted, { params: { businessId } })),
  ),
  withComputed(({ all, open }) => ({
    rowIds: computed(() => all().map((h) => h.id)),
    chosen: computed(() => all().find((h) => h.id === open()) ?? null),
  })),
  withMethods(({ _api, _at, list, choose }) => ({
    async begin(number: string): Promise<true> {
      const made = await _api.call(beginHosted, { params: _at(), body: { number } });
      list.reload();
      choose(made.id);
      return true;
    },
  })),
);
