import { computed, type Signal } from '@angular/core';
import { signalStoreFeature, withComputed, withMethods, withProps } from '@ngrx/signals';
import type { Api } from '../../api/api';
import { liveResource } from '../live-resource';
import type { OfBusiness } from './with-business';

/**
 * A list short enough to be here whole, read again whenever one of its topics changed on the server.
 * @param load the answer of the server; its rows stand under `items`.
 */
export function withItems<Row, Answer extends { items: readonly Row[] }>(
  { _api, session }: OfBusiness,
  topics: readonly string[],
  load: (api: Api, businessId: string) => Promise<Answer & { items: readonly Row[] }>,
) {
  return signalStoreFeature(
    withProps(() => ({
      list: liveResource(
        topics,
        () => session.businessId() || undefined,
        (businessId) => load(_api, businessId),
      ),
    })),
    withComputed(({ list }) => ({
      /** What the server answered, or nothing yet. */
      answer: computed(() => (list.hasValue() ? list.value() : undefined)),
      /** Whether it has been read: nothing is said to be empty before. */
      read: computed(() => list.hasValue()),
      problem: computed(() => list.error() ?? null),
    })),
    withComputed(({ answer }) => ({ all: computed((): readonly Row[] => answer()?.items ?? []) })),
    withComputed(({ all, read }) => ({
      nothing: computed(() => read() && all().length === 0),
      here: computed(() => all().length > 0),
    })),
    withMethods(({ list }) => ({ again: (): void => void list.reload() })),
  );
}

/** What a feature asks of a store whose rows are all here. */
export interface AllRows<Row> {
  all: Signal<readonly Row[]>;
}
