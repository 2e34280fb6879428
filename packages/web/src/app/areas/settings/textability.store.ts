import { getTextability, previewTextability, saveTextability, type TextabilityPolicyView } from '@long-gate/contracts';
import { signalStore, withMethods, withProps } from '@ngrx/signals';
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
  withMethods(({ _api, _at, acting, policy }) => ({
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
