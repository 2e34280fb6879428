import { throughputOf } from '../registration/throughput.js';
import { planDispatch } from './plan-dispatch.js';

describe('planDispatch', () => {
  it('says when the last text leaves', () => {
    const t = throughputOf('private company', 63, 'marketing');
    expect(planDispatch({ A: 401, B: 0, C: 0 }, 1, t, 1000).lastAt).toBe(11_000);
    expect(planDispatch({ A: 0, B: 0, C: 101 }, 2, t, 0).lastAt).toBe(20_000);
  });
});
