import { computed, signal } from '@angular/core';
import { answerThread, getThread, listThreads, markRead, numberCard, type Thread } from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress, type Address } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { liveResource } from '../../state/live-resource';

/** Conversations; `open` in the address is the number of the one that is read. */
export const InboxStore = signalStore(
  withBusiness(),
  withAddress(['unread']),
  withProps(() => ({ unread: signal(0) })),
  withFeature((store) =>
    withPages<Thread, Address<'unread'>>(store, {
      topics: ['inbox'],
      id: (t) => t.e164,
      load: async (api, filters, { businessId, ...query }) => {
        const page = await api.call(listThreads, {
          params: { businessId },
          query: { ...query, unread: filters.unread === 'yes' ? 'yes' : undefined },
        });
        store.unread.set(page.unread);
        return page;
      },
    }),
  ),
  withProps(({ _api, session, open }) => ({
    thread: liveResource(
      ['inbox', 'consent', 'contacts', 'settings'],
      () => {
        const e164 = open();
        return e164 ? { businessId: session.businessId(), e164 } : undefined;
      },
      (params) => _api.call(getThread, { params }),
    ),
  })),
  withComputed(({ thread }) => ({ shown: computed(() => (thread.hasValue() ? thread.value() : undefined)) })),
  withMethods(({ _api, _at, acting, open, thread }) => ({
    /** Says nothing where it cannot be done: reading is no wish of its own. */
    markRead: (e164: string) =>
      _api.call(markRead, { params: { ..._at(), e164 }, body: { read: true } }).catch(() => undefined),
    markUnread: (e164: string) =>
      acting.did(() => _api.call(markRead, { params: { ..._at(), e164 }, body: { read: false } })),
    async answer(text: string): Promise<boolean> {
      const e164 = open() ?? '';
      const sent = await acting.did(() => _api.call(answerThread, { params: { ..._at(), e164 }, body: { text } }));
      if (sent) thread.reload();
      return sent;
    },
    /** The address of a number's card, by which people keep who we are. */
    cardOf: (id: string) => location.origin + _api.address(numberCard, { params: { id } }),
  })),
);
