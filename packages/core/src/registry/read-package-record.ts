import { composed, isNameInAnyForm } from '../text/index.js';
import {
  compareVersions,
  parseRange,
  parseVersion,
  versionProblemMessage,
  type VersionScheme,
} from '../version/index.js';
import { isIntegrity } from './integrity.js';
import type {
  PackageRecord,
  Release,
  ReleaseFault,
  ReleaseNeed,
  ReleasePeer,
  TermsOfUse,
} from './package-record.js';
import { parseTime } from './time.js';

/** Where in the document reading stopped, as a JSON Pointer (RFC 6901), and what was expected there. */
export interface RecordProblem {
  readonly code: 'RECORD_INVALID';
  readonly pointer: string;
  readonly message: string;
}

export type RecordReading =
  | { readonly ok: true; readonly record: PackageRecord }
  | { readonly ok: false; readonly problem: RecordProblem };

/**
 * Reads a registry's document about one package, parsed from JSON. Its ranges may be over versions of either scheme, since
 * what they are on may come from another registry. Where a release has a version, a day and
 * something else that is wrong, that release alone has a fault; anything else that is wrong refuses the document.
 * O(size).
 * @param scheme of the registry's versions
 */
export function readPackageRecord(
  document: unknown,
  scheme: VersionScheme = 'semver',
): RecordReading {
  try {
    return { ok: true, record: readRecord(document, scheme) };
  } catch (error) {
    if (error instanceof Invalid) {
      const { pointer, message } = error;
      return { ok: false, problem: { code: 'RECORD_INVALID', pointer, message } };
    }
    throw error;
  }
}

/** Never leaves this file: the way from a nested value straight to `readPackageRecord`. */
class Invalid extends Error {
  constructor(
    readonly pointer: string,
    message: string,
  ) {
    super(message);
  }
}

type Json = Readonly<Record<string, unknown>>;

function object(value: unknown, at: string): Json {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    throw new Invalid(at, 'an object is expected here');
  return value as Json;
}

function string(value: unknown, at: string): string {
  if (typeof value !== 'string') throw new Invalid(at, 'a string is expected here');
  return value;
}

function boolean(value: unknown, at: string, otherwise: boolean): boolean {
  if (value === undefined) return otherwise;
  if (typeof value !== 'boolean') throw new Invalid(at, 'true or false is expected here');
  return value;
}

function strings(value: unknown, at: string, otherwise: readonly string[]): readonly string[] {
  if (value === undefined) return otherwise;
  if (!Array.isArray(value)) throw new Invalid(at, 'an array of strings is expected here');
  return value.map((item, i) => string(item, `${at}/${i}`));
}

/** The pointer to a key of what a pointer leads to. */
function below(at: string, key: string): string {
  return `${at}/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`;
}

/** The name as it is compared. */
function name(value: string, at: string): string {
  const known = composed(value);
  if (!isNameInAnyForm(known)) throw new Invalid(at, `"${value}" is no package name`);
  return known;
}

function range(value: unknown, at: string): string {
  const text = string(value, at);
  const parsed = parseRange(text, 'always');
  if (!parsed.ok && !parseRange(text, 'dotted always').ok)
    throw new Invalid(at, `"${text}" is no range: ${versionProblemMessage(parsed.problem)}`);
  return text;
}

function entries(value: unknown, at: string): readonly (readonly [string, unknown])[] {
  if (value === undefined) return [];
  return Object.entries(object(value, at)).sort(([a], [b]) => (a < b ? -1 : 1));
}

function readRecord(document: unknown, scheme: VersionScheme): PackageRecord {
  const json = object(document, '');
  const releases = json['releases'];
  if (!Array.isArray(releases))
    throw new Invalid('/releases', 'an array of releases is expected here');
  const read = releases
    .map((release, i) => readRelease(release, `/releases/${i}`, scheme))
    .sort((a, b) => compareVersions(a.version, b.version));
  const twice = read.find(
    (release, i) => i > 0 && compareVersions(read[i - 1]!.version, release.version) === 0,
  );
  if (twice !== undefined)
    throw new Invalid('/releases', `the version ${twice.text} is there twice`);
  return {
    name: name(string(json['name'], '/name'), '/name'),
    summary: json['summary'] === undefined ? '' : string(json['summary'], '/summary'),
    releases: read,
  };
}

type Contents = Omit<Release, 'version' | 'text' | 'published' | 'isWithdrawn' | 'fault'>;

const NOTHING: Contents = {
  licence: null,
  terms: null,
  needs: [],
  peers: [],
  platform: [],
  targets: ['*'],
  deprecated: null,
  archive: { path: '', integrity: '', bytes: 0 },
};

