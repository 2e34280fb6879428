import { TestBed } from '@angular/core/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { submitBrand } from '@long-gate/contracts';
import { Api, ApiProblem } from './api';

describe('a wish that costs', () => {
  let api: Api;
  let keys: (string | null)[];
  let answer: () => Promise<Response>;
  beforeEach(() => {
    sessionStorage.clear();
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    api = TestBed.inject(Api);
    keys = [];
    spyOn(globalThis, 'fetch').and.callFake((_, init) => {
      keys.push(new Headers(init?.headers).get('idempotency-key'));
      return answer();
    });
  });
  const wish = (businessId = 'biz_1') => api.call(submitBrand, { params: { businessId } });
  const said = (status: number) => () => Promise.resolve(new Response('{}', { status }));

  it('carries one key from its first try to its last, also over a reload', async () => {
    answer = () => Promise.reject(new TypeError('network'));
    await expectAsync(wish()).toBeRejectedWith(jasmine.any(ApiProblem));
    answer = said(500);
    await expectAsync(wish()).toBeRejectedWith(jasmine.any(ApiProblem));
    // The page is loaded anew.
    api = new Api();
    answer = said(200);
    await wish();
    expect(new Set(keys).size).toBe(1);
    expect(keys[0]).toMatch(/^[0-9a-f-]{36}$/);
  });

  it('is kept by a name that says nothing of what it carries', async () => {
    answer = () => Promise.reject(new TypeError('network'));
    await wish('biz_secret').catch(() => undefined);
    expect(Object.keys(sessionStorage)).toEqual([jasmine.stringMatching(/^wish [0-9a-f]{64}$/)]);
  });

  it('is another wish once it has an answer, and where it says something else', async () => {
    answer = said(200);
    await wish();
    await wish();
    answer = () => Promise.reject(new TypeError('network'));
    await wish().catch(() => undefined);
    await wish('biz_2').catch(() => undefined);
    answer = said(422);
    await wish().catch(() => undefined);
    await wish().catch(() => undefined);
    expect(keys[2]).toBe(keys[4]);
    expect(new Set(keys).size).toBe(5);
  });
});

describe('a session that has ended', () => {
  let api: Api;
  let asked: { csrf: string | null; key: string | null }[];
  let signedIn: boolean;
  let again: jasmine.Spy<(code: 'signed-out' | 'csrf') => Promise<boolean>>;
  beforeEach(() => {
    sessionStorage.clear();
    api = new Api();
    api.csrf = 'old';
    asked = [];
    signedIn = false;
    again = jasmine.createSpy('ended').and.callFake(() => {
      signedIn = true;
      api.csrf = 'new';
      return Promise.resolve(true);
    });
    api.ended = again;
    spyOn(globalThis, 'fetch').and.callFake((_, init) => {
      const headers = new Headers(init?.headers);
      asked.push({ csrf: headers.get('x-csrf-token'), key: headers.get('idempotency-key') });
      const out = new Response('{"code":"signed-out","detail":"Sign in first."}', { status: 401 });
      return Promise.resolve(signedIn ? new Response('{"id":"brd_1"}', { status: 200 }) : out);
    });
  });
  const wish = () => api.call(submitBrand, { params: { businessId: 'biz_1' } });

  it('is asked for, and what was wanted is wanted once more, under the same key and with the new token', async () => {
    expect((await wish()) as unknown).toEqual({ id: 'brd_1' });
    expect(again.calls.allArgs()).toEqual([['signed-out']]);
    expect(asked.map((a) => a.csrf)).toEqual(['old', 'new']);
    expect(new Set(asked.map((a) => a.key)).size).toBe(1);
  });

  it('forgets no wish whose answer was lost before it ended', async () => {
    (globalThis.fetch as jasmine.Spy).and.rejectWith(new TypeError('network'));
    await wish().catch(() => undefined);
    const [kept] = Object.values(sessionStorage);
    again.and.resolveTo(false);
    (globalThis.fetch as jasmine.Spy).and.callFake(() =>
      Promise.resolve(new Response('{"code":"signed-out"}', { status: 401 })),
    );
    await expectAsync(wish()).toBeRejectedWith(jasmine.objectContaining({ status: 401 }));
    expect(Object.values(sessionStorage)).toEqual([kept]);
  });

  it('is asked for once for one question, and the refusal is said where nobody signs in', async () => {
    again.and.resolveTo(true);
    await expectAsync(wish()).toBeRejectedWith(jasmine.objectContaining({ code: 'signed-out' }));
    expect([again.calls.count(), asked.length]).toEqual([1, 2]);
  });
});
