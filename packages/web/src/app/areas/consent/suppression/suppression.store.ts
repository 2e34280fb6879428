import { computed, linkedSignal, signal } from '@angular/core';
import {
  addSuppression,
  discardSuppression,
  dropSuppression,
  exportSuppressed,
  finishSuppression,
  listSuppressed,
  listSuppression,
  renewSuppression,
  SUPPRESSION_PART,
  takeSuppression,
  type SuppressionList,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { handIn } from '../../../parts/hand-in';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withItems } from '../../../state/area-features/with-items';
import { liveResource } from '../../../state/live-resource';

/** So many people of a list are shown, so many more at a time, and at most so many; all of them are in the file. */
const SHOWN = { first: 50, more: 150, most: 500 };

/** How far a file is handed in. */
export interface HandedIn {
  lines: number;
  refused: number;
  /** Of the file’s bytes, about, from 0 to 1. */
  share: number;
}

/** Lists of numbers not to be texted; `open` in the address is the one that is read, or brought in anew. */
export const SuppressionStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withItems(store, ['consent'], (api, businessId) => api.call(listSuppression, { params: { businessId } })),
  ),
  withComputed(({ all, open }) => ({
    rowIds: computed(() => all().map((l) => l.id)),
    chosen: computed(() => all().find((l) => l.id === open()) ?? null),
  })),
  withProps(({ open }) => ({
    /** How many people of the list that is read are shown. */
    _limit: linkedSignal({ source: open, computation: () => SHOWN.first }),
  })),
  withProps(({ _api, session, chosen, _limit }) => ({
    /** Where a file is being handed in: how far. */
    handing: signal<HandedIn | null>(null),
    _people: liveResource(
      ['consent', 'contacts'],
      () => {
        const list = chosen();
        return list?.state === 'stands'
          ? { params: { businessId: session.businessId(), id: list.id }, limit: _limit() }
          : undefined;
      },
      ({ params, limit }) => _api.call(listSuppressed, { params, query: { limit } }),
    ),
  })),
  withComputed(({ _people, _limit }) => ({
    people: computed(() => (_people.hasValue() ? (_people.value() ?? null) : null)),
    /** Whether more of them can be shown. */
    morePeople: computed(() => _people.hasValue() && _people.value()?.next !== null && _limit() < SHOWN.most),
  })),
  withMethods(({ _api, _at, _limit, handing, list, acting }) => {
    const bring = async (begun: SuppressionList, file: File): Promise<SuppressionList> => {
      handing.set({ lines: 0, refused: 0, share: 0 });
      const params = { ..._at(), id: begun.id };
      const edition = begun.reading?.edition ?? 0;
      try {
        const parts = await handIn(
          file,
          SUPPRESSION_PART,
          (part, lines) => _api.call(takeSuppression, { params, body: { edition, part, lines } }),
          ({ lines, refused }, share) => handing.set({ lines, refused, share }),
        );
        return await _api.call(finishSuppression, { params, body: { edition, parts } });
      } finally {
        handing.set(null);
        list.reload();
      }
    };
    return {
      /** Makes a list of a file. @throws ApiProblem */
      add: async (wish: z.input<typeof addSuppression.body>, file: File) =>
        bring(await _api.call(addSuppression, { params: _at(), body: wish }), file),
      /** Brings in a newer file of a list. @throws ApiProblem */
      renew: async (of: SuppressionList, wish: z.input<typeof renewSuppression.body>, file: File) =>
        bring(
          await _api.call(renewSuppression, { params: { ..._at(), id: of.id }, version: of.version, body: wish }),
          file,
        ),
      discard: (id: string) =>
        acting.did(
          () => _api.call(discardSuppression, { params: { ..._at(), id } }),
          'What was read of it keeps nothing off any more.',
        ),
      drop: (of: SuppressionList) =>
        acting.did(
          () => _api.call(dropSuppression, { params: { ..._at(), id: of.id }, version: of.version }),
          'The list is taken away.',
        ),
      showMore: () => {
        _limit.update((n) => Math.min(SHOWN.most, n + SHOWN.more));
      },
      peopleFile: (id: string) => _api.address(exportSuppressed, { params: { ..._at(), id } }),
    };
  }),
);
