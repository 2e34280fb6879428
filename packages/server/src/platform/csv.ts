import { formatAmount } from '@long-gate/core';
import { stringify } from 'csv-stringify/sync';

/**
 * What a spreadsheet may take for the beginning of a formula, also written full-width (U+FF1D, FF0B, FF0D, FF20): at
 * the beginning of a cell, or behind a separator by which another program may cut the line.
 */
const FORMULA = /(^|[;|\t\r\n])([\s"']*)([=+\-@\uff1d\uff0b\uff0d\uff20])/g;
/** An amount or a count as this application writes it: it stays a number in a spreadsheet. */
const NUMBER = /^-?\d+(\.\d+)?$/;

/** A cell that no spreadsheet runs: what looks like a formula gets an apostrophe before it, as spreadsheets have it. */
export function harmless(cell: string): string {
  return NUMBER.test(cell) ? cell : cell.replace(FORMULA, "$1$2'$3");
}

/** An amount in millionths of a dollar as a spreadsheet reads a number: no thousands, a plain minus. */
export function plainAmount(micros: number): string {
  return formatAmount(micros).replace('−', '-').replaceAll(',', '');
}

type Cell = string | number | null;
const OPTIONS = { cast: { string: harmless }, bom: true };

/** Rows under their headings as CSV (RFC 4180), UTF-8 with a mark, safe against formulas. */
export function csv(columns: readonly string[], rows: readonly (readonly Cell[])[]): string {
  return stringify([...rows.map((r) => [...r])], { ...OPTIONS, header: true, columns: [...columns] });
}

/** Some rows of a file that is written piece by piece. @param first the file begins with them. */
export function csvPart(rows: readonly (readonly Cell[])[], first = false): string {
  return stringify([...rows.map((r) => [...r])], { ...OPTIONS, bom: first });
}
