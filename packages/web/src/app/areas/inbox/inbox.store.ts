import { computed, signal } from '@angular/core';
import {
  answerThread,
  getThread,
  listThreads,
  markRead,
  numberCard,
  setWaiting,
  type Thread,
} from '@long-gate/contracts';
import { STANDINGS, type Standing } from '@long-gate/core';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { liveResource } from '../../state/live-resource';

interface Narrowed {
  standing?: Standing | 'all';
}

/** Conversations; `open` in the address is the number of the one that is read. */
export const InboxStore = signalStore(
  withBusiness(),
  withAddress(['show']),
  withProps(() => ({ counts: signal<Record<Standing, number> | undefined>(undefined) })),
  // What waits is what is looked at, unless something else is asked for.
  withComputed(({ address }) => ({
    standing: computed(() => {
      const { show } = address();
      return show === 'all' ? undefined : (STANDINGS.find((s) => s === show) ?? 'waiting');
    }),
  })),
  withComputed(({ counts, standing }) => ({
    /** What the list is narrowed to: something, but where there is no conversation at all. */
    narrowed: computed((): Narrowed => {
      const known = counts();
      return known && Object.values(known).every((n) => n === 0) ? {} : { standing: standing() ?? 'all' };
    }),
  })),
  withFeature((store) =>
    withPages<Thread, Narrowed>(
      { ...store, filters: store.narrowed },
      {
        topics: ['inbox'],
        id: (t) => t.e164,
        load: async (api, _filters, { businessId, ...query }) => {
          const page = await api.call(listThreads, {
            params: { businessId },
            query: { ...query, standing: store.standing() },
          });
          store.counts.set(page.counts);
          return page;
        },
      },
    ),
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
    setWaiting: (e164: string, waits: boolean) =>
      acting.did(() => _api.call(setWaiting, { params: { ..._at(), e164 }, body: { waits } })),
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
