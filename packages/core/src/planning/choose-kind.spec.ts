import { chooseKind, type KindQuestion } from './choose-kind.js';

describe('choosing a kind of number by need', () => {
  const Q: KindQuestion = { twoWay: true, textsADay: 500, countries: ['US'], within: 'weeks' };
  const fits = (q: Partial<KindQuestion>): string[] =>
    chooseKind({ ...Q, ...q })
      .filter((k) => k.fits)
      .map((k) => k.kind);

  it('lays all four beside one another, the cheapest that fits first', () => {
    expect(chooseKind(Q).length).toBe(4);
    expect(fits({})).toEqual(['local number', 'toll-free number']);
  });

  it('says why a kind does not fit', () => {
    const why = (kind: string, q: Partial<KindQuestion>): string =>
      chooseKind({ ...Q, ...q }).find((k) => k.kind === kind)?.why ?? '';
    expect(why('sender ID', {})).toContain('United States');
    expect(why('sender ID', { countries: ['GB'] })).toContain('nobody can reply');
    expect(why('short code', {})).toContain('two to three months');
    expect(why('local number', { textsADay: 90_000 })).toContain('40,000 texts a day');
  });

  it('has an answer for great volumes in months, and for one-way texts abroad in days', () => {
    expect(fits({ textsADay: 600_000, within: 'months' })).toEqual(['short code']);
    expect(fits({ twoWay: false, countries: ['GB', 'SE'] })).toEqual(['sender ID']);
    expect(fits({ countries: ['US', 'GB'], twoWay: true })).toEqual([]);
  });
});
