import { hash } from 'node:crypto';

const ERASED = 'erased:';
/** So much of a digest is left where somebody was erased. */
const LEFT = 16;

/** What stands in place of a number of somebody who was erased: it tells their texts from others' and names nobody. */
export const erasedNumber = (digest: string): string => `${ERASED}${digest.slice(0, LEFT)}`;

/** By which a number that was taken away is known again: SHA-256 of its business and itself, in hexadecimal digits. */
export function numberDigest(businessId: string, e164: string): string {
  return hash('sha256', `${businessId}\n${e164}`, 'hex');
}

/** Under what something may be kept of a number: all of its digest, and what is left of it where it was erased. */
export const digestsOf = (businessId: string, e164: string): [whole: string, left: string] => {
  const digest = numberDigest(businessId, e164);
  return [digest, digest.slice(0, LEFT)];
};

/** What is known of the digest of a number, also where only that is left of it. */
export const knownDigest = (businessId: string, e164: string): string =>
  e164.startsWith(ERASED) ? e164.slice(ERASED.length) : numberDigest(businessId, e164);
