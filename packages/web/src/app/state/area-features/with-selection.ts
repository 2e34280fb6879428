import { computed, type Signal } from '@angular/core';
import { patchState, signalStoreFeature, withComputed, withMethods, withState } from '@ngrx/signals';

/** Rows chosen for doing one thing to all of them: one by one, or all that are shown. */
export function withSelection<Row>({ shown }: { shown: Signal<readonly Row[]> }, id: (row: Row) => string) {
  return signalStoreFeature(
    withState({ _picked: [] as readonly string[] }),
    withComputed(({ _picked }) => ({
      /** Of what is shown: nothing is done to a row that a filter hides. */
      picked: computed(() => {
        const there = new Set(shown().map(id));
        return _picked().filter((p) => there.has(p));
      }),
    })),
    withMethods((store) => ({
      pick(ids: readonly string[]): void {
        patchState(store, { _picked: ids });
      },
    })),
  );
}
