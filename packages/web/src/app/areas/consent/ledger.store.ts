import { computed, signal } from '@angular/core';
import {
  exportHeads,
  exportLedger,
  listLedger,
  readPageVersion,
  verifyLedgerNow,
  type ConsentEventView,
  type LedgerVerdictShape,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { withAddress, type Address } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';

const KEYS = ['e164', 'kind', 'how'] as const;
type Filters = Address<(typeof KEYS)[number]>;

/** As the contract wants it: it refuses what an address holds by mistake. */
const inOrder = <T extends object>(query: T) => query as T & { sort?: 'happened' | '-happened' };

/** The record of consent events, and whether its chain holds. */
export const LedgerStore = signalStore(
  withBusiness(),
  withAddress(KEYS),
  withFeature((store) =>
    withPages<ConsentEventView, Filters>(store, {
      topics: ['consent'],
      id: (e) => e.id,
      load: (api, filters, { businessId, ...page }) =>
        api.call(listLedger, { params: { businessId }, query: inOrder({ ...filters, ...page }) }),
    }),
  ),
  withProps(() => ({ verdict: signal<z.output<typeof LedgerVerdictShape> | null>(null) })),
  withComputed(({ rows, open }) => ({ chosen: computed(() => rows().find((e) => e.id === open()) ?? null) })),
  withMethods((store) => ({
    async verify(): Promise<void> {
      const found = await store.acting.run(() => store._api.call(verifyLedgerNow, { params: store._at() }));
      if (found) store.verdict.set(found);
    },
    /** A page as somebody saw it, by its digest. */
    page: (sha256: string) => store._api.address(readPageVersion, { params: { ...store._at(), sha256 } }),
    file: () => store._api.address(exportLedger, { params: store._at() }),
    heads: () => store._api.address(exportHeads, { params: store._at() }),
  })),
);
