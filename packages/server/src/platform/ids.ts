import { createHash, randomBytes } from 'node:crypto';

const ALPHABET = '0123456789abcdefghjkmnpqrstvwxyz';

/** A short random id with a readable prefix, such as `num_3f9k2m8c1x7q0v5t`: 80 random bits. */
export function newId(prefix: string): string {
  return `${prefix}_${encode(randomBytes(10))}`;
}

/** The same id for the same words: what a repeated request creates is created once. */
export function idFrom(prefix: string, ...words: string[]): string {
  return `${prefix}_${encode(createHash('sha256').update(words.join('\u0000')).digest().subarray(0, 10))}`;
}

function encode(bytes: Buffer): string {
  let bits = 0;
  let value = 0;
  let out = '';
  for (const byte of bytes) {
    value = (value << 8) | byte;
    bits += 8;
    while (bits >= 5) {
      bits -= 5;
      out += ALPHABET.charAt((value >> bits) & 31);
      value &= (1 << bits) - 1;
    }
  }
  return out;
}
