import { computed, type Signal } from '@angular/core';
import { signalStoreFeature, withComputed } from '@ngrx/signals';
import type { FacetValue } from '../../parts/facet';
import type { AllRows } from './with-items';

export interface FacetOf<Row> {
  label: string;
  /** Its value in the facet, several of them, or none where it has none. */
  of: (row: Row) => string | readonly string[];
}
/** What stands in the address. */
export interface Filtered {
  filters: Signal<Readonly<Partial<Record<string, string>>>>;
}
export interface DrawnFacet<K extends string> {
  key: K;
  label: string;
  chosen: readonly string[];
  values: FacetValue[];
}

/**
 * Narrows rows that are all here: several values of one facet are alternatives, facets narrow one another, and each
 * facet's own counts are over what the others leave.
 * @param keep what else must hold of a row, such as the words searched for, by what stands in the address.
 */
export function withFacets<Row, K extends string>(
  { all, filters, valuesOf }: AllRows<Row> & Filtered & { valuesOf: (key: K) => string[] },
  reads: Readonly<Record<K, FacetOf<Row>>>,
  keep: (row: Row, address: Readonly<Partial<Record<string, string>>>) => boolean = () => true,
) {
  const keys = Object.keys(reads) as K[];
  return signalStoreFeature(
    withComputed(() => {
      const matching = (but?: K): readonly Row[] => {
        const [address, rows] = [filters(), all()];
        const chosen = keys.filter((k) => k !== but).map((k) => ({ of: reads[k].of, values: valuesOf(k) }));
        return rows.filter(
          (row) =>
            keep(row, address) &&
            chosen.every((c) => c.values.length === 0 || [c.of(row)].flat().some((v) => c.values.includes(v))),
        );
      };
      return {
        shown: computed(() => matching()),
        facets: computed((): DrawnFacet<K>[] =>
          keys.map((key) => {
            const counts = new Map<string, number>();
            for (const value of matching(key).flatMap((row) => reads[key].of(row)))
              counts.set(value, (counts.get(value) ?? 0) + 1);
            const chosen = valuesOf(key);
            for (const v of chosen) if (!counts.has(v)) counts.set(v, 0);
            return {
              key,
              label: reads[key].label,
              chosen,
              values: [...counts].map(([value, n]) => ({ value, n, on: chosen.includes(value) })),
            };
          }),
        ),
      };
    }),
  );
}

/**
 * Narrows rows that are all here by one choice of several, which may overlap; `any` is the first of them.
 * @param tests what each choice shows. It stands in the address under `show`.
 */
export function withShown<Row>(
  { all, filters }: AllRows<Row> & Filtered,
  tests: Readonly<Record<string, (row: Row) => boolean>>,
) {
  return signalStoreFeature(
    withComputed(() => ({
      shown: computed(() => all().filter(tests[filters()['show'] ?? ''] ?? ((): boolean => true))),
      shows: computed((): FacetValue[] =>
        Object.entries({ any: () => true, ...tests }).map(([value, test]) => ({
          value,
          n: all().filter(test).length,
          on: (filters()['show'] ?? 'any') === value,
        })),
      ),
    })),
  );
}
