/** Shorter secrets could be guessed from their ends, or from their length. */
const LONG_ENOUGH = 12;

/** A secret as it may be shown: that there is one, and of a long one the last four characters. */
export function mask(secret: string): string {
  if (secret === '') return '';
  return secret.length >= LONG_ENOUGH ? `••••••${secret.slice(-4)}` : '••••••';
}
