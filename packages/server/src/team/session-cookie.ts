import type { CookieOptions } from 'express';
import type { Settings } from '../settings.js';
import { SESSION_DAYS } from './sessions.service.js';

export const SESSION_COOKIE = 'deep-ledger-session';

/** Out of reach for scripts and for other sites; over TLS alone, unless the server answers this machine alone. */
export function sessionCookie({ publicUrl }: Settings): CookieOptions {
  return {
    httpOnly: true,
    sameSite: 'strict',
    secure: new URL(publicUrl).protocol === 'https:',
    path: '/api',
    maxAge: SESSION_DAYS * 86_400_000,
  };
}
