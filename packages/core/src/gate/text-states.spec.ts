import { isFinal, TEXT_STATES, textAfter, type TextEvent, type TextState } from './text-states.js';

const RESULTS = ['pass', 'hold', 'stop'] as const;
const EVENTS: TextEvent[] = [
  ...RESULTS.flatMap((result): TextEvent[] => [
    { kind: 'judged', verdict: { result }, mayWait: true },
    { kind: 'judged', verdict: { result }, mayWait: false },
    { kind: 'handed over', verdict: { result } },
  ]),
  ...(
    ['taken', 'not taken', 'answer lost', 'refused', 'delivered', 'undelivered', 'withdrawn', 'cancelled'] as const
  ).map((kind): TextEvent => ({ kind })),
];

describe('the way of a text', () => {
  it('has one arrow to the network, and it asks for a verdict that passes', () => {
    const arrows = TEXT_STATES.flatMap((from) =>
      EVENTS.filter((e) => from !== 'leaving' && textAfter(from, e) === 'leaving').map((e) => ({ from, e })),
    );
    expect(arrows).toEqual([{ from: 'waiting', e: { kind: 'handed over', verdict: { result: 'pass' } } }]);
  });

  it('never leads out of a final state', () => {
    for (const state of TEXT_STATES.filter(isFinal)) for (const e of EVENTS) expect(textAfter(state, e)).toBe(state);
  });

  it('is judged again after a try that the network did not take', () => {
    for (const state of ['leaving', 'unsure'] as const) expect(textAfter(state, { kind: 'not taken' })).toBe('waiting');
    // A wish to stop or to cancel that comes while it is unknown whether the network has it changes nothing yet …
    for (const kind of ['withdrawn', 'cancelled'] as const) expect(textAfter('unsure', { kind })).toBe('unsure');
    // … but it does once the network says that it has not.
    expect(textAfter(textAfter('unsure', { kind: 'not taken' }), { kind: 'withdrawn' })).toBe('stopped');
  });

  it('reaches the network at most once on any path without "not taken"', () => {
    const walk = (state: TextState, depth: number, handed: number): void => {
      expect(handed).toBeLessThanOrEqual(1);
      if (depth === 0) return;
      for (const e of EVENTS) {
        if (e.kind === 'not taken') continue;
        const next = textAfter(state, e);
        if (next !== state) walk(next, depth - 1, handed + (next === 'leaving' ? 1 : 0));
      }
    };
    walk('judging', 7, 0);
  });

  it('waits only where waiting makes sense', () => {
    expect(textAfter('judging', { kind: 'judged', verdict: { result: 'hold' }, mayWait: false })).toBe('stopped');
    expect(textAfter('judging', { kind: 'judged', verdict: { result: 'hold' }, mayWait: true })).toBe('held');
  });
});
