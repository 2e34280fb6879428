import { estimateLookups, estimateReassigned, startLookups, startReassigned, type Whom } from '@long-gate/contracts';
import type { Api } from '../../api/api';
import type { Asking } from '../../parts/look-up';

/** What asking about the lines of somebody costs, and how it begins. */
export function lookupsOf(api: Api, params: { businessId: string }, whom: Partial<Whom>): Asking {
  return {
    estimate: (again) => api.call(estimateLookups, { params, body: { ...whom, again } }),
    start: (again) => api.call(startLookups, { params, body: { ...whom, again } }),
  };
}

/** What asking whether somebody's numbers changed hands costs, and how it begins. */
export function queriesOf(api: Api, params: { businessId: string }, whom: Partial<Whom>): Asking {
  return {
    estimate: (again) => api.call(estimateReassigned, { params, body: { ...whom, again } }),
    start: (again) => api.call(startReassigned, { params, body: { ...whom, again } }),
  };
}
