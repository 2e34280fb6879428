import { computed, type Signal } from '@angular/core';
import { patchState, signalStoreFeature, withComputed, withMethods, withState } from '@ngrx/signals';

/** Where rows come page by page: how many match in all, and what they are narrowed to. */
export interface Matching {
  /** Null while they are not counted. */
  matching: Signal<number | null>;
  filters: Signal<object>;
}

/**
 * Rows chosen for doing one thing to all of them: one by one, all that are shown, or where they come page by page all
 * that match. Other filters end that: nobody is meant whom the words did not mean.
 */
export function withSelection<Row>(
  { shown, matching, filters }: { shown: Signal<readonly Row[]> } & Partial<Matching>,
  id: (row: Row) => string,
) {
  const narrowed = computed(() => JSON.stringify(filters?.() ?? {}));
  return signalStoreFeature(
    withState({ choosing: false, _picked: [] as readonly string[], _whole: null as string | null }),
    withComputed(({ _picked, _whole }) => {
      const whole = computed(() => _whole() !== null && _whole() === narrowed());
      const ids = computed(() => shown().map(id));
      return {
        /** All that match are chosen, those included that are not here yet. */
        whole,
        /** Of what is shown: nothing is done to a row that a filter hides. */
        picked: computed(() => {
          if (whole()) return ids();
          const picked = new Set(_picked());
          return ids().filter((p) => picked.has(p));
        }),
      };
    }),
    withComputed(({ choosing, picked, whole }) => ({
      /** How many are chosen. */
      chosenCount: computed(() => (whole() ? (matching?.() ?? 0) : picked().length)),
      /** How many could be chosen at once; null where it is no more than are chosen, or not known. */
      choosable: computed(() => {
        const all = matching?.() ?? null;
        const wanted = choosing() || picked().length === shown().length;
        return all !== null && wanted && !whole() && all > picked().length ? all : null;
      }),
    })),
    withMethods((store) => ({
      pick(ids: readonly string[]): void {
        patchState(store, { _picked: ids, _whole: null });
      },
      /** Rows are about to be chosen, or none is any more. */
      setChoosing(choosing: boolean): void {
        patchState(store, { choosing, _picked: [], _whole: null });
      },
      /** All that match, wherever they are. */
      pickWhole(): void {
        patchState(store, { _whole: narrowed() });
      },
    })),
  );
}
