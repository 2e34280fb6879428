import { createHash, randomBytes } from 'node:crypto';

const ALPHABET = '0123456789abcdefghjkmnpqrstvwxyz';

/** A short random id with a readable prefix, such as `num_3f9k2m8c1x7q0v5t`: 80 random bits. */
export function newId(prefix: string): string {
  return `${prefix}_${encode(randomBytes(10))}`;
}

let last = { ms: 0, tail: 0 };
const TAIL = 2 ** 35;

/**
 * An id as `newId` makes it, later than every one before: 45 bits of the machine's time, 35 that begin at random and
 * count on within a millisecond. Where rows come by the thousand their index then grows at its end, instead of being
 * written anew all over. Nothing may depend on nobody guessing it.
 */
export function orderedId(prefix: string): string {
  const ms = Math.max(Date.now(), last.ms);
  const tail = ms === last.ms ? last.tail + 1 : randomBytes(4).readUInt32BE();
  // A clock set back, or more in a millisecond than there is room for: the next is begun before its time.
  last = tail < TAIL ? { ms, tail } : { ms: ms + 1, tail: 0 };
  const bits = (BigInt(last.ms) << 35n) | BigInt(last.tail);
  return `${prefix}_${encode(Buffer.from(bits.toString(16).padStart(20, '0'), 'hex'))}`;
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
