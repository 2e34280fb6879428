import { inject } from '@angular/core';
import { getToday } from '@long-gate/contracts';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { auditTime, catchError, EMPTY, from, map, switchMap, withLatestFrom } from 'rxjs';
import { Api } from '../api/api';
import { CourseActions } from './course.feature';
import { LiveActions } from './live.feature';
import { SessionActions, sessionFeature } from './session.feature';

/** Anything that changes may open or close a matter; asked again at most about once a second. */
export const loadCourse = createEffect(
  (actions = inject(Actions), store = inject(Store), api = inject(Api)) =>
    actions.pipe(
      ofType(LiveActions.changed, LiveActions.connected, SessionActions.businessChosen, CourseActions.wanted),
      auditTime(700),
      withLatestFrom(store.select(sessionFeature.selectBusinessId)),
      switchMap(([, businessId]) =>
        businessId === '' ? EMPTY : from(api.call(getToday, { params: { businessId } })).pipe(catchError(() => EMPTY)),
      ),
      map((today) => CourseActions.loaded(today)),
    ),
  { functional: true },
);
