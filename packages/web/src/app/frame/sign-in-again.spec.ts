import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { Component } from '@angular/core';
import { MatButtonHarness } from '@angular/material/button/testing';
import { MatInputHarness } from '@angular/material/input/testing';
import type { Session } from '@long-gate/contracts';
import { Api, ApiProblem } from '../api/api';
import { SessionFacade } from '../state/session.facade';
import { SignInAgain } from './sign-in-again';

@Component({ selector: 'lg-nothing', template: '' })
class Nothing {}

describe('signing in again in place', () => {
  const user = { id: 'usr_1', name: 'Wren Holloway', email: 'wren@heron.example' };
  let taken: unknown[];
  let asked: { body: { email: string; password: string; code: string } }[];
  let answers: (unknown | ApiProblem)[];
  let loaded: { csrf: string; user: typeof user };
  beforeEach(() => {
    taken = [];
    asked = [];
    answers = [{ user, csrf: 'new' }];
    const session = signal({ user, csrf: 'old' } as unknown as Session);
    const api = new Api();
    api.csrf = 'old';
    loaded = { csrf: 'newer', user };
    spyOn(api, 'call').and.callFake(((_: unknown, call: { body: (typeof asked)[0]['body'] }) => {
      asked.push(call);
      const next = answers.shift();
      return next instanceof Error ? Promise.reject(next) : Promise.resolve(next);
    }) as never);
    TestBed.configureTestingModule({
      imports: [Nothing],
      providers: [
        provideZonelessChangeDetection(),
        { provide: Api, useValue: api },
        {
          provide: SessionFacade,
          useValue: {
            session,
            take: (s: Session) => {
              taken.push(s);
              session.set(s);
            },
            load: () => {
              session.set(loaded as unknown as Session);
              api.csrf = loaded.csrf;
              return Promise.resolve();
            },
          },
        },
      ],
    });
    TestBed.inject(SignInAgain).watch();
  });
  const ended = (code: 'signed-out' | 'csrf' = 'signed-out'): Promise<boolean> | undefined =>
    TestBed.inject(Api).ended?.(code);
  const loader = () => TestbedHarnessEnvironment.documentRootLoader(TestBed.createComponent(Nothing));
  const settle = (): Promise<void> => new Promise((r) => setTimeout(r, 60));
  const password = async (words: string): Promise<void> => {
    const fields = await loader().getAllHarnesses(MatInputHarness);
    await fields[0]?.setValue(words);
  };
  const press = async (text: string): Promise<void> => {
    await (await loader().getHarness(MatButtonHarness.with({ text }))).click();
    await settle();
  };

  it('asks the same person once, however many questions found it ended, and lets them all go on', async () => {
    const [one, two] = [ended(), ended()];
    await settle();
    expect(document.querySelectorAll('lg-sign-in-dialog').length).toBe(1);
    expect(document.querySelector('lg-sign-in-dialog')?.textContent).toContain('wren@heron.example');
    await password('rye and barley');
    await press('Sign in');
    expect(await Promise.all([one, two])).toEqual([true, true]);
    expect(asked.map((a) => a.body)).toEqual([{ email: user.email, password: 'rye and barley', code: '' }]);
    expect(taken).toEqual([{ user, csrf: 'new' }]);
    await settle();
    expect(document.querySelector('lg-sign-in-dialog')).toBeNull();
  });

  it('says a wrong password where it stands, and asks for a code where one is wanted', async () => {
    answers = [
      new ApiProblem(401, 'wrong-password', 'That is not the password.', []),
      new ApiProblem(401, 'second-factor', 'A code is wanted.', []),
      { user, csrf: 'new' },
    ];
    const one = ended();
    await settle();
    await password('barley');
    await press('Sign in');
    expect(document.querySelector('lg-sign-in-dialog')?.textContent).toContain('That is not the password.');
    await password('rye and barley');
    await press('Sign in');
    const fields = await loader().getAllHarnesses(MatInputHarness);
    await fields[1]?.setValue('123456');
    await press('Sign in');
    expect(await one).toBeTrue();
    expect(asked.at(-1)?.body.code).toBe('123456');
  });

  it('waits with its dialog until nobody types: no key of a word goes into it', async () => {
    document.dispatchEvent(new KeyboardEvent('keydown', { key: 'a' }));
    const one = ended();
    await settle();
    expect(document.querySelector('lg-sign-in-dialog')).toBeNull();
    await new Promise((r) => setTimeout(r, 900));
    expect(document.querySelector('lg-sign-in-dialog')).not.toBeNull();
    await password('rye and barley');
    await press('Sign in');
    expect(await one).toBeTrue();
  });

  it('takes the new token of the same person, who signed in in another tab, without asking', async () => {
    expect(await ended('csrf')).toBeTrue();
    expect(document.querySelector('lg-sign-in-dialog')).toBeNull();
    loaded = { csrf: 'newest', user: { ...user, id: 'usr_2' } };
    expect(await ended('csrf'))
      .withContext('somebody else')
      .toBeFalse();
  });
});
