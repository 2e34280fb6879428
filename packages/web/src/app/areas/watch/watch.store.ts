import { computed } from '@angular/core';
import { getWatch } from '@long-gate/contracts';
import { signalStore, withComputed, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';

const USUAL_DAYS = 90;

/** Deliveries, failures and opt-outs, of all numbers or of one, over the last days. */
export const WatchStore = signalStore(
  withBusiness(),
  withAddress(['number', 'days']),
  withComputed(({ address }) => ({ span: computed(() => Number(address().days ?? USUAL_DAYS) || USUAL_DAYS) })),
  withProps(({ _api, session, address, span }) => ({
    watch: liveResource(
      ['watch', 'consent', 'numbers'],
      () =>
        session.businessId()
          ? { businessId: session.businessId(), numberId: address().number, days: span() }
          : undefined,
      ({ businessId, ...query }) => _api.call(getWatch, { params: { businessId }, query }),
    ),
  })),
  withComputed(({ watch, address }) => {
    let last: ReturnType<typeof watch.value> = undefined;
    const shown = computed(() => (last = (watch.hasValue() ? watch.value() : undefined) ?? last));
    return {
      /** The last answer; it stays while a newer one is counted. */
      shown,
      numberName: computed(() => {
        const n = shown()?.numbers.find((x) => x.numberId === address().number);
        return n ? n.label || n.e164 : '';
      }),
    };
  }),
);
