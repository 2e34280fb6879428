import { computed } from '@angular/core';
import {
  decideFaults,
  deleteContacts,
  exportUnreached,
  listUnreached,
  unreachedSummary,
  type Unreached,
} from '@long-gate/contracts';
import { CAUSES, type Cause } from '@long-gate/core';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress, type Address } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { withSelection } from '../../state/area-features/with-selection';
import { liveResource } from '../../state/live-resource';
import { withLineQuestions } from './line-questions.store';

/** A number and its contact: what is open is looked at by both. */
export const unreachedId = (n: Unreached): string => `${n.contactId}~${n.id}`;

/** Numbers that texts do not reach, one cause at a time, and what can be done for them. */
export const UnreachedStore = signalStore(
  withBusiness(),
  withFeature((store) => withLineQuestions(store)),
  withAddress(['cause']),
  withProps(({ _api, session }) => ({
    summary: liveResource(
      ['contacts', 'jobs'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(unreachedSummary, { params: { businessId } }),
    ),
  })),
  withComputed(({ address, summary }) => {
    const causes = computed(() => (summary.hasValue() ? (summary.value()?.causes ?? []) : []));
    return {
      causes,
      /** The one in the address, or the first that anything stands under. */
      cause: computed((): Cause => {
        const wanted = CAUSES.find((c) => c === address().cause);
        return wanted ?? (causes().find((c) => c.numbers > 0)?.cause as Cause | undefined) ?? 'not-textable';
      }),
    };
  }),
  withFeature((store) =>
    withPages<Unreached, Address<'cause'>>(
      { ...store, filters: computed(() => ({ cause: store.cause() })) },
      {
        topics: ['contacts', 'jobs'],
        id: unreachedId,
        load: (api, filters, { businessId, ...page }) =>
          api.call(listUnreached, {
            params: { businessId },
            query: { ...page, cause: filters.cause ?? 'not-textable' },
          }),
      },
    ),
  ),
  withFeature(({ rows, cause }) =>
    withSelection(
      { shown: rows, matching: computed(() => null), filters: computed(() => ({ cause: cause() })) },
      unreachedId,
    ),
  ),
  withComputed(({ rows, picked }) => ({
    chosen: computed(() => {
      const ids = new Set(picked());
      return rows().filter((n) => ids.has(unreachedId(n)));
    }),
  })),
  withMethods((store) => {
    const { _api, _at, acting } = store;
    const e164s = (): string[] => store.chosen().map((n) => n.e164);
    return {
      pickCause: (cause: string) => store.set({ cause, open: null }),
      file: () => _api.address(exportUnreached, { params: _at() }),
      lookups: () => store._lookupsOf({ e164s: e164s() }),
      /** Those held after three faults are texted again; others were never kept out. */
      async tryAgain(): Promise<void> {
        const held = store.chosen().filter((n) => n.faultsInReview);
        const done = await acting.did(
          async () => {
            for (const n of held)
              await _api.call(decideFaults, { params: _at(), body: { e164: n.e164, tryAgain: true } });
          },
          `${held.length === 1 ? 'One number is' : `${held.length} numbers are`} texted again; faults count anew.`,
        );
        if (done) store.setChoosing(false);
      },
      async takeOff(): Promise<void> {
        const ids = [...new Set(store.chosen().map((n) => n.contactId))];
        const done = await acting.did(
          () => _api.call(deleteContacts, { params: _at(), body: { ids, seen: ids.length } }),
          `${ids.length === 1 ? 'One contact is' : `${ids.length} contacts are`} being deleted.`,
        );
        if (done) store.setChoosing(false);
      },
    };
  }),
);
