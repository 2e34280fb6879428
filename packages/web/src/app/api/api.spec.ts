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
