import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';

export const LiveActions = createActionGroup({
  source: 'Live',
  events: {
    Changed: props<{ businessId: string; topic: string; id?: string }>(),
    Connected: emptyProps(),
    Lost: emptyProps(),
  },
});

interface LiveState {
  counts: Record<string, number>;
  connected: boolean;
  epoch: number;
}
const BEGINNING: LiveState = { counts: {}, connected: true, epoch: 0 };

/** How often each topic has changed: pages ask again when the count of theirs moves. */
export const liveFeature = createFeature({
  name: 'live',
  reducer: createReducer(
    BEGINNING,
    on(LiveActions.changed, (state, { topic }) => ({
      ...state,
      counts: { ...state.counts, [topic]: (state.counts[topic] ?? 0) + 1 },
    })),
    // After a gap nothing is known to be current: everything asks again.
    on(LiveActions.connected, (state) => ({
      ...state,
      connected: true,
      epoch: state.connected ? state.epoch : state.epoch + 1,
    })),
    on(LiveActions.lost, (state) => ({ ...state, connected: false })),
  ),
});
