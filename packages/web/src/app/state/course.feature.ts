import type { Matter } from '@long-gate/contracts';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';

export type Course = Record<string, { open: number; worst: 'stop' | 'hold' | 'none' }>;
export const CourseActions = createActionGroup({
  source: 'Course',
  events: { Wanted: emptyProps(), Loaded: props<{ matters: Matter[]; course: Course }>() },
});

/** What is open at each area, for the rail and for Today. */
export const courseFeature = createFeature({
  name: 'course',
  reducer: createReducer<{ matters: Matter[] | null; course: Course }>(
    { matters: null, course: {} },
    on(CourseActions.loaded, (_, { matters, course }) => ({ matters, course })),
  ),
});
