import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Api, ApiProblem } from '../../api/api';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';
import { AccountStore } from './account.store';

describe('one’s own account', () => {
  let calls: { id: string; body: unknown }[];
  let refuse: Error | null;
  let said: string[];
  let loads: number;
  const answers: Record<string, unknown> = {
    'sessions.list': {
      items: [{ id: 'ses', openedAt: 1, seenAt: 1, address: '192.0.2.1', agent: 'x', current: true }],
    },
    'factor.get': { on: false, recoveryCodesLeft: 0 },
    'factor.begin': { secret: 'ABCD', uri: 'otpauth://x', qr: 'data:' },
    'factor.confirm': { recoveryCodes: ['aaaa-bbbb', 'cccc-dddd'] },
    'session.password': { ended: 2 },
    'session.mobile': { user: { mobilePending: '+12015550191' } },
  };
  let store: InstanceType<typeof AccountStore>;

  beforeEach(() => {
    calls = [];
    refuse = null;
    said = [];
    loads = 0;
    const api = {
      call: (endpoint: { id: string }, call: { body?: unknown } = {}) => {
        calls.push({ id: endpoint.id, body: call.body });
        return refuse && call.body ? Promise.reject(refuse) : Promise.resolve(answers[endpoint.id] ?? { done: true });
      },
    };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        AccountStore,
        { provide: Api, useValue: api },
        {
          provide: SessionFacade,
          useValue: {
            businessId: signal('biz_1'),
            take: () => undefined,
            load: () => {
              loads++;
              return Promise.resolve();
            },
          },
        },
        { provide: Say, useValue: { done: (s: string) => said.push(s), problem: (e: Error) => said.push(e.message) } },
      ],
    });
    store = TestBed.inject(AccountStore);
  });

  it('shows recovery codes once, and forgets them when they are put away', async () => {
    await store.beginFactor({ password: 'a password' });
    expect(store.begun()?.secret).toBe('ABCD');
    await store.confirmFactor({ code: '123456' });
    expect([store.begun(), store.recoveryCodes(), loads]).toEqual([null, ['aaaa-bbbb', 'cccc-dddd'], 1]);
    store.putAway();
    expect(store.recoveryCodes()).toEqual([]);
  });

  it('keeps a begun set-up where the code was wrong', async () => {
    await store.beginFactor({ password: 'a password' });
    refuse = new ApiProblem(422, 'refused', 'Not this code.', [{ field: 'code', message: 'Not the code of now.' }]);
    await expectAsync(store.confirmFactor({ code: '000000' })).toBeRejectedWith(refuse);
    expect([store.begun()?.secret, store.recoveryCodes()]).toEqual(['ABCD', []]);
  });

  it('says how many sessions a new password ended, and nothing where it was refused', async () => {
    await store.changePassword({ password: 'old', next: 'barley and rye' });
    expect(said).toEqual(['Your password is changed, and 2 other sessions have ended.']);
    refuse = new ApiProblem(422, 'refused', 'No.', [{ field: 'password', message: 'This is not your password.' }]);
    await expectAsync(store.changePassword({ password: 'odd', next: 'barley and rye' })).toBeRejected();
    expect(said.length).toBe(1);
  });

  it('says that a code is on its way only once it is', async () => {
    const body = { mobile: '201-555-0191', businessId: 'biz_1' };
    await store.saveMobile(body);
    expect([calls.at(-1)?.body, said]).toEqual([body, ['A code is on its way to it.']]);
    refuse = new ApiProblem(429, 'too-many', 'Enough codes were sent today.', []);
    await expectAsync(store.saveMobile(body)).toBeRejectedWith(refuse);
    expect(said.length).toBe(1);
  });
});
