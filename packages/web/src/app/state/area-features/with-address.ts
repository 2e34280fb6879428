import { computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { signalStoreFeature, withComputed, withMethods, withProps } from '@ngrx/signals';

/** What stands in the address bar, by its keys; a key that is not there is undefined. */
export type Address<K extends string> = Readonly<Partial<Record<K, string>>>;

const equal = (a: object, b: object): boolean => JSON.stringify(a) === JSON.stringify(b);

/** What a list is sorted by. */
export interface Order {
  by: string;
  down: boolean;
}

/**
 * Filters, search, order and open docket of a page, kept in the address bar: whoever gets the link sees the same, and Back goes
 * back. `open` is the object in the docket and `sort` the order, with a minus before it the other way round: no filters.
 * @param between what stands between several values of one key.
 */
export function withAddress<K extends string>(keys: readonly K[], between = '~') {
  return signalStoreFeature(
    withProps(() => {
      const route = inject(ActivatedRoute);
      const query = toSignal(route.queryParamMap, { initialValue: route.snapshot.queryParamMap });
      return {
        _router: inject(Router),
        _route: route,
        address: computed(
          (): Address<K | 'open' | 'sort'> => {
            const out: Partial<Record<K | 'open' | 'sort', string>> = {};
            for (const key of [...keys, 'open' as const, 'sort' as const]) {
              const value = query().get(key);
              if (value) out[key] = value;
            }
            return out;
          },
          { equal },
        ),
      };
    }),
    withComputed(({ address }) => ({
      filters: computed(
        (): Address<K> => {
          const { open: _, sort: __, ...rest } = address();
          return rest as unknown as Address<K>;
        },
        { equal },
      ),
      open: computed(() => address().open ?? null),
      /** Null where the list is in the order it comes in. */
      order: computed(
        (): Order | null => {
          const { sort } = address();
          return sort ? { by: sort.replace('-', ''), down: sort.startsWith('-') } : null;
        },
        { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
      ),
    })),
    withComputed(({ filters }) => ({
      filtered: computed(() => Object.keys(filters()).length > 0),
      /** The filters as a query, for a saved view and an export. */
      query: computed(() => new URLSearchParams(filters() as Record<string, string>).toString()),
    })),
    withMethods(({ address, filters, open, _router, _route }) => {
      /** Steps of one doing, such as typing or walking down a list, are one step back. */
      const go = (queryParams: Record<string, string | null>, replaceUrl: boolean): void =>
        void _router.navigate([], { relativeTo: _route, queryParams, queryParamsHandling: 'merge', replaceUrl });
      return {
        set(patch: Partial<Record<K | 'open', string | null>>): void {
          go(patch as Record<string, string | null>, Object.keys(patch).join() === 'q');
        },
        /** @param order null for the order it comes in. */
        sort(order: Order | null): void {
          go({ sort: order && `${order.down ? '-' : ''}${order.by}` }, false);
        },
        search(text: string): void {
          go({ q: text || null }, true);
        },
        choose(id: string | null): void {
          go({ open: id }, id !== null && open() !== null);
        },
        valuesOf: (key: K): string[] => (address()[key] ?? '').split(between).filter((v) => v !== ''),
        toggle(key: K, value: string): void {
          const now = (address()[key] ?? '').split(between).filter((v) => v !== '');
          const next = now.includes(value) ? now.filter((v) => v !== value) : [...now, value];
          go({ [key]: next.join(between) || null }, false);
        },
        /** Other filters in place of these, as a saved view has them; none where the query is empty. */
        apply(query: string): void {
          const p = new URLSearchParams(query);
          go(Object.fromEntries(keys.map((k) => [k, p.get(k)])), false);
        },
        clear(): void {
          go(Object.fromEntries(Object.keys(filters()).map((k) => [k, null])), false);
        },
      };
    }),
  );
}
