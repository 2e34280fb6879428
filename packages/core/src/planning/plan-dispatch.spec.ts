import fc from 'fast-check';
import { throughputOf } from '../registration/throughput.js';
import { nextSlot, planDispatch, startPace } from './plan-dispatch.js';

describe('nextSlot', () => {
  it('never lets more segments go than any network allows, however kinds are mixed', () => {
    const t = throughputOf('private company', 63, 'marketing');
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom('A', 'B', 'C' as const), fc.integer({ min: 1, max: 3 })), {
          minLength: 1,
          maxLength: 200,
        }),
        (texts) => {
          let state = startPace(0);
          const slots = texts.map(([kind, segments]) => {
            const s = nextSlot(state, kind, segments, t, 0);
            state = s.state;
            return { kind, segments, at: s.at };
          });
          for (const [lane, limit] of [
            ['A', 40],
            ['C', 10],
          ] as const) {
            const mine = slots.filter((s) => (s.kind === 'C') === (lane === 'C'));
            for (const from of mine) {
              const sent = mine
                .filter((s) => s.at >= from.at && s.at < from.at + 1000)
                .reduce((n, s) => n + s.segments, 0);
              expect(sent).toBeLessThanOrEqual(limit + 3);
            }
          }
        },
      ),
      { numRuns: 60 },
    );
  });
  it('says when the last text leaves', () => {
    const t = throughputOf('private company', 63, 'marketing');
    expect(planDispatch({ A: 401, B: 0, C: 0 }, 1, t, 1000).lastAt).toBe(11_000);
    expect(planDispatch({ A: 0, B: 0, C: 101 }, 2, t, 0).lastAt).toBe(20_000);
  });
});
