import { effect, inject, resource, signal, untracked, type ResourceRef } from '@angular/core';
import { Store } from '@ngrx/store';
import type { ApiProblem } from '../api/api';
import { liveFeature } from './live.feature';

/**
 * A resource that asks again, keeping what it shows meanwhile, whenever one of its topics changed on the server; and
 * where the server does not answer then, keeping it until it does.
 * @param params undefined means: nothing to ask for yet.
 */
export function liveResource<P, T>(
  topics: readonly string[],
  params: () => P | undefined,
  loader: (params: P) => Promise<T>,
): ResourceRef<T | undefined> {
  const store = inject(Store);
  const counts = store.selectSignal(liveFeature.selectCounts);
  const epoch = store.selectSignal(liveFeature.selectEpoch);
  let shown: string | null = null;
  const made: ResourceRef<T | undefined> = resource<T, P | undefined>({
    params,
    loader: async ({ params: p }) => {
      const of = JSON.stringify(p);
      try {
        const value = await loader(p);
        shown = of;
        return value;
      } catch (error) {
        // While the server is away what is shown stays; it is asked again once the live connection is back.
        const kept = untracked(() => (made.hasValue() ? made.value() : undefined));
        if (kept !== undefined && shown === of && (error as ApiProblem).code === 'offline') return kept;
        throw error;
      }
    },
  });
  const again = signal(0);
  let seen = '';
  let waiting: ReturnType<typeof setTimeout> | null = null;
  effect(() => {
    again();
    const now = `${topics.map((t) => counts()[t] ?? 0).join('|')}#${epoch()}`;
    if (seen === '') seen = now;
    if (now === seen) return;
    // While an answer is under way, wait: asking again would only throw it away.
    if (made.isLoading()) return;
    if (waiting !== null) return;
    waiting = setTimeout(() => {
      waiting = null;
      seen = untracked(() => `${topics.map((t) => counts()[t] ?? 0).join('|')}#${epoch()}`);
      made.reload();
      again.update((n) => n + 1);
    }, 150);
  });
  return made;
}
