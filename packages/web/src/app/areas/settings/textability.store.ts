import { computed } from '@angular/core';
import {
  endPaying,
  getTextability,
  previewTextability,
  saveTextability,
  type TextabilityPolicyView,
} from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { withBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';

/** What a business counts as textable, what changing it would do, and changing it. */
export const TextabilityStore = signalStore(
  withBusiness(),
  withProps(({ _api, session }) => ({
    policy: liveResource(
      ['contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(getTextability, { params: { businessId } }),
    ),
  })),
  withComputed(({ session }) => ({
    /** Other businesses that could pay, since whoever works here administers them too. */
    payers: computed(() =>
      (session.session()?.businesses ?? []).filter((b) => b.role === 'administrator' && b.id !== session.businessId()),
    ),
  })),
  withMethods(({ _api, _at, acting, policy }) => ({
    endPaying: (id: string) =>
      acting.did(
        () => _api.call(endPaying, { params: { ..._at(), id } }),
        'They pay for their own lookups and queries now.',
      ),
    preview: (body: TextabilityPolicyView) => _api.call(previewTextability, { params: _at(), body }),
    /** @throws ApiProblem 412 where somebody else changed it meanwhile */
    async save(body: TextabilityPolicyView): Promise<true> {
      const version = policy.value()?.version ?? 0;
      policy.set(await _api.call(saveTextability, { params: _at(), version, body }));
      acting.done('Saved. Numbers follow as a job.');
      return true;
    },
  })),
);
