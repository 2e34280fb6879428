import { fuzz } from './fuzz.js';

describe('a thousand bad requests in every role', () => {
  it('make no fault, hang nothing, are refused in words and leave nothing behind', async () => {
    const { sent, faults, statuses } = await fuzz(1_000, 'every change');
    expect(faults.slice(0, 5)).toEqual([]);
    expect(sent).toBe(1_000);
    // They were bad, and the good ones among them went through.
    expect(statuses[422]).toBeGreaterThan(80);
    expect(statuses[200]).toBeGreaterThan(50);
  });
});
