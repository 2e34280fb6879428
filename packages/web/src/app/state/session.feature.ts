import type { Session } from '@long-gate/contracts';
import { createActionGroup, createFeature, createReducer, createSelector, on, props } from '@ngrx/store';

export const SessionActions = createActionGroup({
  source: 'Session',
  events: { Loaded: props<{ session: Session; at: number }>(), 'Business Chosen': props<{ businessId: string }>() },
});

interface SessionState {
  session: Session | null;
  /** Wall moment at which the session was loaded: the scenario clock runs on from there. */
  loadedAt: number;
  businessId: string;
}

const BEGINNING: SessionState = { session: null, loadedAt: 0, businessId: '' };

export const sessionFeature = createFeature({
  name: 'session',
  reducer: createReducer(
    BEGINNING,
    on(SessionActions.loaded, (state, { session, at }) => ({ ...state, session, loadedAt: at })),
    on(SessionActions.businessChosen, (state, { businessId }) => ({ ...state, businessId })),
  ),
  extraSelectors: ({ selectSession, selectBusinessId }) => ({
    selectBusiness: createSelector(
      selectSession,
      selectBusinessId,
      (session, id) => session?.businesses.find((b) => b.id === id) ?? null,
    ),
  }),
});
