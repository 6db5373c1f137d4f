import { createHash } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { InjectDataSource, InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import type { DataSource, Repository } from 'typeorm';
import {
  addressOf,
  authorizationOf,
  HttpRegistry,
  type Credentials,
  type RegistryAddress,
  type Token,
} from '@deep-ledger/registry-client';
import {
  loadPackages,
  portOfRegistries,
  readPackageRecord,
  readNotes,
  readSearchPage,
  recordOfDocument,
  documentOfForeign,
  RegistryError,
  registryOf,
  schemeOfRegistry,
  placeAt,
  type PackageRecord,
  type PackageRecords,
  type Registries,
  type RegistryPlace,
  type RegistryShape,
  type ReleaseNotes,
  type SearchPage,
  type VersionScheme,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { LockedOtherwise, Vault } from '../credentials/vault.js';
import { Problem } from '../problems/problem.js';
import type { KnownRegistry, WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { changesIn } from './changes-in.js';
import { PackageDocumentEntity } from './package-document.entity.js';
import { RegistryEntity } from './registry.entity.js';

const TIMEOUT_MS = 5_000;
/** Registries whose documents stay parsed. */
const MOST_REGISTRIES = 8;

/** A registry as a workspace knows it. */
export interface RegistrySource extends KnownRegistry {
  /** Where it does not speak as ours do. */
  readonly shape?: RegistryShape | undefined;
  readonly versions: VersionScheme;
}

/** A document of a registry that has no list of changes is asked for again after so long. */
const OUTDATED_AFTER = '10 minutes';

/** The registries of a workspace: which names belong to which, and where each is. */
export interface RegistrySources {
  readonly registries: Registries;
  readonly shapes: ReadonlyMap<string, RegistryShape>;
  readonly known: WorkspaceEntity['registries'];
}

/** What a registry's documents say, and what could not be learnt. */
export interface RegistryReading {
  readonly records: PackageRecords;
  readonly state: 'up' | 'down' | 'nonsense';
  /** For people; empty while the registry is up. */
  readonly messages: readonly string[];
  /** Packages of which nothing is known because the registry could not be asked or read. */
  readonly unknown: readonly string[];
  /** A sum over the documents of these packages: the same at every server that has read the same. */
  readonly fingerprint: string;
}

/** What a registry has at a path. */
export interface RawReading {
  /** Where it was asked for. */
  readonly address: string;
  /** Null: nothing. */
  readonly raw: unknown;
  /** Null: it cannot be read. */
  readonly record: PackageRecord | null;
  /** Why not. */
  readonly trouble: string | null;
}

type StoredDocument = Pick<PackageDocumentEntity, 'name' | 'etag' | 'isOutdated' | 'sum'>;

interface ParsedDocument {
  /** Null: the registry has no such package. */
  readonly record: PackageRecord | null;
  readonly sum: string;
}

/** A registry during one reading. */
interface Looker {
  /** Null: no address is known. */
  readonly source: RegistrySource | null;
  /** How far its changes have been read; null: it could not be asked. */
  readonly cursor: string | null;
  readonly isDown: boolean;
  readonly cache: Documents;
}

/** Of one registry, by name. */
type Documents = Map<string, ParsedDocument>;

/** Documents of registries over HTTP. Each is kept in the database, so a registry that is down does not stop reading. */
@Injectable()
export class RegistryService {
  private readonly parsed = new LRUCache<string, Documents>({
    max: MOST_REGISTRIES,
  });
  private readonly clients = new LRUCache<string, HttpRegistry>({ max: 1000 });

  constructor(
    @InjectRepository(RegistryEntity) private readonly registries: Repository<RegistryEntity>,
    @InjectRepository(PackageDocumentEntity)
    private readonly documents: Repository<PackageDocumentEntity>,
    @InjectDataSource() private readonly database: DataSource,
    private readonly vault: Vault,
    private readonly clock: Clock,
  ) {}

  /**
   * The records of these packages and of all they can lead to, each from the one registry that its name belongs to.
   * Asks every registry first what has changed.
   * @param passing more packages that are only asked about: of those that a registry lacks nothing is kept
   */
  async read(
    sources: RegistrySources,
    roots: readonly string[],
    passing: readonly string[] = [],
  ): Promise<RegistryReading> {
    const isPassing = new Set(passing);
    for (const root of roots) isPassing.delete(root);
    const trouble = new Map<string, RegistryError>();
    const lookers = new Map<string, Promise<Looker>>();
    const lacking = new Set<string>();
    const lookerOf = (registry: string): Promise<Looker> => {
      const known = lookers.get(registry) ?? this.looker(registry, sources, trouble);
      lookers.set(registry, known);
      return known;
    };
    const records = await loadPackages(
      [...roots, ...isPassing],
      portOfRegistries(sources.registries, (registry) => ({
        packages: async (names) => {
          const looker = await lookerOf(registry);
          if (looker.source === null) return new Map(names.map((name) => [name, null]));
          return this.recordsOf(looker, names, { isPassing, trouble, lacking });
        },
      })),
    );
    const caches = new Map<string, Documents>();
    for (const [registry, looker] of lookers) caches.set(registry, (await looker).cache);
    const documentOf = (name: string): ParsedDocument | undefined =>
      caches.get(registryOf(sources.registries, name) ?? '')?.get(name);
    const belongs = (name: string): boolean => registryOf(sources.registries, name) !== null;
    const errors = [...trouble.values()];
    return {
      records,
      state: errors.some(({ code }) => code === 'REGISTRY_DOWN')
        ? 'down'
        : errors.length > 0
          ? 'nonsense'
          : 'up',
      messages: [...new Set(errors.map(({ message }) => message))],
      unknown: [...records.keys()]
        .filter((name) => belongs(name) && documentOf(name) === undefined && !lacking.has(name))
        .sort(),
      fingerprint: fingerprintOf(records.keys(), documentOf),
    };
  }

  /** One registry at the beginning of a reading, with what it says has changed. */
  private async looker(
    registry: string,
    sources: RegistrySources,
    trouble: Map<string, RegistryError>,
  ): Promise<Looker> {
    const source = sourceOf(sources, registry);
    if (source === null) {
      const message = `No address is known for the registry ${registry}. A keeper sets it on the page Team.`;
      trouble.set(`${registry} `, new RegistryError('REGISTRY_DOWN', message));
      return { source, cursor: null, isDown: true, cache: new Map() };
    }
    const cache = this.cacheOf(source);
    try {
      return { source, cursor: await this.noteChanges(source), isDown: false, cache };
    } catch (error) {
      if (!(error instanceof RegistryError)) throw error;
      trouble.set(`${registry} `, error);
      return { source, cursor: null, isDown: error.code === 'REGISTRY_DOWN', cache };
    }
  }

  private async recordsOf(
    { source, cursor, isDown, cache }: Looker,
    names: readonly string[],
    {
      isPassing,
      trouble,
      lacking,
    }: {
      readonly isPassing: ReadonlySet<string>;
      readonly trouble: Map<string, RegistryError>;
      readonly lacking: Set<string>;
    },
  ): Promise<PackageRecords> {
    const known = await this.stored(source!, names, cache);
    await Promise.all(
      names.map(async (name) => {
        const stored = known.get(name);
        if ((stored !== undefined && !stored.isOutdated) || isDown) return;
        try {
          const terms = { stored, cursor, isPassing };
          const document = await this.fetchDocument(source!, name, terms, cache);
          if (document === 'lacking') lacking.add(name);
        } catch (error) {
          if (!(error instanceof RegistryError)) throw error;
          trouble.set(name, error);
        }
      }),
    );
    return new Map(names.map((name) => [name, cache.get(name)?.record ?? null]));
  }

  /** @throws RegistryError if the registry does not answer as one */
  async probe(source: RegistrySource): Promise<void> {
    await (await this.client(source)).probe();
  }

  /** What a release says of itself; null: nothing. @throws RegistryError */
  async notes(source: RegistrySource, name: string, version: string): Promise<ReleaseNotes | null> {
    if (source.shape !== undefined) return null;
    const answer = await (await this.client(source)).document(name);
    return answer.kind === 'found' ? readNotes(answer.body, version) : null;
  }

  /** What a registry finds by words. @throws RegistryError if it cannot be searched */
  async search(source: RegistrySource, words: string): Promise<SearchPage> {
    if (source.shape !== undefined)
      throw new RegistryError(
        'REGISTRY_NONSENSE',
        'It speaks in its own way, in which it cannot be searched. Write the whole name of a package.',
      );
    const client = await this.client(source);
    const path = `/packages?query=${encodeURIComponent(words)}&page=1`;
    return readSearchPage(`${source.url}/packages`, await client.read(path));
  }

  /** What a registry says of a package now, kept nowhere. @throws RegistryError */
  async tryOut(source: RegistrySource, name: string): Promise<PackageRecord | null> {
    const client = await this.client(source);
    const answer = await client.document(name);
    if (answer.kind !== 'found') return null;
    return recordOfDocument(client.documentAddress(name), name, answer.body, source.versions);
  }

  /** The JSON at a path, and the record of the package that is read from it; neither is kept. @throws RegistryError */
  async readRaw(source: RegistrySource, path: string, name: string): Promise<RawReading> {
    const client = await this.client(source);
    const raw = await client.raw(path);
    const address = `${source.url}${path}`;
    if (raw === null) return { address, raw, record: null, trouble: null };
    const body =
      source.shape == null ? raw : documentOfForeign(source.shape, name, raw, source.versions);
    try {
      return {
        address,
        raw,
        record: recordOfDocument(address, name, body, source.versions),
        trouble: null,
      };
    } catch (error) {
      if (!(error instanceof RegistryError)) throw error;
      return { address, raw, record: null, trouble: error.message };
    }
  }

  /** The documents of these packages as they were read, each as JSON; those that the registry lacks are left out. */
  async documentTexts(
    sources: RegistrySources,
    names: readonly string[],
  ): Promise<readonly string[]> {
    const byRegistry = new Map<string, string[]>();
    for (const name of names) {
      const registry = registryOf(sources.registries, name);
      if (registry !== null) byRegistry.set(registry, [...(byRegistry.get(registry) ?? []), name]);
    }
    const texts = [...byRegistry].map(([registry, own]) => {
      const source = sourceOf(sources, registry);
      return source === null ? [] : this.textsIn(source, own);
    });
    return (await Promise.all(texts)).flat();
  }

  private async textsIn(
    source: RegistrySource,
    names: readonly string[],
  ): Promise<readonly string[]> {
    const url = keyOf(source);
    const found = await this.documents
      .createQueryBuilder('document')
      .select('document.body::text', 'text')
      .where('document.registry_url = :url AND document.name = ANY(:names)', { url, names })
      .andWhere('document.body IS NOT NULL')
      .orderBy('document.name')
      .getRawMany<{ text: string }>();
    return found.map(({ text }) => text);
  }

  private cacheOf(source: RegistrySource): Documents {
    const url = keyOf(source);
    const cache = this.parsed.get(url) ?? new Map<string, ParsedDocument>();
    this.parsed.set(url, cache);
    return cache;
  }

  /**
   * The rows of the database, without the documents themselves. Documents that are not parsed yet, or that another
   * server has fetched since, are read into the cache.
   */
  private async stored(
    source: RegistrySource,
    names: readonly string[],
    cache: Documents,
  ): Promise<ReadonlyMap<string, StoredDocument>> {
    const found = (await this.documents.query(
      `SELECT "name", "etag", "is_outdated" AS "isOutdated", "sum" FROM "package_document"
       WHERE "registry_url" = $1 AND "name" = ANY($2)`,
      [keyOf(source), names],
    )) as readonly StoredDocument[];
    const unread = found.filter(({ name, sum }) => cache.get(name)?.sum !== sum);
    if (unread.length > 0) {
      const bodies = (await this.documents.query(
        `SELECT "name", "body", "sum" FROM "package_document"
         WHERE "registry_url" = $1 AND "name" = ANY($2)`,
        [keyOf(source), unread.map(({ name }) => name)],
      )) as readonly Pick<PackageDocumentEntity, 'name' | 'body' | 'sum'>[];
      for (const { name, body, sum } of bodies) {
        const reading = body === null ? null : readPackageRecord(body, source.versions);
        if (reading === null || reading.ok)
          cache.set(name, { record: reading?.record ?? null, sum });
      }
    }
    return new Map(found.map((document) => [document.name, document]));
  }

  /** Asks what has changed since the last time, and notes the documents that have. @returns how far was read */
  private async noteChanges(source: RegistrySource): Promise<string> {
    const url = keyOf(source);
    if (source.shape !== undefined) return this.noteAge(url);
    const known = await this.registries.findOneBy({ url });
    const client = await this.client(source);
    const since = known?.cursor ?? '0';
    const { cursor, names } = changesIn(
      url,
      await client.read(`/changes?since=${encodeURIComponent(since)}`),
    );
    if (known !== null && known.cursor === cursor && names.length === 0) return cursor;
    await this.database.transaction(async (manager) => {
      // A process that keeps a document meanwhile waits, and then sees that it may be an old one.
      await manager.query(
        `INSERT INTO "registry" ("url", "cursor") VALUES ($1, $2)
         ON CONFLICT ("url") DO UPDATE SET "cursor" = $2`,
        [url, cursor],
      );
      if (known !== null)
        await manager.query(
          `UPDATE "package_document" SET "is_outdated" = true
           WHERE "registry_url" = $1 AND "name" = ANY($2)`,
          [url, names],
        );
    });
    return cursor;
  }

  /** Where a registry does not say what has changed, documents that were asked for long ago count as changed. */
  private async noteAge(url: string): Promise<string> {
    await this.documents.query(
      `UPDATE "package_document" SET "is_outdated" = true
       WHERE "registry_url" = $1 AND "fetched_at" < $2::timestamptz - interval '${OUTDATED_AFTER}'`,
      [url, this.clock.now()],
    );
    const cursor = 'none';
    await this.database.query(
      `INSERT INTO "registry" ("url", "cursor") VALUES ($1, $2)
       ON CONFLICT ("url") DO UPDATE SET "cursor" = $2`,
      [url, cursor],
    );
    return cursor;
  }

  private async fetchDocument(
    source: RegistrySource,
    name: string,
    {
      stored,
      cursor,
      isPassing,
    }: {
      readonly stored: StoredDocument | undefined;
      readonly cursor: string | null;
      readonly isPassing: ReadonlySet<string>;
    },
    cache: Documents,
  ): Promise<'kept' | 'lacking'> {
    const client = await this.client(source);
    const answer = await client.document(name, stored?.etag ?? null);
    const isMissing = answer.kind === 'missing';
    // People may try out any number of names, so those are not kept. A package that was there once is kept as gone.
    if (isMissing && stored === undefined && isPassing.has(name)) return 'lacking';
    if (answer.kind === 'unchanged') {
      await this.keep(source, name, cursor, null);
      return 'kept';
    }
    const body = isMissing ? null : answer.body;
    const record =
      body === null
        ? null
        : recordOfDocument(client.documentAddress(name), name, body, source.versions);
    const sum = body === null ? '' : sumOf(JSON.stringify(body));
    const etag = isMissing ? null : answer.etag;
    await this.keep(source, name, cursor, { body, etag, sum });
    // A document that says the same stays the same object, so that everything that was made from it stays too.
    if (cache.get(name)?.sum !== sum) cache.set(name, { record, sum });
    return 'kept';
  }

  /**
   * Keeps a document, or, where it is unchanged, that it is not outdated. Should the registry have announced changes
   * since it was asked, the document may be one from before them, and is asked for again.
   */
  private async keep(
    source: RegistrySource,
    name: string,
    cursor: string | null,
    document: { readonly body: unknown; readonly etag: string | null; readonly sum: string } | null,
  ): Promise<void> {
    const url = keyOf(source);
    // A process that notes changes at this moment has the row first, or waits for this statement.
    const known = `WITH "known" AS (SELECT "cursor" FROM "registry" WHERE "url" = $1 FOR SHARE)`;
    const isOutdated = `(SELECT "cursor" FROM "known") IS DISTINCT FROM $3::text`;
    if (document === null)
      await this.documents.query(
        `${known} UPDATE "package_document" SET "is_outdated" = ${isOutdated}, "fetched_at" = $4
         WHERE "registry_url" = $1 AND "name" = $2`,
        [url, name, cursor, this.clock.now()],
      );
    else
      await this.documents.query(
        `${known} INSERT INTO "package_document"
           ("registry_url", "name", "is_outdated", "etag", "body", "sum", "fetched_at")
         VALUES ($1, $2, ${isOutdated}, $4, $5, $6, $7)
         ON CONFLICT ("registry_url", "name") DO UPDATE SET "is_outdated" = EXCLUDED."is_outdated",
           "etag" = $4, "body" = $5, "sum" = $6, "fetched_at" = $7`,
        [
          url,
          name,
          cursor,
          document.etag,
          document.body === null ? null : JSON.stringify(document.body),
          document.sum,
          this.clock.now(),
        ],
      );
  }

  private async client(source: RegistrySource): Promise<HttpRegistry> {
    const { url, credentials: locked, shape, versions } = source;
    const key = `${keyOf(source)}\n${locked ?? ''}`;
    const known = this.clients.get(key);
    if (known !== undefined) return known;
    const address = httpAddress(url);
    const authorization = locked === null ? null : authorizationOf(await this.unlocked(locked));
    const client = new HttpRegistry(
      { ...address, authorization },
      { timeoutMs: TIMEOUT_MS, retries: 1 },
      shape ?? null,
      versions,
    );
    this.clients.set(key, client);
    return client;
  }

  /** Where a registry is, and what lets one in. @throws RegistryError */
  async placeOf({ url, credentials: locked }: RegistrySource): Promise<RegistryPlace> {
    httpAddress(url);
    const secret = locked === null ? {} : await this.unlocked(locked);
    return { ...placeAt(url), ...secret };
  }

  /** @throws RegistryError */
  private async unlocked(locked: string): Promise<Credentials | Token> {
    try {
      return await this.vault.unlock(locked);
    } catch (error) {
      if (!(error instanceof LockedOtherwise)) throw error;
      throw new RegistryError('REGISTRY_DOWN', `The registry cannot be asked. ${error.message}`);
    }
  }
}

/** @throws RegistryError */
function httpAddress(url: string): RegistryAddress {
  const address = addressOf(url);
  if (address !== null) return address;
  throw new RegistryError(
    'REGISTRY_NONSENSE',
    'The address of the registry begins with neither http:// nor https://.',
  );
}

/** The key of a registry's documents: its address and the way in which they are read. */
function keyOf({ url, shape, versions }: RegistrySource): string {
  const place = versions === 'semver' ? url : `${url}#${versions}`;
  if (shape === undefined) return place;
  const said = Object.values(shape).map((one: string | { readonly text: string } | null) =>
    typeof one === 'string' ? one : (one?.text ?? ''),
  );
  return `${place}#${sumOf(JSON.stringify(said)).slice(0, 12)}`;
}

/** Where a registry is; null: nobody has said so. */
export function sourceOf(
  { registries, known, shapes }: RegistrySources,
  registry: string,
): RegistrySource | null {
  const place = known[registry] ?? (registries.length === 1 ? known[''] : undefined);
  if (place === undefined) return null;
  return {
    ...place,
    shape: shapes.get(registry),
    versions: schemeOfRegistry(registries, registry),
  };
}

function sumOf(text: string): string {
  return createHash('sha256').update(text).digest('base64url');
}

function fingerprintOf(
  names: Iterable<string>,
  documentOf: (name: string) => ParsedDocument | undefined,
): string {
  const hash = createHash('sha256');
  for (const name of [...names].sort()) hash.update(`${name} ${documentOf(name)?.sum ?? ''}\n`);
  return hash.digest('base64url');
}

/** Packages that are needed cannot be read. */
export function registryIncomplete({
  unknown,
  messages,
}: Pick<RegistryReading, 'unknown' | 'messages'>): Problem {
  return new Problem(
    'REGISTRY_INCOMPLETE',
    503,
    'The registry could not be read',
    `Nothing can be resolved while ${unknown.join(', ')} cannot be read from the registry. ${messages.join(' ')}`.trim(),
  );
}
