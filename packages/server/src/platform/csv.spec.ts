import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import { csv, harmless, plainAmount } from './csv.js';

describe('spreadsheet exports', () => {
  it('disarm formulas in every dress, also behind a separator by which another program would cut the line', () => {
    for (const text of [
      '=1+1',
      '+1+1',
      '-1+1',
      '@SUM(A1)',
      '＝1+1',
      '＋1',
      '－cmd',
      '＠x',
      '\t=1',
      '\r=1',
      '  =1',
      '"=1',
      "'  =1",
      'a;=1+1',
      ';=1+1',
      'a\t＝1',
      'two\n=1',
      'a|@x',
    ]) {
      // However the line is cut, no piece begins with what a spreadsheet takes for a formula.
      for (const piece of harmless(text).split(/[;|\t\r\n]/))
        expect(piece.replace(/^[\s"]+/, ''))
          .withContext(JSON.stringify(text))
          .not.toMatch(/^[=+\-@＝＋－＠]/);
    }
  });

  it('leave amounts, counts and plain words as they are', () => {
    for (const text of [
      '-12.50',
      '0.007',
      '1200',
      'Heron Lane',
      'rye - a loaf',
      'a@b.example',
      '',
      '2030-03-12T16:00:00Z',
    ])
      expect(harmless(text)).toBe(text);
    expect(plainAmount(-1_234_500_000)).toBe('-1234.50');
    const [row] = parse<{ amount: string }>(csv(['amount'], [[plainAmount(-1_234_500_000)]]), {
      columns: true,
      bom: true,
    });
    expect(Number(row?.amount)).toBe(-1234.5);
  });

  it('come back as they went out, but for the apostrophes', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'grapheme' }), { minLength: 1, maxLength: 5 }), (cells) => {
        const columns = cells.map((_, i) => `c${i}`);
        const [, row] = parse(csv(columns, [cells]), { bom: true, relax_column_count: true });
        return row === undefined ? cells.every((c) => c === '') : row.every((c, i) => c === harmless(cells[i] ?? ''));
      }),
    );
  });
});
