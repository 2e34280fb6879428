import { inject } from '@angular/core';
import { createEffect } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { distinctUntilChanged, EMPTY, filter, map, Observable, switchMap, tap } from 'rxjs';
import { Actions, ofType } from '@ngrx/effects';
import { LiveActions } from './live.feature';
import { SessionFacade } from './session.facade';
import { sessionFeature } from './session.feature';

/** Server-sent events while somebody is signed in; the browser connects again by itself. */
export const listen = createEffect(
  (store = inject(Store)) =>
    store.select(sessionFeature.selectSession).pipe(
      // A new session of the same person is another connection: that of the old one has ended with it.
      map((s) => (s?.user ? `${s.user.id} ${s.csrf}` : '')),
      distinctUntilChanged(),
      switchMap((id) => (id === '' ? EMPTY : stream())),
    ),
  { functional: true },
);

/** A moved clock or a changed business is read anew. */
export const reloadSession = createEffect(
  (actions = inject(Actions), session = inject(SessionFacade)) =>
    actions.pipe(
      ofType(LiveActions.changed),
      filter(({ topic }) => topic === 'clock' || topic === 'settings'),
      tap(() => void session.load().catch(() => undefined)),
    ),
  { functional: true, dispatch: false },
);

function stream(): Observable<
  | ReturnType<typeof LiveActions.changed>
  | ReturnType<typeof LiveActions.connected>
  | ReturnType<typeof LiveActions.lost>
> {
  return new Observable((out) => {
    const source = new EventSource('/api/v1/live');
    source.onopen = () => out.next(LiveActions.connected());
    source.onerror = () => out.next(LiveActions.lost());
    source.onmessage = (m) =>
      out.next(LiveActions.changed(JSON.parse(String(m.data)) as { businessId: string; topic: string; id?: string }));
    return () => source.close();
  });
}
