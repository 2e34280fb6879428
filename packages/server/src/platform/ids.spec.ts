import { newId, orderedId } from './ids.js';

describe('ids', () => {
  it('are of one shape, whether they come in an order or in none', () => {
    for (const id of [newId('evt'), orderedId('evt')]) expect(id).toMatch(/^evt_[0-9a-hjkmnp-tv-z]{16}$/);
  });

  it('in their order never repeat one, nor come before an earlier one', () => {
    const ids = Array.from({ length: 50_000 }, () => orderedId('evt'));
    expect(new Set(ids).size).toBe(ids.length);
    expect([...ids].sort()).toEqual(ids);
  });

  it('stay in their order when the clock of the machine is set back', () => {
    const before = orderedId('evt');
    const now = Date.now();
    spyOn(Date, 'now').and.returnValue(now - 3_600_000);
    expect(orderedId('evt') > before).toBeTrue();
  });
});
