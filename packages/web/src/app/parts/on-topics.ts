import { effect, inject, untracked } from '@angular/core';
import { Store } from '@ngrx/store';
import { liveFeature } from '../state/live.feature';

/** Calls back, at most twice a second, whenever one of these topics changed on the server. */
export function onTopics(topics: readonly string[], act: () => void): void {
  const store = inject(Store);
  const counts = store.selectSignal(liveFeature.selectCounts);
  const epoch = store.selectSignal(liveFeature.selectEpoch);
  let seen: string | null = null;
  let waiting: ReturnType<typeof setTimeout> | null = null;
  effect(() => {
    const now = `${topics.map((t) => counts()[t] ?? 0).join('|')}#${epoch()}`;
    if (seen === null || seen === now) {
      seen = now;
      return;
    }
    seen = now;
    waiting ??= setTimeout(() => {
      waiting = null;
      untracked(act);
    }, 500);
  });
}
