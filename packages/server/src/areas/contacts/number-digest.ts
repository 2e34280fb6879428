import { hash } from 'node:crypto';

/** What stands in place of a number of somebody who was erased: it tells their texts from others' and names nobody. */
export const erasedNumber = (digest: string): string => `erased:${digest.slice(0, 16)}`;

/** By which a number that was taken away is known again: SHA-256 of its business and itself, in hexadecimal digits. */
export function numberDigest(businessId: string, e164: string): string {
  return hash('sha256', `${businessId}\n${e164}`, 'hex');
}
