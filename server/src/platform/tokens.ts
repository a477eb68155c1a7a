import { randomBytes } from 'node:crypto';

/** A token of 160 random bits in characters that fit an address. */
export function newToken(): string {
  return randomBytes(20).toString('base64url');
}
