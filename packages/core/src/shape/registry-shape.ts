import { isIntegrity } from '../registry/index.js';
import { parseVersion, type VersionScheme } from '../version/index.js';
import { found, readQuery, type Query } from './query.js';
import { sourceAt, sourceOfJson, type SourceNode } from './syntax/index.js';

/**
 * A query within a release, or, where it begins with `$$`, within the whole document, with `{version}` for the
 * release's version.
 */
export interface ReleaseQuery {
  readonly text: string;
  /** Null: it depends on the version, and is made for each. */
  readonly query: Query | null;
  readonly isOfDocument: boolean;
}

/** How a registry speaks that does not speak as ours do. */
export interface RegistryShape {
  /** A URI template (RFC 6570) below the registry's address, with `{name}` or `{+name}`. */
  readonly document: string;
  readonly releases: Query;
  /** Null: the key under which a release stands is its version. */
  readonly version: ReleaseQuery | null;
  readonly published: ReleaseQuery | null;
  readonly licence: ReleaseQuery | null;
  readonly needs: ReleaseQuery | null;
  readonly optional: ReleaseQuery | null;
  readonly deprecated: ReleaseQuery | null;
  readonly url: ReleaseQuery;
  readonly integrity: ReleaseQuery;
}

/** Reads a query of either kind; a sentence where it is none. */
export function readReleaseQuery(text: string): ReleaseQuery | string {
  const isOfDocument = text.startsWith('$$');
  const plain = isOfDocument ? text.slice(1) : text;
  const reading = readQuery(withVersion(plain, '1.0.0'));
  if (!reading.ok) return reading.message;
  return { text: plain, query: plain.includes('{version}') ? null : reading.query, isOfDocument };
}

/** The version as a name selector's text. */
function withVersion(text: string, version: string): string {
  return text.replaceAll('{version}', `'${version.replace(/['\\]/g, (one) => `\\${one}`)}'`);
}

/** The place of a package's document below the registry's address: `{name}` is percent-encoded whole, `{+name}` keeps slashes. */
export function documentPath({ document }: Pick<RegistryShape, 'document'>, name: string): string {
  const kept = name.split('/').map(encodeURIComponent).join('/');
  return document.replaceAll('{+name}', kept).replaceAll('{name}', encodeURIComponent(name));
}

/**
 * A document of a foreign registry as ours would write it. Releases whose version is none are left out; what is missing or
 * wrong in one otherwise is found when the document is read.
 * O(size).
 * @param scheme of the registry's versions
 */
export function documentOfForeign(
  shape: RegistryShape,
  name: string,
  document: unknown,
  scheme: VersionScheme,
): object {
  const root = sourceOfJson(document);
  const releases = (found(shape.releases, root) ?? []).flatMap((path) => {
    const node = sourceAt(root, path)!;
    const key = String(path.at(-1));
    const at = (query: ReleaseQuery | null, version: string): SourceNode | null =>
      query === null ? null : nodeAt(query, query.isOfDocument ? root : node, version);
    const version = shape.version === null ? key : textOf(at(shape.version, ''));
    if (version === null || !parseVersion(version, scheme).ok) return [];
    const text = (query: ReleaseQuery | null): string | null => textOf(at(query, version));
    const table = (query: ReleaseQuery | null): Record<string, string> =>
      textsOf(at(query, version));
    return [
      {
        version,
        published: timeOf(text(shape.published)),
        licence: text(shape.licence),
        needs: table(shape.needs),
        optional: table(shape.optional),
        deprecated: text(shape.deprecated),
        archive: {
          path: text(shape.url) ?? '',
          integrity: integrityOf(text(shape.integrity)),
          bytes: 0,
        },
      },
    ];
  });
  return { name, releases };
}

function nodeAt(query: ReleaseQuery, node: SourceNode, version: string): SourceNode | null {
  const reading = query.query ?? readQuery(withVersion(query.text, version));
  const compiled = 'ok' in reading ? (reading.ok ? reading.query : null) : reading;
  const [path] = compiled === null ? [] : (found(compiled, node) ?? []);
  return path === undefined ? null : sourceAt(node, path);
}

function textOf(node: SourceNode | null): string | null {
  return node?.kind === 'scalar' && typeof node.value === 'string' ? node.value : null;
}

function textsOf(node: SourceNode | null): Record<string, string> {
  if (node?.kind !== 'table') return {};
  return Object.fromEntries(
    [...node.entries.values()].flatMap(({ key, value }) => {
      const text = textOf(value);
      return text === null ? [] : [[key, text] as const];
    }),
  );
}

/** A time that says no day counts as long past, so that no policy on age keeps the release out. */
function timeOf(text: string | null): string {
  const time = text === null ? Number.NaN : Date.parse(text);
  return new Date(Number.isNaN(time) ? 0 : time).toISOString();
}

const HEX_LENGTHS: Readonly<Record<number, string>> = { 64: 'sha256', 96: 'sha384', 128: 'sha512' };

/** A sum in hexadecimal digits as Subresource Integrity has it. */
function integrityOf(text: string | null): string {
  const said = text ?? '';
  const algorithm = /^[0-9a-f]+$/i.test(said) ? HEX_LENGTHS[said.length] : undefined;
  if (algorithm === undefined || isIntegrity(said)) return said;
  return `${algorithm}-${base64(said.match(/../g)!.map((pair) => Number.parseInt(pair, 16)))}`;
}

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** RFC 4648, section 4. */
function base64(bytes: readonly number[]): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 3) {
    const group = ((bytes[i] ?? 0) << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0);
    const digits = [18, 12, 6, 0].map((shift) => LETTERS[(group >> shift) & 63]!);
    text += digits
      .slice(0, Math.min(3, bytes.length - i) + 1)
      .join('')
      .padEnd(4, '=');
  }
  return text;
}
