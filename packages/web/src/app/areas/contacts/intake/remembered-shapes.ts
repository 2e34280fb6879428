import type { ColumnUse } from './columns';

const KEY = 'long-gate intake shapes';
const MOST = 40;
type Shapes = Record<string, ColumnUse[]>;

/** What makes files of one shape: their headings in their order. Each business has fields of its own. */
const shapeOf = (businessId: string, columns: readonly string[]): string =>
  [businessId, ...columns.map((c) => c.trim().toLowerCase())].join('\n');

function read(): Shapes {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Shapes;
  } catch {
    return {};
  }
}

/**
 * How the columns of a file of this shape were taken last, in this browser; null for a shape never seen. What is no use
 * any more, as a field that was taken away, is left out.
 */
export function rememberedUses(
  businessId: string,
  columns: readonly string[],
  there: ReadonlySet<ColumnUse>,
): ColumnUse[] | null {
  const uses = read()[shapeOf(businessId, columns)];
  return uses?.length === columns.length ? uses.map((u) => (there.has(u) ? u : 'ignore')) : null;
}

/** Keeps how the columns of a file were taken, for the next of the same shape. Headings alone are kept, no cells. */
export function rememberUses(businessId: string, columns: readonly string[], uses: readonly ColumnUse[]): void {
  const shape = shapeOf(businessId, columns);
  const kept = Object.entries(read())
    .filter(([key]) => key !== shape)
    .slice(-(MOST - 1));
  try {
    localStorage.setItem(KEY, JSON.stringify({ ...Object.fromEntries(kept), [shape]: uses }));
  } catch {
    // A browser that keeps nothing asks again the next time.
  }
}
