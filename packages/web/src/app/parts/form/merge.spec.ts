import { changed, merge } from './merge';

describe('bringing two edits together', () => {
  const base = { name: 'Heron', city: 'Aldersund', samples: ['a'], open: true };

  it('keeps what only one of the two changed, whoever it was', () => {
    const { value, conflicts } = merge(base, { ...base, name: 'Heron Lane' }, { ...base, city: 'Northbank' });
    expect(value).toEqual({ ...base, name: 'Heron Lane', city: 'Northbank' });
    expect(conflicts).toEqual([]);
  });

  it('tells what both changed to something else, and keeps mine until it is chosen', () => {
    const { value, conflicts } = merge(base, { ...base, samples: ['a', 'b'] }, { ...base, samples: ['c'] });
    expect(value.samples).toEqual(['a', 'b']);
    expect(conflicts).toEqual([{ field: 'samples', base: ['a'], mine: ['a', 'b'], theirs: ['c'] }]);
  });

  it('finds nothing to choose where both changed it to the same, or back to what it was', () => {
    expect(merge(base, { ...base, open: false }, { ...base, open: false }).conflicts).toEqual([]);
    const back = merge(base, base, { ...base, open: false });
    expect([back.value.open, back.conflicts]).toEqual([false, []]);
  });

  it('names the fields that differ', () => {
    expect(changed(base, { ...base, samples: ['a'] })).toEqual([]);
    expect(changed(base, { ...base, samples: [], open: false }).sort()).toEqual(['open', 'samples']);
  });
});
