import type { KeptTable } from '@long-gate/contracts';

/** One column of a table: what stands above it, how wide it is, and what becomes of it where there is no room. */
export interface Column<T> {
  id: string;
  head: string;
  /** Its head is for whoever does not see the table: what stands in it speaks for itself. */
  quiet?: boolean;
  /** Pixels; a column without shares what is left. */
  width?: number;
  /** Pixels below which a column that shares is not pressed. */
  least?: number;
  /** Its part of what is left, beside the others' of 1. */
  share?: number;
  right?: boolean;
  /** What its rows are sorted by; a column without is not sorted by. Null comes last. */
  by?: (row: T) => string | number | null;
  /** The whole list can be sorted by it where it comes from; see the table’s `order`. */
  sorts?: boolean;
  /** Where there is no room, 1 leaves first; a column without stays. */
  leaves?: number;
  /** What stands in it, where no cell is written for it. */
  text?: (row: T) => string;
  /** Classes of its cells. */
  face?: string | ((row: T) => string);
  /** It is there when it is chosen, and not before. */
  asked?: boolean;
}

/** How one person has a table: columns put away or asked for, widths in pixels, and what it is sorted by. */
export type Kept = KeptTable;
export const AS_IT_WAS: Kept = { away: [], asked: [], widths: {}, sort: null };

const LEAST = 64;
const leastOf = <T>(c: Column<T>, kept: Kept): number => kept.widths[c.id] ?? c.width ?? c.least ?? LEAST;

/**
 * The columns there is room for: what the person put away is not there, and then the less important leave first.
 * @param width pixels there are; null while that is not known.
 * @param taken pixels that no column can have.
 */
export function columnsIn<T>(columns: readonly Column<T>[], kept: Kept, width: number | null, taken = 0): Column<T>[] {
  let there = columns.filter((c) => !kept.away.includes(c.id) && (!c.asked || kept.asked.includes(c.id)));
  if (width === null) return there;
  const leaving = there.filter((c) => c.leaves !== undefined).sort((a, b) => (a.leaves ?? 0) - (b.leaves ?? 0));
  for (const c of leaving) {
    if (there.reduce((sum, x) => sum + leastOf(x, kept), taken) <= width) break;
    there = there.filter((x) => x !== c);
  }
  return there;
}

/** The width of each of these columns in pixels: those without one of their own share what is left. */
export function widthsIn<T>(columns: readonly Column<T>[], kept: Kept, width: number, taken = 0): number[] {
  const own = (c: Column<T>): number | undefined => kept.widths[c.id] ?? c.width;
  const fixed = columns.reduce((sum, c) => sum + (own(c) ?? 0), taken);
  const shares = columns.reduce((sum, c) => sum + (own(c) === undefined ? (c.share ?? 1) : 0), 0);
  return columns.map((c) => own(c) ?? Math.max(c.least ?? LEAST, ((width - fixed) * (c.share ?? 1)) / shares));
}

/** Rows in the order asked for; rows that are alike stay in the order they came in. */
export function sortedBy<T>(rows: readonly T[], columns: readonly Column<T>[], sort: Kept['sort']): readonly T[] {
  const by = columns.find((c) => c.id === sort?.by)?.by;
  if (!by || !sort) return rows;
  const sign = sort.down ? -1 : 1;
  return [...rows].sort((a, b) => {
    const [x, y] = [by(a), by(b)];
    if (x === null || y === null) return x === y ? 0 : x === null ? 1 : -1;
    return (
      sign * (typeof x === 'number' && typeof y === 'number' ? x - y : String(x).localeCompare(String(y), 'en-US'))
    );
  });
}
