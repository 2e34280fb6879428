import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';

const SCRYPT = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };

function derive(password: string, salt: Buffer): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    scrypt(password.normalize('NFKC'), salt, 32, SCRYPT, (error, key) => (error ? reject(error) : resolve(key)));
  });
}

/** scrypt with a salt of its own (RFC 7914); stored as `scrypt:salt:key`, base64. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return `scrypt:${salt.toString('base64')}:${(await derive(password, salt)).toString('base64')}`;
}

export async function checkPassword(password: string, stored: string): Promise<boolean> {
  const [, salt = '', key = ''] = stored.split(':');
  const wanted = Buffer.from(key, 'base64');
  const got = await derive(password, Buffer.from(salt, 'base64'));
  return wanted.length === got.length && timingSafeEqual(wanted, got);
}

/** A hash to check against when there is no such person, so that the time taken tells nothing. */
export const NOBODY = `scrypt:${Buffer.alloc(16).toString('base64')}:${Buffer.alloc(32).toString('base64')}`;
