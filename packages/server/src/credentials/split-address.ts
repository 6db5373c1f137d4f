import type { Credentials } from './vault.js';

/** An address, and what in it is nobody's business. */
export interface SplitAddress {
  /** May be shown. */
  readonly address: string;
  readonly credentials: Credentials | null;
}

/** Takes user and password out of an http address. Of other addresses the user is no secret, and part of them. */
export function splitAddress(text: string): SplitAddress {
  if (!/^https?:\/\//i.test(text) || !URL.canParse(text))
    return { address: text, credentials: null };
  const url = new URL(text);
  if (url.username === '' && url.password === '') return { address: text, credentials: null };
  const [user, password] = [url.username, url.password].map(decodeURIComponent) as [string, string];
  url.username = '';
  url.password = '';
  return { address: url.href, credentials: { user, password } };
}
