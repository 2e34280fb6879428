import { inject } from '@angular/core';
import { listJobs } from '@long-gate/contracts';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { auditTime, catchError, EMPTY, filter, from, map, switchMap, withLatestFrom } from 'rxjs';
import { Api } from '../api/api';
import { JobsActions } from './jobs.feature';
import { LiveActions } from './live.feature';
import { SessionActions, sessionFeature } from './session.feature';

export const loadJobs = createEffect(
  (actions = inject(Actions), store = inject(Store), api = inject(Api)) =>
    actions.pipe(
      ofType(LiveActions.changed, LiveActions.connected, SessionActions.businessChosen),
      filter(
        (a) => a.type !== LiveActions.changed.type || ('topic' in a && (a.topic === 'jobs' || a.topic === 'dispatch')),
      ),
      auditTime(300),
      withLatestFrom(store.select(sessionFeature.selectBusinessId)),
      switchMap(([, businessId]) =>
        businessId === '' ? EMPTY : from(api.call(listJobs, { params: { businessId } })).pipe(catchError(() => EMPTY)),
      ),
      map(({ items }) => JobsActions.loaded({ jobs: items })),
    ),
  { functional: true },
);
