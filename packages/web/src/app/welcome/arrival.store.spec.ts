import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Api, ApiProblem } from '../api/api';
import { SessionFacade } from '../state/session.facade';
import { ArrivalStore } from './arrival.store';

const wanted = new ApiProblem(401, 'second-factor', 'Give the code of your authenticator.', [
  { field: 'code', message: 'Give the code.' },
]);

describe('coming in', () => {
  let calls: { id: string; params: unknown; body: unknown }[];
  let answer: unknown;
  let taken: unknown[];
  let store: InstanceType<typeof ArrivalStore>;

  beforeEach(() => {
    calls = [];
    taken = [];
    answer = { user: { id: 'usr' } };
    const api = {
      call: (endpoint: { id: string }, call: { params?: unknown; body?: unknown } = {}) => {
        calls.push({ id: endpoint.id, params: call.params, body: call.body });
        return answer instanceof Error ? Promise.reject(answer) : Promise.resolve(answer);
      },
    };
    const session = { take: (s: unknown) => taken.push(s), load: () => Promise.resolve() };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        ArrivalStore,
        { provide: Api, useValue: api },
        { provide: SessionFacade, useValue: session },
      ],
    });
    store = TestBed.inject(ArrivalStore);
  });

  it('makes room for a code once it is asked for, which is no fault until a wrong one is given', async () => {
    expect(store.codeWanted()).toBe(false);
    answer = wanted;
    expect(await store.signIn({ email: 'a@heron.example', password: 'x', code: '' })).toBe(false);
    expect(store.codeWanted()).toBe(true);
    await expectAsync(store.signIn({ email: 'a@heron.example', password: 'x', code: '1' })).toBeRejectedWith(wanted);
    answer = { user: { id: 'usr' } };
    expect(await store.signIn({ email: 'a@heron.example', password: 'x', code: '123456' })).toBe(true);
    expect(taken.length).toBe(1);
  });

  it('asks no code for a wrong password', async () => {
    answer = new ApiProblem(401, 'sign-in', 'E-mail or password is wrong.', [{ field: 'password', message: 'Wrong.' }]);
    await expectAsync(store.signIn({ email: 'a@heron.example', password: 'x', code: '' })).toBeRejected();
    expect([store.codeWanted(), taken.length]).toEqual([false, 0]);
  });

  it('says that an invitation is good for nothing, and takes one that is', async () => {
    answer = new ApiProblem(404, 'not-found', 'This invitation does not exist.', []);
    await store.seeInvitation('gone');
    expect(store.missing()).toContain('does not exist');
    answer = { business: 'Heron Lane', email: 'a@heron.example', role: 'viewer', known: true };
    await store.seeInvitation('good');
    expect(store.invitation()?.business).toBe('Heron Lane');
    answer = wanted;
    expect(await store.accept('good', { name: '', password: 'x', code: '' })).toBe(false);
    expect(store.codeWanted()).withContext('an account that has a second factor').toBe(true);
  });

  it('says that a link is on its way only once it is', async () => {
    answer = new ApiProblem(429, 'too-many', 'Enough links were sent.', []);
    await expectAsync(store.forgot({ email: 'a@heron.example' })).toBeRejected();
    expect(store.done()).toBe(false);
    answer = { done: true };
    await store.forgot({ email: 'a@heron.example' });
    expect(store.done()).toBe(true);
  });

  it('sets a password once, and says where the link was none', async () => {
    answer = new ApiProblem(404, 'not-found', 'This link does not exist.', []);
    await store.seeReset('gone');
    expect([store.email(), store.missing()]).toEqual(['', 'This link does not exist.']);
    answer = { done: true };
    await store.reset('token', { password: 'barley and rye' });
    expect(calls.at(-1)).toEqual({
      id: 'public.reset-password',
      params: { token: 'token' },
      body: { password: 'barley and rye' },
    });
    expect(store.done()).toBe(true);
  });
});
