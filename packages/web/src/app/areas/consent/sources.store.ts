import { computed } from '@angular/core';
import { listSourcePeople, readSources, type CameBy } from '@long-gate/contracts';
import type { ComparedPurpose } from '@long-gate/core';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';

/** Spans that can be chosen, in weeks. */
export const SPANS = [13, 26, 52, 104] as const;
const USUAL = 26;
/** So many of those behind a count are shown. */
const SHOWN = 100;
/** The counts of a way that open to their people, in the order in which they follow one another. */
export const COUNTS = ['asked', 'agreed', 'unconfirmed', 'stayed', 'soon', 'later', 'ended'] as const;
export type Count = (typeof COUNTS)[number];

/** A way in the address: what it came by may hold anything. */
export const idOf = (x: Pick<CameBy, 'way' | 'via'>): string => `${x.way}|${x.via}`;

/** Ways in compared over some weeks; `open` is a way, `of` the count whose people are shown. */
export const SourcesStore = signalStore(
  withBusiness(),
  withAddress(['purpose', 'weeks', 'of']),
  withComputed(({ address }) => ({
    purpose: computed((): ComparedPurpose => (address().purpose === 'informational' ? 'informational' : 'promotional')),
    weeks: computed(() => SPANS.find((x) => String(x) === address().weeks) ?? USUAL),
    of: computed(() => COUNTS.find((x) => x === address().of) ?? null),
  })),
  withProps(({ _api, session, purpose, weeks, open, of }) => ({
    list: liveResource(
      ['consent'],
      () =>
        session.businessId() ? { businessId: session.businessId(), purpose: purpose(), weeks: weeks() } : undefined,
      ({ businessId, ...query }) => _api.call(readSources, { params: { businessId }, query }),
    ),
    _people: liveResource(
      ['consent', 'contacts'],
      () => {
        const [row, count] = [open(), of()];
        return row && count
          ? { businessId: session.businessId(), row, of: count, purpose: purpose(), weeks: weeks() }
          : undefined;
      },
      ({ businessId, row, ...query }) => {
        const at = row.indexOf('|');
        const way = row.slice(0, at) as CameBy['way'];
        return _api.call(listSourcePeople, {
          params: { businessId },
          query: { ...query, way, via: row.slice(at + 1), limit: SHOWN },
        });
      },
    ),
  })),
  withComputed(({ list, _people, open }) => {
    let last: ReturnType<typeof list.value> = undefined;
    /** The last answer; it stays while a newer one is counted. */
    const answer = computed(() => (last = (list.hasValue() ? list.value() : undefined) ?? last));
    const all = computed((): readonly CameBy[] => answer()?.ways ?? []);
    return {
      answer,
      all,
      refusals: computed(() => answer()?.refusals ?? []),
      here: computed(() => answer() !== undefined),
      nothing: computed(() => false),
      problem: computed(() => list.error() ?? null),
      rowIds: computed(() => all().map(idOf)),
      chosen: computed(() => all().find((x) => idOf(x) === open()) ?? null),
      people: computed(() => (_people.hasValue() ? _people.value() : undefined)),
    };
  }),
  withMethods(({ list }) => ({ again: (): void => void list.reload() })),
);
