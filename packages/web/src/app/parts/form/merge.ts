/** A field that two people changed, each to something else. */
export interface Conflict<T> {
  field: keyof T & string;
  /** What both began with. */
  base: unknown;
  mine: unknown;
  theirs: unknown;
}

/** Spaces around a text are nobody's edit: the server takes them off, and who is typing has just not gone on yet. */
const bare = (v: unknown): unknown => (typeof v === 'string' ? v.trim() : (v ?? null));
const same = (a: unknown, b: unknown): boolean => JSON.stringify(bare(a)) === JSON.stringify(bare(b));

/**
 * Brings two edits of one thing together, field by field: what only one changed is theirs who changed it; what both
 * changed to the same is that; what both changed otherwise stays mine and is told, for a person to choose.
 * @param base what both began with.
 */
export function merge<T extends object>(base: T, mine: T, theirs: T): { value: T; conflicts: Conflict<T>[] } {
  const value = { ...theirs };
  const conflicts: Conflict<T>[] = [];
  for (const field of new Set([...Object.keys(mine), ...Object.keys(theirs)]) as Set<keyof T & string>) {
    if (same(mine[field], base[field])) continue;
    value[field] = mine[field];
    if (!same(theirs[field], base[field]) && !same(mine[field], theirs[field]))
      conflicts.push({ field, base: base[field], mine: mine[field], theirs: theirs[field] });
  }
  return { value, conflicts };
}

/** The fields that differ. */
export function changed<T extends object>(from: T, to: T): (keyof T & string)[] {
  return (Object.keys({ ...from, ...to }) as (keyof T & string)[]).filter((k) => !same(from[k], to[k]));
}
