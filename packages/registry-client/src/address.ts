/** A name and a password, or a name that is a token by itself. */
export interface Credentials {
  readonly user: string;
  readonly password: string;
}

/** What a request carries behind the word `Bearer` (RFC 6750). */
export interface Token {
  readonly token: string;
}

/** An http address, and the credentials in it. */
export interface SplitAddress {
  /** May be shown. */
  readonly address: string;
  readonly credentials: Credentials | null;
}

/**
 * Takes user and password out of an http address. Any other text stays as it is: of other addresses the user is no
 * secret, and part of them.
 */
export function splitAddress(text: string): SplitAddress {
  const url = httpUrl(text);
  if (url === null || (url.username === '' && url.password === ''))
    return { address: text, credentials: null };
  const credentials = { user: decoded(url.username), password: decoded(url.password) };
  url.username = '';
  url.password = '';
  return { address: url.href, credentials };
}

/** For the header `authorization`, as RFC 7617 and RFC 6750 have it. */
export function authorizationOf(credentials: Credentials | Token): string {
  if ('token' in credentials) return `Bearer ${credentials.token}`;
  const { user, password } = credentials;
  return `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}`;
}

/** A registry's address, its credentials apart. */
export interface RegistryAddress {
  /** Without credentials and without a slash at its end; may be shown. */
  readonly url: string;
  /** For the header of the same name; null: none. */
  readonly authorization: string | null;
}

/** @returns null for what is no http or https address. User and password in it are taken out. */
export function addressOf(text: string): RegistryAddress | null {
  const { address, credentials } = splitAddress(text);
  const url = httpUrl(address);
  if (url === null) return null;
  return {
    url: url.href.replace(/\/+$/, ''),
    authorization: credentials === null ? null : authorizationOf(credentials),
  };
}

/** An address as it may be shown: without credentials. A text that is no address is shown as it is. */
export function shownAddress(text: string): string {
  return addressOf(text)?.url ?? text;
}

function httpUrl(text: string): URL | null {
  if (!/^https?:/i.test(text) || !URL.canParse(text)) return null;
  return new URL(text);
}

/** Text without percent signs stands for itself. */
function decoded(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}
