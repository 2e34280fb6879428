import { computed, signal } from '@angular/core';
import {
  countLedger,
  exportHeads,
  exportLedger,
  exportLedgerEvents,
  ledgerWords,
  listLedger,
  listLists,
  readEventBasis,
  readEventDocument,
  readPageVersion,
  verifyLedgerNow,
  type ConsentEventView,
  type LedgerQuery,
  type LedgerVerdictShape,
} from '@long-gate/contracts';
import { versionInWords } from '@long-gate/core';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { withAddress, type Address } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';
import { withPages } from '../../state/area-features/with-pages';

const KEYS = ['e164', 'q', 'kind', 'how', 'purpose', 'source', 'words', 'list', 'from', 'to'] as const;
type Filters = Address<(typeof KEYS)[number]>;

/** As the contract wants it: it refuses what an address holds by mistake. */
const inOrder = <T extends object>(query: T) => query as T & Pick<z.input<typeof LedgerQuery>, 'sort' | 'purpose'>;

/** The record of consent events, and whether its chain holds. */
export const LedgerStore = signalStore(
  withBusiness(),
  withAddress(KEYS),
  withFeature((store) =>
    withPages<ConsentEventView, Filters>(store, {
      topics: ['consent'],
      id: (e) => e.id,
      load: async (api, filters, { businessId, ...page }) => ({
        ...(await api.call(listLedger, { params: { businessId }, query: inOrder({ ...filters, ...page }) })),
        // Counted apart, so that no page waits for it.
        total: null,
      }),
    }),
  ),
  withProps(({ _api, session, filters }) => ({
    _count: liveResource(
      ['consent'],
      () => (session.businessId() ? { params: { businessId: session.businessId() }, query: filters() } : undefined),
      ({ params, query }) => _api.call(countLedger, { params, query: inOrder(query) }),
    ),
    verdict: signal<z.output<typeof LedgerVerdictShape> | null>(null),
    _words: liveResource(
      ['consent'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(ledgerWords, { params: { businessId } }),
    ),
    _lists: liveResource(
      ['contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listLists, { params: { businessId } }),
    ),
  })),
  withComputed(({ _count, _words, _lists, address }) => {
    /** What an address names stays among the choices, though it is gone. */
    const withChosen = (all: { value: string; label: string }[], chosen: string | undefined) =>
      !chosen || all.some((x) => x.value === chosen) ? all : [...all, { value: chosen, label: chosen }];
    const sourceNames = computed(
      () => new Map((_words.hasValue() ? (_words.value()?.sources ?? []) : []).map((x) => [x.source, x.name])),
    );
    return {
      /** How many events there are; null while that is not known. */
      count: computed(() => (_count.hasValue() ? (_count.value() ?? null) : null)),
      counting: computed(() => _count.isLoading()),
      /** Words that people were shown, by their version. */
      words: computed(() => {
        const items = _words.hasValue() ? (_words.value()?.items ?? []) : [];
        return withChosen(
          items.map((value) => ({ value, label: versionInWords(value, sourceNames()) })),
          address().words,
        );
      }),
      /** What sources of words are called. */
      sourceNames,
      /** Whose words they are. */
      sources: computed(() => {
        return withChosen(
          [...sourceNames()].map(([value, label]) => ({ value, label })),
          address().source,
        );
      }),
      lists: computed(() => {
        const items = _lists.hasValue() ? (_lists.value()?.items ?? []) : [];
        return withChosen(
          items.map((l) => ({ value: l.id, label: l.kind === 'tag' ? `tag: ${l.name}` : l.name })),
          address().list,
        );
      }),
    };
  }),
  withProps(({ _api, session, open }) => ({
    _basis: liveResource(
      ['consent'],
      () => {
        const id = open();
        return id && session.businessId() ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(readEventBasis, { params }),
    ),
  })),
  withComputed(({ _basis }) => ({
    /** Why the event that the address names cannot be shown; empty where it can, or is read. */
    lost: computed(() => _basis.error()?.message ?? ''),
    /** What the open event rests on; null until that is known. */
    basis: computed(() => (_basis.hasValue() ? (_basis.value() ?? null) : null)),
  })),
  withComputed(({ rows, open, basis }) => ({
    /** The open event: of those that are shown, or whichever the address names. */
    chosen: computed(() => {
      const found = basis()?.event;
      return rows().find((e) => e.id === open()) ?? (found?.id === open() ? found : null) ?? null;
    }),
  })),
  withMethods((store) => ({
    async verify(): Promise<void> {
      const found = await store.acting.run(() => store._api.call(verifyLedgerNow, { params: store._at() }));
      if (found) store.verdict.set(found);
    },
    /** A page as somebody saw it, by its digest. */
    page: (sha256: string) => store._api.address(readPageVersion, { params: { ...store._at(), sha256 } }),
    /** The document an event names. */
    document: (id: string) => store._api.address(readEventDocument, { params: { ...store._at(), id } }),
    file: () => store._api.address(exportLedger, { params: store._at() }),
    /** What is shown, as a file for a spreadsheet. */
    events: () => store._api.address(exportLedgerEvents, { params: store._at(), query: inOrder(store.filters()) }),
    heads: () => store._api.address(exportHeads, { params: store._at() }),
  })),
);
