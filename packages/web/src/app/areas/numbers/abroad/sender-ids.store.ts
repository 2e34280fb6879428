import { computed } from '@angular/core';
import {
  addSenderId,
  dropSenderId,
  listSenderIds,
  saveSenderId,
  useSenderIdIn,
  type SenderIdView,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods } from '@ngrx/signals';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withItems } from '../../../state/area-features/with-items';

/** Where a sender ID is used, or could be. */
export type SenderUse = SenderIdView['countries'][number];

/** Alphanumeric sender IDs of the business. */
export const SenderIdsStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withItems(store, ['numbers'], (api, businessId) => api.call(listSenderIds, { params: { businessId } })),
  ),
  withComputed(({ all, open }) => ({
    rowIds: computed(() => all().map((s) => s.id)),
    chosen: computed(() => all().find((s) => s.id === open()) ?? null),
  })),
  withMethods(({ _api, _at, acting, list, choose }) => ({
    async add(body: { text: string; signature: string }): Promise<true> {
      const made = await _api.call(addSenderId, { params: _at(), body });
      list.reload();
      choose(made.id);
      return true;
    },
    async save(s: SenderIdView, body: { label: string; signature: string }): Promise<true> {
      await _api.call(saveSenderId, { params: { ..._at(), id: s.id }, version: s.version, body });
      list.reload();
      return true;
    },
    async use(s: SenderIdView, c: SenderUse): Promise<void> {
      await acting.run(
        () => _api.call(useSenderIdIn, { params: { ..._at(), id: s.id, code: c.code } }),
        c.rule === 'free' ? `${s.text} may be used in ${c.name}.` : `${c.name} is asked.`,
      );
      list.reload();
    },
    async drop(s: SenderIdView): Promise<void> {
      await acting.run(() => _api.call(dropSenderId, { params: { ..._at(), id: s.id } }), 'Given up.');
      list.reload();
      choose(null);
    },
  })),
);
