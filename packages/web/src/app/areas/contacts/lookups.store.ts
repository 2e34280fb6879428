import { computed, inject } from '@angular/core';
import { controlJob, estimateLookups } from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { Store } from '@ngrx/store';
import { withBusiness } from '../../state/area-features/with-business';
import { jobsFeature } from '../../state/jobs.feature';
import { liveResource } from '../../state/live-resource';
import { withLineQuestions } from './line-questions.store';

/** Lookups: what asking about every number never asked about costs, and the ones under way. */
export const LookupsStore = signalStore(
  withBusiness(),
  withFeature((store) => withLineQuestions(store)),
  withProps(({ _api, session }) => ({
    _jobs: inject(Store).selectSignal(jobsFeature.selectRunning),
    estimate: liveResource(
      ['contacts', 'jobs'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(estimateLookups, { params: { businessId }, body: {} }),
    ),
  })),
  withComputed(({ _jobs }) => ({ job: computed(() => _jobs().find((j) => j.kind === 'lookups') ?? null) })),
  withMethods(({ _api, _at, _lookupsOf, acting }) => ({
    everybody: () => _lookupsOf({}),
    control: (id: string, wish: 'pause' | 'resume' | 'cancel') =>
      acting.did(() => _api.call(controlJob, { params: { ..._at(), id }, body: { wish } })),
  })),
);
