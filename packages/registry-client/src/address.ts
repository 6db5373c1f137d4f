/** A registry's address, its credentials apart. */
export interface RegistryAddress {
  /** Without credentials and without a slash at its end; may be shown. */
  readonly url: string;
  /** For the header of the same name; null: none. */
  readonly authorization: string | null;
}

/** @returns null for what is no http or https address. User and password in it are taken out. */
export function addressOf(text: string): RegistryAddress | null {
  let url: URL;
  try {
    url = new URL(text);
  } catch {
    return null;
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:') return null;
  const [user, password] = [url.username, url.password].map(decodeURIComponent);
  url.username = '';
  url.password = '';
  const pair = Buffer.from(`${user}:${password}`).toString('base64');
  return {
    url: url.href.replace(/\/+$/, ''),
    authorization: user === '' && password === '' ? null : `Basic ${pair}`,
  };
}

/** An address as it may be shown: without credentials. What is no address is shown as it is. */
export function shownAddress(text: string): string {
  return addressOf(text)?.url ?? text;
}
