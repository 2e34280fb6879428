import {
  listTextLinks,
  readTextLinks,
  saveTextLinks,
  withdrawTextLinks,
  type TextLinkPolicyView,
  type TextLinksOfDispatch,
} from '@long-gate/contracts';
import { signalStore, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withPages } from '../../../state/area-features/with-pages';
import { liveResource } from '../../../state/live-resource';

/** Where links in texts stand and lead, and what came of them by dispatch. */
export const TextLinksStore = signalStore(
  withBusiness(),
  withAddress([]),
  withProps(({ _api, session }) => ({
    policy: liveResource(
      ['consent'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(readTextLinks, { params: { businessId } }),
    ),
  })),
  withFeature((store) =>
    withPages<TextLinksOfDispatch, object>(store, {
      topics: ['consent', 'dispatch'],
      id: (x) => x.dispatchId,
      load: (api, _filters, { businessId, ...query }) => api.call(listTextLinks, { params: { businessId }, query }),
    }),
  ),
  withMethods(({ _api, _at, policy, acting }) => ({
    /** @param version of what was changed. @throws ApiProblem 412 where somebody else changed it meanwhile */
    async save(body: TextLinkPolicyView, version: number): Promise<true> {
      policy.set(await _api.call(saveTextLinks, { params: _at(), version, body }));
      acting.done('Saved. Texts that leave from now on carry it.');
      return true;
    },
    async withdraw(dispatchId: string): Promise<void> {
      await acting.run(
        () => _api.call(withdrawTextLinks, { params: _at(), body: { dispatchId } }),
        'Taken back. Those links lead nowhere now.',
      );
    },
  })),
);
