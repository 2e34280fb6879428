import { lookUpThroughKills } from './question-kills.js';

/** A few of the kills that `npm run crash -- lookups` goes through by the dozen. */
describe('lookups through power cuts and a service that stumbles', () => {
  it('ask about every line, pay each once, and never go faster than is permitted', async () => {
    const toll = await lookUpThroughKills(11, 240, 4, () => undefined);
    expect(toll.asked).toBeGreaterThanOrEqual(240);
    expect([toll.missing, toll.twice, toll.charged]).toEqual([0, [], toll.due]);
    expect(toll.busiestSecond).toBeLessThanOrEqual(20);
  });
});
