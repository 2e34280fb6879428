import { createHash, randomBytes } from 'node:crypto';

/** A secret for a link or a cookie: 256 random bits. */
export const newToken = (): string => randomBytes(32).toString('base64url');

/** What is kept of a secret; good only for such as cannot be guessed. */
export const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex');
