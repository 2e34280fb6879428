import { computed } from '@angular/core';
import { closeCountry, listCountries, openCountry, type CountryView } from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods } from '@ngrx/signals';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withShown } from '../../../state/area-features/with-facets';
import { withItems } from '../../../state/area-features/with-items';

const SHOWN: Readonly<Record<string, (c: CountryView) => boolean>> = {
  open: (c) => c.state === 'open',
  'not open': (c) => c.state !== 'open',
  'with contacts': (c) => c.contacts > 0,
};

/** Countries, and whether texts may go there. */
export const CountriesStore = signalStore(
  withBusiness(),
  withAddress(['show']),
  withFeature((store) =>
    withItems(store, ['numbers'], (api, businessId) => api.call(listCountries, { params: { businessId } })),
  ),
  withFeature((store) => withShown(store, SHOWN)),
  withComputed(({ all, shown, open }) => ({
    rowIds: computed(() => shown().map((c) => c.code)),
    chosen: computed(() => all().find((c) => c.code === open()) ?? null),
    /** Contact numbers that live where texts do not go. */
    heldBack: computed(() =>
      all()
        .filter((c) => c.state !== 'open')
        .reduce((n, c) => n + c.contacts, 0),
    ),
  })),
  withMethods(({ _api, _at, acting, list }) => ({
    async openCountry(c: CountryView): Promise<void> {
      await acting.run(
        () => _api.call(openCountry, { params: { ..._at(), code: c.code }, body: { read: true } }),
        c.registration ? `${c.name}: admission is asked for.` : `${c.name} is open.`,
      );
      list.reload();
    },
    async closeCountry(c: CountryView): Promise<void> {
      await acting.run(() => _api.call(closeCountry, { params: { ..._at(), code: c.code } }), `${c.name} is closed.`);
      list.reload();
    },
  })),
);
