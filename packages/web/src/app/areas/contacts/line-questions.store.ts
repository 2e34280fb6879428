import { estimateLookups, estimateReassigned, startLookups, startReassigned, type Whom } from '@long-gate/contracts';
import { signalStoreFeature, withMethods } from '@ngrx/signals';
import type { Asking } from '../../parts/look-up';
import type { OfBusiness } from '../../state/area-features/with-business';

/** Questions about numbers: what asking about somebody's costs, and how it begins. */
export function withLineQuestions({ _api, _at }: OfBusiness) {
  return signalStoreFeature(
    withMethods(() => ({
      _lookupsOf: (whom: Partial<Whom>): Asking => ({
        estimate: (again) => _api.call(estimateLookups, { params: _at(), body: { ...whom, again } }),
        start: (again) => _api.call(startLookups, { params: _at(), body: { ...whom, again } }),
      }),
      /** Whether their numbers changed hands. */
      _queriesOf: (whom: Partial<Whom>): Asking => ({
        estimate: (again) => _api.call(estimateReassigned, { params: _at(), body: { ...whom, again } }),
        start: (again) => _api.call(startReassigned, { params: _at(), body: { ...whom, again } }),
      }),
    })),
  );
}
