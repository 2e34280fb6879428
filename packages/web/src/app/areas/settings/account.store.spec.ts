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
    expect(await store.beginFactor('a password')).toBe(true);
    expect(store.begun()?.secret).toBe('ABCD');
    expect(await store.confirmFactor(''))
      .withContext('nothing is asked without a code')
      .toBe(false);
    expect(await store.confirmFactor('123456')).toBe(true);
    expect([store.begun(), store.recoveryCodes(), loads]).toEqual([null, ['aaaa-bbbb', 'cccc-dddd'], 1]);
    store.putAway();
    expect(store.recoveryCodes()).toEqual([]);
  });

  it('keeps a begun set-up where the code was wrong', async () => {
    await store.beginFactor('a password');
    refuse = new ApiProblem(422, 'refused', 'Not this code.', [{ field: 'code', message: 'Not the code of now.' }]);
    expect(await store.confirmFactor('000000')).toBe(false);
    expect([store.begun()?.secret, store.factorForm.errors()]).toEqual(['ABCD', { code: 'Not the code of now.' }]);
  });

  it('changes a password that is long enough, and says how many sessions ended', async () => {
    expect(await store.changePassword({ password: 'old', next: 'short' })).toBe(false);
    expect(calls.some((c) => c.id === 'session.password')).toBe(false);
    expect(await store.changePassword({ password: 'old', next: 'barley and rye' })).toBe(true);
    expect(said).toEqual(['Your password is changed, and 2 other sessions have ended.']);
  });

  it('names the business that pays for a code', async () => {
    await store.saveMobile('201-555-0191');
    expect(calls.at(-1)).toEqual({ id: 'session.mobile', body: { mobile: '201-555-0191', businessId: 'biz_1' } });
    refuse = new ApiProblem(429, 'too-many', 'Enough codes were sent today.', []);
    await store.saveMobile('201-555-0191');
    expect(store.mobileForm.errors()).toEqual({ '': 'Enough codes were sent today.' });
  });
});
