import { ChangeDetectionStrategy, Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { MatButtonHarness } from '@angular/material/button/testing';
import { MatInputHarness } from '@angular/material/input/testing';
import type { Session } from '@long-gate/contracts';
import { Api, ApiProblem } from '../api/api';
import { SessionFacade } from '../state/session.facade';
import { SignInAgain } from './sign-in-again';

@Component({ selector: 'lg-nothing', changeDetection: ChangeDetectionStrategy.OnPush, template: '' })
class Nothing {}

describe('signing in again in place', () => {
  const user = { id: 'usr_1', name: 'Wren Holloway', email: 'wren@heron.example' };
  type Body = { email: string; password: string; code: string };
  let asked: Body[];
  let taken: unknown[];
  /** What is refused before it is let in. */
  let refusals: ApiProblem[];
  let ended: () => Promise<boolean>;
  beforeEach(() => {
    asked = [];
    taken = [];
    refusals = [];
    TestBed.configureTestingModule({
      imports: [Nothing],
      providers: [
        provideZonelessChangeDetection(),
        {
          provide: Api,
          useValue: {
            call: (_: unknown, { body }: { body: Body }) => {
              asked.push(body);
              const next = refusals.shift();
              return next ? Promise.reject(next) : Promise.resolve({ user });
            },
          },
        },
        {
          provide: SessionFacade,
          useValue: {
            session: signal({ user } as unknown as Session),
            whenEnded: (ask: () => Promise<boolean>) => (ended = ask),
            take: (now: unknown) => taken.push(now),
          },
        },
      ],
    });
    TestBed.inject(SignInAgain).watch();
  });
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
    expect(asked).toEqual([{ email: user.email, password: 'rye and barley', code: '' }]);
    expect(taken).toEqual([{ user }]);
    await settle();
    expect(document.querySelector('lg-sign-in-dialog')).toBeNull();
  });

  it('says a wrong password where it stands, and asks for a code where one is wanted', async () => {
    refusals = [
      new ApiProblem(401, 'wrong-password', 'That is not the password.', []),
      new ApiProblem(401, 'second-factor', 'A code is wanted.', []),
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
    expect(asked.at(-1)?.code).toBe('123456');
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
});
