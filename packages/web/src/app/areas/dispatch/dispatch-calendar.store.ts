import { computed } from '@angular/core';
import { calendarOfDispatches, dispatchCalendarFile } from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { DateTime } from 'luxon';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';
import { zoneOf } from '../../state/zone';

/** What goes out in a month or a week; the day in it stands in the address. */
export const DispatchCalendarStore = signalStore(
  withBusiness(),
  withAddress(['day', 'span']),
  withComputed(({ address, session }) => ({
    zone: computed(() => zoneOf(session.business())),
    span: computed((): 'month' | 'week' => (address().span === 'week' ? 'week' : 'month')),
  })),
  withComputed(({ address, session, zone, span }) => {
    const today = computed(() => DateTime.fromMillis(session.now(), { zone: zone() }).toISODate() ?? '');
    const day = computed(() => {
      const named = DateTime.fromISO(address().day ?? '', { zone: zone() });
      return named.isValid ? named : DateTime.fromISO(today(), { zone: zone() });
    });
    return {
      today,
      day,
      /** The first and the last day that are drawn: whole weeks, from Monday. */
      from: computed(() => (span() === 'week' ? day() : day().startOf('month')).startOf('week')),
      to: computed(() => (span() === 'week' ? day() : day().endOf('month')).endOf('week')),
    };
  }),
  withProps(({ _api, session, from, to }) => ({
    found: liveResource(
      ['dispatch', 'clock'],
      () =>
        session.businessId()
          ? {
              businessId: session.businessId(),
              query: { from: from().toISODate() ?? '', to: to().toISODate() ?? '' },
            }
          : undefined,
      ({ businessId, query }) => _api.call(calendarOfDispatches, { params: { businessId }, query }),
    ),
  })),
  withComputed(({ found, from, to, zone, span, day, today }) => ({
    /** The days that are drawn, each with what goes out on it. */
    days: computed(() => {
      const items = found.hasValue() ? (found.value()?.items ?? []) : [];
      const on = (ms: number): string => DateTime.fromMillis(ms, { zone: zone() }).toISODate() ?? '';
      const count = Math.round(to().diff(from(), 'days').days);
      return Array.from({ length: count }, (_, i) => {
        const at = from().plus({ days: i });
        const iso = at.toISODate() ?? '';
        return {
          iso,
          name: at.toFormat(i === 0 || at.day === 1 ? 'd LLL' : 'd', { locale: 'en-US' }),
          weekday: at.toFormat('ccc', { locale: 'en-US' }),
          outside: span() === 'month' && at.month !== day().month,
          today: iso === today(),
          items: items.filter((x) => on(x.at) === iso),
        };
      });
    }),
  })),
  withMethods((store) => ({
    /** So many spans on or back; 0 for the one of today. */
    go(by: number): void {
      store.set({
        day:
          by === 0
            ? null
            : store
                .day()
                .plus({ [`${store.span()}s`]: by })
                .toISODate(),
      });
    },
    file: () => store._api.address(dispatchCalendarFile, { params: store._at() }),
  })),
);
