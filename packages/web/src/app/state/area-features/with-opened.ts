import { computed, type Signal } from '@angular/core';
import { signalStoreFeature, withComputed, withProps } from '@ngrx/signals';
import type { Api } from '../../api/api';
import { liveResource } from '../live-resource';
import type { OfBusiness } from './with-business';

/**
 * The row whose docket is open: of those that are shown, or, where the address names one that is not among them, whichever
 * it is. A link leads to it, however far down the list it stands and whatever the filters leave.
 */
export function withOpened<Row>(
  { _api, session, rows, open }: OfBusiness & { rows: Signal<readonly Row[]>; open: Signal<string | null> },
  o: {
    topics: readonly string[];
    id: (row: Row) => string;
    /** The one of an id alone, or none. */
    load: (api: Api, params: { businessId: string }, query: { id: string; limit: number }) => Promise<{ items: Row[] }>;
  },
) {
  const shown = computed(() => rows().find((x) => o.id(x) === open()) ?? null);
  return signalStoreFeature(
    withProps(() => ({
      _elsewhere: liveResource(
        o.topics,
        () => {
          const [id, businessId] = [open(), session.businessId()];
          return id !== null && businessId && shown() === null ? { id, businessId } : undefined;
        },
        async ({ id, businessId }) => (await o.load(_api, { businessId }, { id, limit: 1 })).items[0] ?? null,
      ),
    })),
    withComputed(({ _elsewhere }) => ({
      chosen: computed((): Row | null => {
        const found = _elsewhere.hasValue() ? (_elsewhere.value() ?? null) : null;
        return shown() ?? (found !== null && o.id(found) === open() ? found : null);
      }),
      /** Why what the address names cannot be shown; empty where it can, or is read. */
      lost: computed(() => {
        if (open() === null || shown() !== null || _elsewhere.isLoading()) return '';
        const error = _elsewhere.error();
        if (error) return error.message;
        return _elsewhere.hasValue() && _elsewhere.value() === null
          ? 'It is not here: it was taken away, or is another business’s.'
          : '';
      }),
    })),
  );
}
