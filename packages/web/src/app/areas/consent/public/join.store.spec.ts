import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Api, ApiProblem } from '../../../api/api';
import { JoinStore } from './join.store';

const JOINING = { phone: '212 555 0123', firstName: '', purposes: ['promotional' as const] };
const page = (words: string) => ({ slug: 'heron', title: 'Texts', words, purposes: [] });

describe('a contact’s side of an opt-in page', () => {
  let calls: { id: string; body: unknown }[];
  let words: string;
  let refuse: ApiProblem | null;

  beforeEach(() => {
    calls = [];
    words = 'first';
    refuse = null;
    const api = {
      call: (endpoint: { id: string }, call: { body?: unknown }) => {
        calls.push({ id: endpoint.id, body: call.body });
        if (endpoint.id === 'public.page') return Promise.resolve(page(words));
        return refuse ? Promise.reject(refuse) : Promise.resolve({ shown: '+1 212-555-0123', from: '' });
      },
    };
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), JoinStore, { provide: Api, useValue: api }],
    });
  });

  it('hands back which words were before the person’s eyes', async () => {
    const store = TestBed.inject(JoinStore);
    await store.load('heron');
    await store.join({ ...JOINING, words: 'first' });
    expect(calls.at(-1)).toEqual({
      id: 'public.optIn',
      body: { phone: '212 555 0123', firstName: '', purposes: ['promotional'], words: 'first' },
    });
    expect(store.joined()?.shown).toBe('+1 212-555-0123');
  });

  it('shows changed words and asks again, having recorded nothing', async () => {
    const store = TestBed.inject(JoinStore);
    await store.load('heron');
    words = 'second';
    refuse = new ApiProblem(409, 'words-changed', 'The words have changed.', [
      { field: 'purposes', message: 'These words are new; choose again.' },
    ]);
    await expectAsync(store.join({ ...JOINING, words: 'first' })).toBeRejectedWith(refuse);
    expect(store.joined()).toBeNull();
    expect(store.page()?.words).toBe('second');
  });

  it('lets a number leave, and says what was wrong where it could not', async () => {
    const store = TestBed.inject(JoinStore);
    await store.load('heron');
    refuse = new ApiProblem(429, 'too-many', 'Try again tomorrow.', []);
    await expectAsync(store.leave('212 555 0123')).toBeRejectedWith(refuse);
    expect(store.left()).toBeNull();
    refuse = null;
    await store.leave('212 555 0123');
    expect(store.left()?.shown).toBe('+1 212-555-0123');
  });
});
