import { computed } from '@angular/core';
import { listCovered, readCoverage, type CoverageRow } from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withItems } from '../../state/area-features/with-items';
import { liveResource } from '../../state/live-resource';

/** What stands in the address for all contacts. */
export const ALL = 'all';
export const idOf = (row: CoverageRow): string => row.listId ?? ALL;
/** So many of those behind a count are shown; the rest by going through the list of contacts. */
const SHOWN = 100;

/** How many may be texted for what; `open` is a list, `of` and `why` the count whose people are shown. */
export const CoverageStore = signalStore(
  withBusiness(),
  withAddress(['of', 'why']),
  withFeature((store) =>
    withItems(store, ['contacts', 'consent'], (api, businessId) => api.call(readCoverage, { params: { businessId } })),
  ),
  withProps(({ _api, session, open, address }) => ({
    _people: liveResource(
      ['contacts', 'consent'],
      () => {
        const [list, of, why] = [open(), address().of, address().why];
        return list && (of === 'informational' || of === 'promotional')
          ? { businessId: session.businessId(), list, of, why }
          : undefined;
      },
      ({ businessId, list, of, why }) =>
        _api.call(listCovered, {
          params: { businessId },
          query: {
            purpose: of as 'informational' | 'promotional',
            limit: SHOWN,
            ...(list === ALL ? {} : { listId: list }),
            ...(why ? { reason: why } : {}),
          },
        }),
    ),
  })),
  withComputed(({ all, open, _people }) => ({
    rowIds: computed(() => all().map(idOf)),
    chosen: computed(() => all().find((x) => idOf(x) === open()) ?? null),
    people: computed(() => (_people.hasValue() ? _people.value() : undefined)),
  })),
);
