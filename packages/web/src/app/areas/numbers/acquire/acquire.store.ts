import { computed, resource } from '@angular/core';
import {
  getBasket,
  placeOrder,
  putAside,
  searchNumbers,
  takeOut,
  type Basket,
  setProgramme,
  type OfferView,
  type Programme,
} from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { liveResource } from '../../../state/live-resource';

/** What is looked for at the exchange. */
export type Wish = Required<z.input<typeof searchNumbers.query>>;
/** What is asked where nothing else is. */
export const ANY: Wish = { kind: 'local', country: 'US', where: '', digits: '', can: '', count: '20' };
/** `forward`: the line to which calls of what is bought go. */
const KEYS = ['kind', 'country', 'where', 'digits', 'can', 'count'] as const;

/** Numbers at the exchange, as the address asks for them, and what is kept aside. */
export const AcquireStore = signalStore(
  withBusiness(),
  withAddress([...KEYS, 'forward']),
  withComputed(({ filters }) => ({
    wish: computed((): Wish => ({ ...ANY, ...filters() }) as Wish),
    /** Whether enough is said to look for something. */
    asked: computed(() => ['where', 'digits', 'kind'].some((k) => k in filters())),
  })),
  withProps(({ _api, session, wish, asked }) => ({
    found: resource({
      params: () => (asked() && session.businessId() ? { query: wish(), businessId: session.businessId() } : undefined),
      loader: ({ params: { businessId, query } }) => _api.call(searchNumbers, { params: { businessId }, query }),
    }),
    basket: liveResource(
      ['numbers', 'settings'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(getBasket, { params: { businessId } }),
    ),
  })),
  withComputed(({ basket }) => ({
    aside: computed(() => (basket.hasValue() ? (basket.value()?.items ?? []) : []).map((i) => i.e164)),
  })),
  withMethods(({ _api, _at, acting, address, basket, found, set }) => {
    const take = (now: Basket | undefined): void => {
      if (now) basket.set(now);
    };
    return {
      /** Other things to look for: what is as usual is not said. */
      ask(wish: Partial<Wish>): void {
        const said = KEYS.map((k) => [k, wish[k] === ANY[k] ? null : wish[k]] as const);
        set(Object.fromEntries(said.filter(([, v]) => v !== undefined)) as Record<string, string | null>);
      },
      async keep(o: OfferView): Promise<void> {
        const now = await acting.run(
          () =>
            _api.call(putAside, {
              params: _at(),
              body: { e164: o.e164, kind: o.kind, forwardTo: address().forward ?? '' },
            }),
          `${formatPhone(o.e164)} is kept aside for ten minutes.`,
        );
        take(now);
        if (!now) found.reload();
      },
      async drop(e164: string): Promise<void> {
        take(await acting.run(() => _api.call(takeOut, { params: { ..._at(), e164 } })));
      },
      /** What a short code is leased for. @throws ApiProblem */
      async leaseFor(e164: string, body: Programme): Promise<void> {
        take(await _api.call(setProgramme, { params: { ..._at(), e164 }, body }));
      },
      /** Orders what is kept aside. @returns what was made; undefined where it was refused. */
      async order(done: string) {
        const made = await acting.run(() => _api.call(placeOrder, { params: _at(), body: { terms: true } }), done);
        basket.reload();
        return made;
      },
    };
  }),
);
