import pLimit from 'p-limit';
import pRetry, { AbortError } from 'p-retry';
import {
  documentOfForeign,
  documentPath,
  parseRegistryJson,
  RegistryError,
  unreachableRegistry,
  type RegistryShape,
  type VersionScheme,
} from '@deep-ledger/core';
import type { RegistryAddress } from './address.js';
import { fetchThrough } from './fetch-through.js';

/** What a registry answered. */
export type Answer =
  | { readonly kind: 'found'; readonly body: unknown; readonly etag: string | null }
  /** As with the entity tag that was sent along. */
  | { readonly kind: 'unchanged' }
  | { readonly kind: 'missing' };

export interface HttpSettings {
  /** Requests at once. */
  readonly atOnce: number;
  /** For one try, until its body is there. */
  readonly timeoutMs: number;
  /** Tries after the first. */
  readonly retries: number;
  /** Of a body, unpacked. */
  readonly mostBytes: number;
  /** Reads certificates in PEM that are trusted beside the usual ones; null: there are none. */
  readonly ca: (() => Promise<string>) | null;
}

const USUAL: HttpSettings = {
  atOnce: 16,
  timeoutMs: 10_000,
  retries: 2,
  mostBytes: 32 * 1024 * 1024,
  ca: null,
};

/**
 * One registry over HTTP. It repeats a request that fails for a moment (no connection, a status of 500 and above, 429),
 * after a wait that doubles each time; it does not repeat one that gets no answer of a registry. Credentials go along
 * in a header, to this origin alone, and never into a message.
 */
export class HttpRegistry {
  private readonly settings: HttpSettings;
  private fetching: Promise<typeof fetch> | null = null;
  private readonly limit: <T>(work: () => Promise<T>) => Promise<T>;

  constructor(
    private readonly address: RegistryAddress,
    settings: Partial<HttpSettings> = {},
    /** Where it does not speak as ours do. */
    readonly shape: RegistryShape | null = null,
    private readonly versions: VersionScheme = 'semver',
  ) {
    this.settings = { ...USUAL, ...settings };
    this.limit = pLimit(this.settings.atOnce);
  }

  /** Where the document of a package is; may be shown. */
  documentAddress(name: string): string {
    const path =
      this.shape === null
        ? `/packages/${encodeURIComponent(name)}`
        : documentPath(this.shape, name);
    return `${this.address.url}${path}`;
  }

  /** @throws RegistryError when the registry cannot be asked or answers nonsense */
  async document(name: string, etag: string | null = null): Promise<Answer> {
    const answer = await this.get(this.documentAddress(name), etag);
    if (this.shape === null || answer.kind !== 'found') return answer;
    return { ...answer, body: documentOfForeign(this.shape, name, answer.body, this.versions) };
  }

  /** The JSON at a path below the registry's address; null: there is none. @throws RegistryError */
  async raw(path: string): Promise<unknown> {
    const answer = await this.get(`${this.address.url}${path}`, null);
    return answer.kind === 'found' ? answer.body : null;
  }

  /** Asks something, to see whether it answers as a registry. @throws RegistryError */
  async probe(): Promise<void> {
    if (this.shape === null) await this.read('/changes?since=0');
    else await this.get(this.documentAddress('a-name-that-is-only-tried'), null);
  }

  /**
   * @param path below the registry's address, with its query
   * @throws RegistryError when the registry cannot be asked, answers nonsense or has nothing there
   */
  async read(path: string): Promise<unknown> {
    const place = `${this.address.url}${path}`;
    const answer = await this.get(place, null);
    if (answer.kind === 'found') return answer.body;
    throw new RegistryError(
      'REGISTRY_NONSENSE',
      `${place} is not there (status 404). Is this address a registry?`,
    );
  }

  private get(place: string, etag: string | null): Promise<Answer> {
    const { retries } = this.settings;
    return this.limit(() =>
      pRetry(() => this.tryOnce(place, etag), { retries, minTimeout: 100, factor: 2 }),
    );
  }

  private async tryOnce(place: string, etag: string | null): Promise<Answer> {
    const { authorization } = this.address;
    const signal = AbortSignal.timeout(this.settings.timeoutMs);
    this.fetching ??=
      this.settings.ca === null ? fetchThrough(null) : this.settings.ca().then(fetchThrough);
    const fetching = await this.fetching;
    const response = await fetching(place, {
      headers: {
        accept: 'application/json',
        ...(etag === null ? {} : { 'if-none-match': etag }),
        ...(authorization === null ? {} : { authorization }),
      },
      // A redirection to elsewhere would take the credentials along.
      redirect: authorization === null ? 'follow' : 'error',
      signal,
    }).catch((error: unknown) => {
      throw unreachableRegistry(place, error);
    });
    const { status } = response;
    if (status === 304) return { kind: 'unchanged' };
    // Others have no way of their own to say that a package is not there.
    if (status === 404 && (this.shape !== null || isProblem(response))) return { kind: 'missing' };
    if (status >= 500 || status === 429)
      throw new RegistryError('REGISTRY_DOWN', `${place} answers with status ${status}.`);
    if (status === 401 || status === 403)
      throw refused(`${place} wants other credentials (status ${status}).`);
    if (!response.ok)
      throw refused(`${place} answers with status ${status}. Is this address a registry?`);
    const text = await this.bodyOf(place, response);
    try {
      return {
        kind: 'found',
        body: parseRegistryJson(place, text),
        etag: response.headers.get('etag'),
      };
    } catch (error) {
      throw new AbortError(error as Error);
    }
  }

  private async bodyOf(place: string, response: Response): Promise<string> {
    const { mostBytes } = this.settings;
    const decoder = new TextDecoder();
    let [text, bytes] = ['', 0];
    try {
      for await (const chunk of (response.body ?? []) as AsyncIterable<Uint8Array>) {
        bytes += chunk.byteLength;
        if (bytes > mostBytes) break;
        text += decoder.decode(chunk, { stream: true });
      }
    } catch {
      throw new RegistryError(
        'REGISTRY_DOWN',
        `${place} broke off its answer. Is the registry running?`,
      );
    }
    if (bytes > mostBytes)
      throw refused(`${place} answers with more than ${mostBytes} bytes; so much is not read.`);
    return text + decoder.decode();
  }
}

/** A registry says what it does not have with a problem document (RFC 9457); any other server has no page there. */
function isProblem(response: Response): boolean {
  return response.headers.get('content-type')?.startsWith('application/problem+json') === true;
}

/** An answer that would be the same at the next try. */
function refused(message: string): AbortError {
  return new AbortError(new RegistryError('REGISTRY_NONSENSE', message));
}
