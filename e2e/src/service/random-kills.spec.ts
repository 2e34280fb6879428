import { killAtRandom } from './random-kills.js';

/** A dozen of the moments that `npm run crash` goes through by the hundred. */
describe('power cuts at moments nobody chose', () => {
  it('lose nothing, double nothing, and let nothing past a no', async () => {
    const toll = await killAtRandom(7, 12, () => undefined);
    expect(toll.texts).toBeGreaterThan(100);
    expect(toll.stops).toBeGreaterThan(5);
    expect(toll.lost).toEqual([]);
    expect(toll.doubled).toEqual([]);
    expect(toll.pastNo).toEqual([]);
  });
});
