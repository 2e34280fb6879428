/** The time zone in which a business counts its days; Eastern while it is not known which one is open. */
export function zoneOf(business: { timeZone: string } | null | undefined): string {
  return business?.timeZone ?? 'America/New_York';
}
