import type { Matter } from '@long-gate/contracts';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import { SessionActions } from './session.feature';

export type Course = Record<string, { open: number; worst: 'stop' | 'hold' | 'none' }>;
export const CourseActions = createActionGroup({
  source: 'Course',
  events: { Wanted: emptyProps(), Loaded: props<{ matters: Matter[]; course: Course }>() },
});

interface CourseState {
  matters: Matter[] | null;
  course: Course;
}
const NOTHING: CourseState = { matters: null, course: {} };

/** What is open at each area, for the rail and for Today. */
export const courseFeature = createFeature({
  name: 'course',
  reducer: createReducer<CourseState>(
    NOTHING,
    on(CourseActions.loaded, (_, { matters, course }) => ({ matters, course })),
    // What was open for one business, or one person, is never shown to another.
    on(SessionActions.businessChosen, () => NOTHING),
    on(SessionActions.loaded, (state, { session }) => (session.user ? state : NOTHING)),
  ),
});
