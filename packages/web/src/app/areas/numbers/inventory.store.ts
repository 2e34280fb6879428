import { computed } from '@angular/core';
import {
  bulkNumbers,
  exportNumbers,
  getCarried,
  getDossier,
  INVENTORY_FACETS,
  isSearchedFor,
  listNumbers,
  previewBulkNumbers,
  undoBulkNumbers,
} from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withFacets } from '../../state/area-features/with-facets';
import { withItems } from '../../state/area-features/with-items';
import { withSelection } from '../../state/area-features/with-selection';
import { liveResource } from '../../state/live-resource';

/** Every number of the business, narrowed and chosen. */
export const InventoryStore = signalStore(
  withBusiness(),
  withAddress(['may', 'registration', 'campaign', 'can', 'kind', 'source', 'state', 'ended', 'q', 'order']),
  withFeature((store) =>
    withItems(store, ['numbers', 'registration', 'settings'], (api, businessId) =>
      api.call(listNumbers, { params: { businessId } }),
    ),
  ),
  withFeature((store) => withFacets(store, INVENTORY_FACETS, isSearchedFor)),
  withFeature((store) => withSelection(store, (n) => n.id)),
  withProps(({ _api, session }) => ({
    _dossier: liveResource(
      ['registration'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(getDossier, { params: { businessId } }),
    ),
    _carried: liveResource(
      ['watch', 'dispatch'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(getCarried, { params: { businessId }, query: { days: 30 } }),
    ),
  })),
  withComputed(({ all, shown, open, address, _dossier, _carried }) => ({
    rowIds: computed(() => shown().map((n) => n.id)),
    /** What each number sent on each of the last thirty days, by its id. */
    sent: computed(
      () => new Map((_carried.hasValue() ? (_carried.value()?.items ?? []) : []).map((c) => [c.numberId, c.sent])),
    ),
    chosen: computed(() => all().find((n) => n.id === open()) ?? null),
    campaigns: computed(() =>
      (_dossier.hasValue() ? (_dossier.value()?.campaigns ?? []) : []).filter((c) => c.state === 'registered'),
    ),
    ofOrder: computed(() => (address().order ? all().filter((n) => n.orderId === address().order) : null)),
  })),
  withMethods((store) => ({
    /** The address of the file of what is shown. */
    file: () => store._api.address(exportNumbers, { params: store._at(), query: store.filters() }),
    /** One label, or one campaign, for the chosen numbers; the first refusal is said. */
    async bulk(part: { label?: string; campaignId?: string }): Promise<void> {
      const done = await store.acting.run(() =>
        store._api.call(bulkNumbers, { params: store._at(), body: { ids: [...store.picked()], ...part } }),
      );
      if (!done) return;
      store.pick([]);
      store.list.reload();
      const { changed, refused, undo } = done;
      const skipped = refused.map((no) => `${formatPhone(no.e164)} skipped: ${no.why}`);
      const words = [`${changed} ${changed === 1 ? 'number' : 'numbers'} changed.`, ...skipped].join(' ');
      if (changed === 0) store.acting.refused(words);
      else if (undo.length === 0) store.acting.done(words);
      else
        store.acting.done(words, async () => {
          await store.acting.run(() =>
            store._api.call(undoBulkNumbers, { params: store._at(), body: { before: undo } }),
          );
          store.list.reload();
        });
    },
    /** What a change of the chosen numbers would change, skip and interrupt; undefined where that cannot be said now. */
    bulkPreview: (part: { campaignId: string }) =>
      store.acting.run(() =>
        store._api.call(previewBulkNumbers, { params: store._at(), body: { ids: [...store.picked()], ...part } }),
      ),
  })),
);
