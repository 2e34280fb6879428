import { computed, resource } from '@angular/core';
import {
  contactFacets,
  exportContacts,
  listContacts,
  listLists,
  type ContactRow,
  type ContactSort,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withHooks, withMethods, withProps } from '@ngrx/signals';
import { onTopics } from '../../parts/on-topics';
import { withAddress, type Address } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { liveResource } from '../../state/live-resource';

const KEYS = ['q', 'textable', 'list', 'informational', 'promotional', 'faults'] as const;
type Filters = Address<(typeof KEYS)[number]>;
/** As the contract wants them: it refuses what an address holds by mistake. */
const asked = <T extends object>(filters: T) => filters as T & { faults?: 'yes'; sort?: ContactSort };

/** All contacts, filtered on the server. */
export const ContactListStore = signalStore(
  withBusiness(),
  withAddress(KEYS, ','),
  withFeature((store) =>
    withPages<ContactRow, Filters>(store, {
      topics: ['contacts', 'consent'],
      id: (c) => c.id,
      load: (api, filters, { businessId, ...page }) =>
        api.call(listContacts, { params: { businessId }, query: asked({ ...filters, ...page }) }),
    }),
  ),
  withProps(({ _api, session, filters }) => ({
    _counts: resource({
      params: () => (session.businessId() ? { businessId: session.businessId(), query: filters() } : undefined),
      loader: ({ params: { businessId, query } }) =>
        _api.call(contactFacets, { params: { businessId }, query: asked(query) }),
    }),
    _lists: liveResource(
      ['contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listLists, { params: { businessId } }),
    ),
  })),
  withComputed(({ _counts, _lists, total, loading, valuesOf }) => {
    let last: {
      key: 'textable' | 'promotional';
      label: string;
      values: { value: string; n: number; on: boolean }[];
    }[] = [];
    return {
      lists: computed(() => (_lists.hasValue() ? (_lists.value()?.items ?? []) : [])),
      /** With their counts; those of the filters before stay until there are newer ones. */
      facets: computed(() => {
        const counts = _counts.hasValue() ? _counts.value() : undefined;
        if (!counts) return last;
        const group = (key: 'textable' | 'promotional', label: string) => ({
          key,
          label,
          values: Object.entries(counts[key]).map(([value, n]) => ({ value, n, on: valuesOf(key).includes(value) })),
        });
        return (last = [group('textable', 'Textable'), group('promotional', 'Promotional')]);
      }),
      /** Said by the page where it is quickly counted, else by the facets, which may take longer. */
      matching: computed(() => total() ?? (_counts.hasValue() && !loading() ? _counts.value().total : null)),
    };
  }),
  withMethods((store) => ({
    file: () => {
      const { open: _, ...query } = store.address();
      return store._api.address(exportContacts, { params: store._at(), query: asked(query) });
    },
  })),
  withHooks({
    onInit(store) {
      onTopics(['contacts', 'consent'], () => store._counts.reload());
    },
  }),
);
