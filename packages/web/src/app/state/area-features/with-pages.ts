import { computed, type Signal } from '@angular/core';
import {
  patchState,
  signalStoreFeature,
  type,
  withComputed,
  withHooks,
  withMethods,
  withProps,
  withState,
} from '@ngrx/signals';
import { addEntities, setAllEntities, withEntities } from '@ngrx/signals/entities';
import { rxMethod } from '@ngrx/signals/rxjs-interop';
import { catchError, EMPTY, exhaustMap, from, pipe, switchMap, takeUntil, tap, Subject } from 'rxjs';
import type { Api, ApiProblem } from '../../api/api';
import { onTopics } from '../../parts/on-topics';
import type { OfBusiness } from './with-business';

export interface Page<Row> {
  items: Row[];
  next: string | null;
  /** Null where counting would have kept the page waiting. */
  total: number | null;
}

/** One question for a page. */
export interface Ask {
  businessId: string;
  /** Where the page before ended. */
  cursor?: string;
  limit: number;
  /** What they are sorted by, where they can be. */
  sort?: string;
}

interface Paging {
  /** It has been answered once: nothing is said to be empty before. */
  _read: boolean;
  _next: string | null;
  total: number | null;
  loading: boolean;
  problem: Error | null;
}

/** Never more than this is read again at once when something changed. */
const AGAIN_AT_MOST = 500;

/**
 * Rows that are filtered by the server and fetched page by page as the reader comes near the end of what is there. Other
 * filters begin anew, and an answer to earlier ones never overwrites a newer one. What one of the topics says has changed
 * is read again, and stays on screen meanwhile.
 */
export function withPages<Row, Filters extends object>(
  {
    _api,
    session,
    filters,
    address,
  }: OfBusiness & {
    filters: Signal<Filters>;
    address?: Signal<Readonly<{ sort?: string }>>;
  },
  o: {
    topics: readonly string[];
    id: (row: Row) => string;
    size?: number;
    load: (api: Api, filters: Filters, ask: Ask) => Promise<Page<Row>>;
  },
) {
  const size = o.size ?? 100;
  const selectId = o.id as (row: NonNullable<Row>) => string;
  return signalStoreFeature(
    withEntities({ entity: type<NonNullable<Row>>() }),
    withState<Paging>({ _read: false, _next: null, total: null, loading: false, problem: null }),
    withComputed(({ entities, loading, _next, _read }) => ({
      nothing: computed(() => _read() && !loading() && entities().length === 0 && Object.keys(filters()).length === 0),
      here: computed(() => entities().length > 0),
      rows: computed((): readonly NonNullable<Row>[] => entities()),
      rowIds: computed(() => entities().map(selectId)),
      /** Everything that matches is here. */
      ended: computed(() => !loading() && _next() === null),
      _wish: computed(
        () => {
          const sort = address?.().sort;
          const businessId = session.businessId();
          return businessId ? { filters: filters(), ask: { businessId, ...(sort ? { sort } : {}) } } : undefined;
        },
        { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
      ),
    })),
    withProps(() => ({ _anew: new Subject<void>() })),
    withMethods((store) => {
      const failed = (problem: unknown): typeof EMPTY => {
        // While the server is away what is shown stays; it is asked again once the live connection is back.
        const away = (problem as ApiProblem).code === 'offline' && store.rows().length > 0;
        patchState(store, { loading: false, problem: away ? null : (problem as Error) });
        return EMPTY;
      };
      const begin = rxMethod<number>(
        pipe(
          switchMap((limit) => {
            store._anew.next();
            const wish = store._wish();
            if (!wish) return EMPTY;
            patchState(store, { loading: true });
            return from(o.load(_api, wish.filters, { ...wish.ask, limit })).pipe(
              tap((page) => {
                patchState(store, setAllEntities(page.items as NonNullable<Row>[], { selectId }), {
                  _read: true,
                  _next: page.next,
                  total: page.total,
                  loading: false,
                  problem: null,
                });
              }),
              catchError(failed),
            );
          }),
        ),
      );
      const more = rxMethod<null>(
        pipe(
          exhaustMap(() => {
            const [wish, cursor] = [store._wish(), store._next()];
            if (!wish || cursor === null || store.loading()) return EMPTY;
            patchState(store, { loading: true });
            return from(o.load(_api, wish.filters, { ...wish.ask, cursor, limit: size })).pipe(
              takeUntil(store._anew),
              tap((page) => {
                patchState(store, addEntities(page.items as NonNullable<Row>[], { selectId }), {
                  _next: page.next,
                  loading: false,
                });
              }),
              catchError(failed),
            );
          }),
        ),
      );
      return {
        _begin: begin,
        /** Fetches the next page, if there is one and none is on its way. */
        more: (): void => void more(null),
        /** Reads again what is shown. */
        again: (): void => void begin(Math.min(AGAIN_AT_MOST, Math.max(size, store.rows().length))),
      };
    }),
    withHooks({
      onInit(store) {
        store._begin(computed(() => (store._wish() === undefined ? 0 : size), { equal: () => false }));
        onTopics(o.topics, () => {
          store.again();
        });
      },
    }),
  );
}
