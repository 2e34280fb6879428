import { seeded } from './seeded.js';

describe('seeded', () => {
  it('gives the same numbers for the same seed, others for another, spread over [0, 1)', () => {
    const take = (seed: number): number[] => Array.from({ length: 2000 }, seeded(seed));
    const numbers = take(7);
    expect(take(7)).toEqual(numbers);
    expect(take(8)).not.toEqual(numbers);
    expect(numbers.every((n) => n >= 0 && n < 1)).toBe(true);
    for (let tenth = 0; tenth < 10; tenth++)
      expect(numbers.filter((n) => Math.floor(n * 10) === tenth).length).toBeGreaterThan(140);
  });
});
