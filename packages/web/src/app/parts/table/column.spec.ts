import { AS_IT_WAS, columnsIn, sortedBy, widthsIn, type Column } from './column';

interface Row {
  name: string;
  n: number | null;
}
const COLUMNS: Column<Row>[] = [
  { id: 'name', head: 'Name', width: 100, by: (r) => r.name },
  { id: 'n', head: 'N', width: 80, leaves: 2, by: (r) => r.n },
  { id: 'why', head: 'Why', least: 120, share: 2 },
  { id: 'note', head: 'Note', width: 60, leaves: 1 },
  { id: 'extra', head: 'Extra', width: 50, asked: true },
];
const ids = (columns: Column<Row>[]): string => columns.map((c) => c.id).join(' ');

describe('the columns of a table', () => {
  it('are all there where there is room, but those that are there only when asked for', () => {
    expect(ids(columnsIn(COLUMNS, AS_IT_WAS, 500))).toBe('name n why note');
    expect(ids(columnsIn(COLUMNS, AS_IT_WAS, null))).toBe('name n why note');
    expect(ids(columnsIn(COLUMNS, { ...AS_IT_WAS, asked: ['extra'] }, 500))).toBe('name n why note extra');
  });

  it('leave in their order where there is no room, and those that must stay do', () => {
    expect(ids(columnsIn(COLUMNS, AS_IT_WAS, 359))).toBe('name n why');
    expect(ids(columnsIn(COLUMNS, AS_IT_WAS, 299))).toBe('name why');
    expect(ids(columnsIn(COLUMNS, AS_IT_WAS, 10))).toBe('name why');
  });

  it('make room for what no column can have, such as the box for choosing a row', () => {
    expect(ids(columnsIn(COLUMNS, AS_IT_WAS, 360, 0))).toBe('name n why note');
    expect(ids(columnsIn(COLUMNS, AS_IT_WAS, 360, 28))).toBe('name n why');
  });

  it('that a person put away are gone first, so that others need not leave', () => {
    expect(ids(columnsIn(COLUMNS, { ...AS_IT_WAS, away: ['n'] }, 299))).toBe('name why note');
  });

  it('share what is left by their parts, and fill the width', () => {
    const shown = columnsIn(COLUMNS, AS_IT_WAS, 500);
    expect(widthsIn(shown, AS_IT_WAS, 500)).toEqual([100, 80, 260, 60]);
    const wider = { ...AS_IT_WAS, widths: { name: 150 } };
    expect(widthsIn(shown, wider, 500)).toEqual([150, 80, 210, 60]);
    expect(widthsIn(shown, AS_IT_WAS, 200)[2])
      .withContext('never pressed below its least')
      .toBe(120);
  });
});

describe('sorting', () => {
  const rows: Row[] = [
    { name: 'b', n: 9 },
    { name: 'a', n: null },
    { name: 'c', n: 10 },
    { name: 'd', n: 9 },
  ];
  const names = (sort: { by: string; down: boolean } | null): string =>
    sortedBy(rows, COLUMNS, sort)
      .map((r) => r.name)
      .join('');

  it('goes by what the column says, numbers as numbers, and leaves alike rows in their order', () => {
    expect(names({ by: 'name', down: false })).toBe('abcd');
    expect(names({ by: 'n', down: false })).toBe('bdca');
    expect(names(null)).toBe('bacd');
  });
  it('puts what is not known last, whichever way', () => {
    expect(names({ by: 'n', down: true })).toBe('cbda');
  });
  it('does nothing by a column that is not sorted by, and never turns the rows it was given', () => {
    expect(names({ by: 'why', down: false })).toBe('bacd');
    expect(rows.map((r) => r.name).join('')).toBe('bacd');
  });
});
