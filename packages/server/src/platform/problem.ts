/** A refusal that reaches the person: RFC 9457 problem details, with the fields at fault. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    /** Short kebab-case name, the last part of the problem type. */
    readonly code: string,
    detail: string,
    /** What to mend, by field path. */
    readonly fields: { field: string; message: string }[] = [],
    readonly headers: Record<string, string> = {},
  ) {
    super(detail);
    this.name = 'Problem';
  }
}

export const notFound = (what: string): Problem =>
  new Problem(404, 'not-found', `This ${what} does not exist, or belongs to another business.`);
export const conflict = (detail: string): Problem => new Problem(409, 'conflict', detail);
export const refused = (detail: string, fields: { field: string; message: string }[] = []): Problem =>
  new Problem(422, 'refused', detail, fields);
/** Two people edited the same thing. */
export const stale = (what: string): Problem =>
  new Problem(
    412,
    'changed-meanwhile',
    `This ${what} was changed by someone else meanwhile. Reload it; what you typed is kept here.`,
  );

/** @throws Problem 412 unless the row is still at the version the editor saw. */
export function expectVersion(what: string, row: { version: number }, seen: number | null): void {
  if (seen !== null && row.version !== seen) throw stale(what);
}
