import { computed } from '@angular/core';
import { listClaimed, listClaims, type ClaimLot } from '@long-gate/contracts';
import { signalStore, withComputed, withProps, withMethods } from '@ngrx/signals';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { liveResource } from '../../../state/live-resource';

/** So many of a lot's people are shown; a form is filed for all of them. */
const SHOWN = 100;

/** Claims without proof by the lots they came in; `open` is a lot. */
export const ClaimsStore = signalStore(
  withBusiness(),
  withAddress([]),
  withProps(({ _api, session, open }) => ({
    list: liveResource(
      ['consent', 'contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listClaims, { params: { businessId } }),
    ),
    _people: liveResource(
      ['consent', 'contacts'],
      () => {
        const [businessId, id] = [session.businessId(), open()];
        return businessId && id ? { businessId, id } : undefined;
      },
      (params) => _api.call(listClaimed, { params, query: { limit: SHOWN } }),
    ),
  })),
  withComputed(({ list, _people, open }) => {
    let last: ReturnType<typeof list.value> = undefined;
    /** The last answer; it stays while a newer one is counted. */
    const answer = computed(() => (last = (list.hasValue() ? list.value() : undefined) ?? last));
    const all = computed((): readonly ClaimLot[] => answer()?.items ?? []);
    return {
      all,
      /** Of all lots together. */
      whole: computed(() => answer()?.open),
      here: computed(() => answer() !== undefined),
      nothing: computed(() => answer() !== undefined && all().length === 0),
      problem: computed(() => list.error() ?? null),
      rowIds: computed(() => all().map((x) => x.id)),
      chosen: computed(() => all().find((x) => x.id === open()) ?? null),
      people: computed(() => (_people.hasValue() ? _people.value() : undefined)),
    };
  }),
  withMethods(({ list }) => ({ again: (): void => void list.reload() })),
);
