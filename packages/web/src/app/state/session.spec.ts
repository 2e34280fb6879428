import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { JobView, Session } from '@long-gate/contracts';
import { provideStore, Store } from '@ngrx/store';
import { Api } from '../api/api';
import { CourseActions, courseFeature } from './course.feature';
import { JobsActions, jobsFeature } from './jobs.feature';
import { SessionFacade } from './session.facade';
import { SessionActions, sessionFeature } from './session.feature';

const person = { user: { id: 'usr_1' }, businesses: [], csrf: 'x', clock: { now: 0 } } as unknown as Session;
const nobody = { ...person, user: null } as unknown as Session;

describe('whoever signs out', () => {
  let store: Store;
  let forgotten: number;
  const matters = () => store.selectSignal(courseFeature.selectMatters)();
  const jobs = () => store.selectSignal(jobsFeature.selectAllJobs)().length;
  beforeEach(() => {
    forgotten = 0;
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideStore({
          [sessionFeature.name]: sessionFeature.reducer,
          [courseFeature.name]: courseFeature.reducer,
          [jobsFeature.name]: jobsFeature.reducer,
        }),
        { provide: Api, useValue: { csrf: '', forgetWishes: () => forgotten++ } },
      ],
    });
    store = TestBed.inject(Store);
    TestBed.inject(SessionFacade).take(person);
    store.dispatch(CourseActions.loaded({ matters: [], course: { today: { open: 1, worst: 'stop' } } }));
    store.dispatch(JobsActions.loaded({ jobs: [{ id: 'job_1', createdAt: 1 } as JobView] }));
  });

  it('leaves nothing of what was open, nor of wishes under way, to the next', () => {
    expect([matters()?.length, jobs()]).toEqual([0, 1]);
    TestBed.inject(SessionFacade).take(nobody);
    expect([matters(), jobs(), forgotten]).toEqual([null, 0, 1]);
  });

  it('but reading one’s own session again forgets nothing', () => {
    TestBed.inject(SessionFacade).take({ ...person });
    expect([matters()?.length, jobs(), forgotten]).toEqual([0, 1, 0]);
  });

  it('and another business never shows what was open in this one', () => {
    store.dispatch(SessionActions.businessChosen({ businessId: 'biz_2' }));
    expect([matters(), jobs()]).toEqual([null, 0]);
  });
});
