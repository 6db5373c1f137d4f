import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';

/** 256 random bits, as text for an address, a cookie or a header. */
export function newSecret(): string {
  return randomBytes(32).toString('base64url');
}

/** What is kept of a secret. A fast hash is enough, since nobody guesses 256 bits. */
export function hashOf(secret: string): string {
  return createHash('sha256').update(secret).digest('base64url');
}

/** The value that a page has to send along with what it changes: bound to the session, of no use without it. */
export function csrfOf(secret: string): string {
  return hashOf(`csrf ${secret}`);
}

/** Compares in constant time. */
export function isSame(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(hashOf(a)), Buffer.from(hashOf(b))];
  return timingSafeEqual(x, y);
}
