import { resource } from '@angular/core';
import { testForRoute } from '@long-gate/contracts';
import { signalStore, withProps } from '@ngrx/signals';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';

/** What one number is, as the address names it, and what is wanted of it. */
export const RouteStore = signalStore(
  withBusiness(),
  withAddress(['number', 'stays', 'known', 'within']),
  withProps(({ _api, session, address }) => ({
    found: resource({
      params: () => {
        const number = address().number;
        return number && session.businessId() ? { number, businessId: session.businessId() } : undefined;
      },
      loader: ({ params: { businessId, number } }) =>
        _api.call(testForRoute, { params: { businessId }, query: { number } }),
    }),
  })),
);
