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

describe('a session that has ended', () => {
  let facade: SessionFacade;
  let api: { csrf: string; ended?: (code: 'signed-out' | 'csrf') => Promise<boolean>; call: jasmine.Spy };
  let asked: number;
  beforeEach(() => {
    asked = 0;
    api = { csrf: '', call: jasmine.createSpy('call') };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideStore({ [sessionFeature.name]: sessionFeature.reducer }),
        { provide: Api, useValue: { ...api, forgetWishes: () => undefined } },
      ],
    });
    facade = TestBed.inject(SessionFacade);
    api = TestBed.inject(Api) as unknown as typeof api;
    facade.take({ ...person, csrf: 'old' });
    facade.whenEnded(() => {
      asked++;
      return Promise.resolve(true);
    });
  });

  it('takes the new token of the same person, who signed in in another tab, without asking', async () => {
    api.call.and.resolveTo({ ...person, csrf: 'new' });
    expect(await api.ended?.('csrf')).toBeTrue();
    api.call.and.resolveTo({ ...person, csrf: 'newer', user: { id: 'usr_2' } });
    expect(await api.ended?.('csrf'))
      .withContext('somebody else')
      .toBeFalse();
    expect([facade.session()?.user?.id as unknown, api.csrf])
      .withContext('what this person typed is nothing of the other’s')
      .toEqual(['usr_1', 'new']);
    expect(asked).toBe(0);
  });

  it('is asked for where it is read and found gone, but not by whoever leaves', async () => {
    api.call.and.resolveTo(nobody);
    await facade.load();
    expect([asked, facade.session()?.user?.id as unknown]).toEqual([1, 'usr_1']);
    await facade.load(true);
    expect([asked, facade.session()?.user ?? null]).toEqual([1, null]);
  });
});
