/**
 * Whether a name is that of a time zone of the IANA's database, such as `America/Chicago`. In a file of its own, without
 * the calendar: contracts ask it wherever the interface begins.
 */
export function isZone(name: string): boolean {
  if (!name.includes('/')) return false;
  try {
    return new Intl.DateTimeFormat('en-US', { timeZone: name }).resolvedOptions().timeZone !== '';
  } catch {
    return false;
  }
}
