import type { JobView } from '@long-gate/contracts';
import { createEntityAdapter, type EntityState } from '@ngrx/entity';
import { createActionGroup, createFeature, createReducer, createSelector, on, props } from '@ngrx/store';
import { SessionActions } from './session.feature';

export const JobsActions = createActionGroup({ source: 'Jobs', events: { Loaded: props<{ jobs: JobView[] }>() } });
const adapter = createEntityAdapter<JobView>({ sortComparer: (a, b) => b.createdAt - a.createdAt });

export const jobsFeature = createFeature({
  name: 'jobs',
  reducer: createReducer<EntityState<JobView>>(
    adapter.getInitialState(),
    on(JobsActions.loaded, (state, { jobs }) => adapter.setAll(jobs, state)),
    // Those of one business, or one person, are never shown to another.
    on(SessionActions.businessChosen, (state) => adapter.removeAll(state)),
    on(SessionActions.loaded, (state, { session }) => (session.user ? state : adapter.removeAll(state))),
  ),
  extraSelectors: ({ selectJobsState }) => {
    const { selectAll } = adapter.getSelectors(selectJobsState);
    return {
      selectAllJobs: selectAll,
      selectRunning: createSelector(selectAll, (jobs) =>
        jobs.filter((j) => j.state === 'running' || j.state === 'waiting' || j.state === 'paused'),
      ),
    };
  },
});