function readRelease(value: unknown, at: string, scheme: VersionScheme): Release {
  const json = object(value, at);
  const text = string(json['version'], `${at}/version`);
  const version = parseVersion(text, scheme);
  if (!version.ok) throw new Invalid(`${at}/version`, versionProblemMessage(version.problem));
  const published = string(json['published'], `${at}/published`);
  const time = parseTime(published);
  if (time === null)
    throw new Invalid(
      `${at}/published`,
      `"${published}" is no time; write one such as 2026-10-02T08:00:00Z`,
    );
  const isWithdrawn = boolean(json['withdrawn'], `${at}/withdrawn`, false);
  const contents = readContents(json, at);
  const fault = 'pointer' in contents ? contents : null;
  const { licence, terms, needs, peers, platform, targets, deprecated, archive } =
    'pointer' in contents ? NOTHING : contents;
  // Written out: objects that are spread together are slower to read, and resolving reads each very often.
  return {
    version: version.value,
    text,
    published: time,
    isWithdrawn,
    licence,
    terms,
    needs,
    peers,
    platform,
    targets,
    deprecated,
    archive,
    fault,
  };
}

function readContents(json: Json, at: string): Contents | ReleaseFault {
  try {
    const deprecated = json['deprecated'] ?? null;
    return {
      licence: json['licence'] == null ? null : string(json['licence'], `${at}/licence`),
      terms: json['terms'] == null ? null : readTerms(json['terms'], `${at}/terms`),
      needs: readNeeds(json, at),
      peers: readPeers(json['peers'], `${at}/peers`),
      platform: entries(json['platform'], `${at}/platform`).map(([key, asked]) => [
        key,
        range(asked, below(`${at}/platform`, key)),
      ]),
      targets: strings(json['targets'], `${at}/targets`, ['*']),
      deprecated: deprecated === null ? null : string(deprecated, `${at}/deprecated`),
      archive: readArchive(json['archive'], `${at}/archive`),
    };
  } catch (error) {
    if (error instanceof Invalid) return { pointer: error.pointer, message: error.message };
    throw error;
  }
}

const LINE_OF_TEXT = /^[^\p{Cc}]{1,300}$/u;

function readTerms(value: unknown, at: string): TermsOfUse {
  const json = object(value, at);
  const [id, title, url] = (['id', 'title', 'url'] as const).map((key) => {
    const text = string(json[key], `${at}/${key}`);
    if (LINE_OF_TEXT.test(text)) return text;
    throw new Invalid(`${at}/${key}`, 'one line of text is expected here');
  });
  if (!/^https?:\/\/\S+$/.test(url!))
    throw new Invalid(
      `${at}/url`,
      'an address that begins with http:// or https:// is expected here',
    );
  return { id: id!, title: title!, url: url! };
}

function readNeeds(json: Json, at: string): readonly ReleaseNeed[] {
  const needs = [
    ...entries(json['needs'], `${at}/needs`).map(([key, value]) =>
      readNeed(key, value, 'runtime', below(`${at}/needs`, key)),
    ),
    ...entries(json['optional'], `${at}/optional`).map(([key, value]) =>
      readNeed(key, value, 'optional', below(`${at}/optional`, key)),
    ),
  ].sort((a, b) => (a.name < b.name ? -1 : 1));
  const twice = needs.find((need, i) => needs[i - 1]?.name === need.name);
  if (twice !== undefined) throw new Invalid(at, `${twice.name} is both needed and optional`);
  return needs;
}

function readNeed(key: string, value: unknown, kind: ReleaseNeed['kind'], at: string): ReleaseNeed {
  const known = name(key, at);
  if (typeof value === 'string') return { name: known, range: range(value, at), kind, when: [] };
  const json = object(value, at);
  return {
    name: known,
    range: range(json['range'], `${at}/range`),
    kind,
    when: strings(json['when'], `${at}/when`, []),
  };
}

function readPeers(value: unknown, at: string): readonly ReleasePeer[] {
  return entries(value, at).map(([key, peer]) => {
    const place = below(at, key);
    const json = object(peer, place);
    return {
      name: name(key, place),
      range: range(json['range'], `${place}/range`),
      isOptional: boolean(json['optional'], `${place}/optional`, false),
    };
  });
}

function readArchive(value: unknown, at: string): Release['archive'] {
  const json = object(value, at);
  const integrity = string(json['integrity'], `${at}/integrity`);
  if (!isIntegrity(integrity))
    throw new Invalid(`${at}/integrity`, `"${integrity}" is no Subresource Integrity text`);
  const bytes = json['bytes'];
  if (typeof bytes !== 'number' || !Number.isSafeInteger(bytes) || bytes < 0)
    throw new Invalid(`${at}/bytes`, 'a number of bytes is expected here');
  const path = string(json['path'], `${at}/path`);
  if (/\s|"/.test(path) || path === '')
    throw new Invalid(`${at}/path`, 'an address without white space is expected here');
  return { path, integrity, bytes };
}
