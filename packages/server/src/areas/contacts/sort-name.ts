/** By what a contact stands in lists: last name, then first; by number where there is none. */
export function sortName(first: string, last: string, e164: string): string {
  // People without a name come last, by number.
  return `${last} ${first}`.trim().toLowerCase() || `~${e164}`;
}
