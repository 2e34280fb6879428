import fc from 'fast-check';
import { mayLeaveAt, PACE_TOLERANCE_MS, paceAfter } from './pace.js';

describe('the pace', () => {
  it('lets no more leave in any stretch of time than the carrier takes, whenever it is asked', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(0.25, 1.25, 4, 10, 40, 75),
        fc.array(fc.integer({ min: 0, max: 400 }), { maxLength: 120 }),
        fc.integer({ min: 1, max: 3 }),
        (perSecond, gaps, segments) => {
          let freeAt = 0;
          let at = 1_000_000;
          const left: number[] = [];
          for (const gap of gaps) {
            at += gap;
            while (mayLeaveAt(freeAt, at)) {
              freeAt = paceAfter(freeAt, at, segments, perSecond);
              left.push(at);
            }
          }
          const from = left[0] ?? 0;
          for (const until of left) {
            const n = left.filter((t) => t <= until).length;
            const room = ((until - from + PACE_TOLERANCE_MS) * perSecond) / 1000 / segments;
            expect(n).toBeLessThanOrEqual(room + 1 + 1e-9);
          }
        },
      ),
    );
  });

  it('gives a text of three segments three times the room', () => {
    expect(paceAfter(1000, 1000, 3, 10) - 1000).toBe(300);
  });

  it('saves nothing up: after a long rest no more than the tolerance leaves at once', () => {
    expect(paceAfter(0, 50_000, 1, 4)).toBe(50_000 - PACE_TOLERANCE_MS + 250);
  });
});
