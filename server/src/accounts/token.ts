import { createHash, randomBytes } from 'node:crypto';

/** A secret of 256 bits; the database holds only its hash. */
export const newToken = (): string => randomBytes(32).toString('base64url');
export const tokenHash = (token: string): Buffer => createHash('sha256').update(token).digest();
