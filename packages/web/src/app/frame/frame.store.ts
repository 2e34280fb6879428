import { resource, signal } from '@angular/core';
import { controlJob, find, moveClock, nextOnClock, signOut } from '@long-gate/contracts';
import { signalStore, withMethods, withProps } from '@ngrx/signals';
import { withBusiness } from '../state/area-features/with-business';

/** What the frame itself asks for: leaving, the scenario clock, jobs, and what the finder looks for. */
export const FrameStore = signalStore(
  withBusiness(),
  withProps(() => ({ words: signal('') })),
  withProps(({ _api, session, words }) => ({
    found: resource({
      params: () => ({ q: words().trim(), businessId: session.businessId() }),
      loader: async ({ params: { q, businessId }, abortSignal }) => {
        if (q === '') return [];
        await new Promise((r) => setTimeout(r, 120));
        if (abortSignal.aborted) return [];
        return (await _api.call(find, { params: { businessId }, query: { q } })).items;
      },
    }),
  })),
  withMethods(({ _api, _at, acting, session }) => ({
    /** Who leaves leaves nothing of what was asked behind, but words drafted, which are theirs. */
    async signOut(): Promise<void> {
      await _api.call(signOut).catch(() => undefined);
      await session.load(true);
    },
    /** What the clock comes to next; undefined where that cannot be said now. */
    next: async () => (await acting.run(() => _api.call(nextOnClock)))?.next,
    move: (by: 'hour' | 'day' | 'next') => acting.did(() => _api.call(moveClock, { body: { by } })),
    control: (id: string, wish: 'pause' | 'resume' | 'cancel') =>
      acting.did(() => _api.call(controlJob, { params: { ..._at(), id }, body: { wish } })),
  })),
);
