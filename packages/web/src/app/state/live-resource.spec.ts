import { Injector, provideZonelessChangeDetection, runInInjectionContext, type ResourceRef } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideStore, Store } from '@ngrx/store';
import { ApiProblem } from '../api/api';
import { liveFeature, LiveActions } from './live.feature';
import { liveResource } from './live-resource';

const offline = (): ApiProblem => new ApiProblem(0, 'offline', 'The server does not answer.', []);

describe('what is read again when it changed', () => {
  let answers: (string | ApiProblem)[];
  let asked: number;
  let made: ResourceRef<string | undefined>;
  const until = async (holds: () => boolean): Promise<void> => {
    for (let i = 0; i < 100 && !holds(); i++) {
      TestBed.tick();
      await new Promise((r) => setTimeout(r, 20));
    }
    expect(holds()).toBeTrue();
  };
  const changed = async (): Promise<void> => {
    const before = asked;
    TestBed.inject(Store).dispatch(LiveActions.changed({ businessId: 'biz_1', topic: 'numbers' }));
    await until(() => asked > before && !made.isLoading());
  };

  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideStore({ [liveFeature.name]: liveFeature.reducer })],
    });
    answers = ['first'];
    asked = 0;
    made = runInInjectionContext(TestBed.inject(Injector), () =>
      liveResource(
        ['numbers'],
        () => 'biz_1',
        () => {
          const answer = answers[Math.min(asked++, answers.length - 1)];
          return answer instanceof Error ? Promise.reject(answer) : Promise.resolve(answer ?? '');
        },
      ),
    );
    await until(() => made.hasValue());
  });

  it('shows what is so now', async () => {
    answers.push('second');
    await changed();
    expect(made.value()).toBe('second');
  });

  it('keeps what a press was answered with while the server is away, not what had been read before', async () => {
    made.set('answered');
    answers.push(offline());
    await changed();
    expect(made.value()).toBe('answered');
  });

  it('says a refusal, and mends itself with the next change', async () => {
    answers.push(new ApiProblem(404, 'not-found', 'There is none.', []), 'third');
    await changed();
    expect(made.error()?.message).toBe('There is none.');
    await changed();
    expect(made.value()).toBe('third');
  });
});
