import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { In, type Repository } from 'typeorm';
import { addressOf, HttpRegistry } from '@deep-ledger/registry-client';
import {
  loadPackages,
  readPackageRecord,
  recordOfDocument,
  RegistryError,
  type PackageRecord,
  type PackageRecords,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { Problem } from '../problems/problem.js';
import { PackageDocumentEntity } from './package-document.entity.js';
import { RegistryEntity } from './registry.entity.js';

const TIMEOUT_MS = 5_000;

/** What a registry's documents say, and what could not be learnt. */
export interface RegistryReading {
  readonly records: PackageRecords;
  readonly state: 'up' | 'down' | 'nonsense';
  /** For people; empty while the registry is up. */
  readonly messages: readonly string[];
  /** Packages of which nothing is known because the registry could not be asked or read. */
  readonly unknown: readonly string[];
  /** Changes whenever a document does. */
  readonly revision: number;
  /** How far the registry's changes were read; the same for all servers that have read so far. */
  readonly cursor: string;
}

/** Documents of registries over HTTP. Each is kept in the database, so a registry that is down does not stop reading. */
type StoredDocument = Pick<PackageDocumentEntity, 'name' | 'etag' | 'isOutdated' | 'fetchedAt'>;

interface ParsedDocument {
  /** Null: the registry has no such package. */
  readonly record: PackageRecord | null;
  /** When the document that was parsed was fetched, by whichever server: milliseconds. */
  readonly fetchedAt: number;
}

@Injectable()
export class RegistryService {
  private readonly parsed = new Map<string, Map<string, ParsedDocument>>();
  private readonly clients = new Map<string, HttpRegistry>();
  private revision = 0;

  constructor(
    @InjectRepository(RegistryEntity) private readonly registries: Repository<RegistryEntity>,
    @InjectRepository(PackageDocumentEntity)
    private readonly documents: Repository<PackageDocumentEntity>,
    private readonly clock: Clock,
  ) {}

  /** The records of these packages and of all they can lead to. Asks the registry first what has changed. */
  async read(url: string, roots: readonly string[]): Promise<RegistryReading> {
    const trouble = new Map<string, RegistryError>();
    let isDown = false;
    let cursor = '';
    try {
      cursor = await this.noteChanges(url);
    } catch (error) {
      if (!(error instanceof RegistryError)) throw error;
      trouble.set('', error);
      isDown = error.code === 'REGISTRY_DOWN';
    }
    const records = await loadPackages(roots, {
      packages: async (names) => {
        const known = await this.stored(url, names);
        await Promise.all(
          names.map(async (name) => {
            const stored = known.get(name);
            if (stored !== undefined && !stored.isOutdated) return;
            if (isDown) return;
            try {
              await this.fetchDocument(url, name, stored?.etag ?? null);
            } catch (error) {
              if (!(error instanceof RegistryError)) throw error;
              trouble.set(name, error);
            }
          }),
        );
        const cache = this.cacheOf(url);
        return new Map(names.map((name) => [name, cache.get(name)?.record ?? null]));
      },
    });
    const cache = this.cacheOf(url);
    const errors = [...trouble.values()];
    return {
      records,
      state: errors.some(({ code }) => code === 'REGISTRY_DOWN')
        ? 'down'
        : errors.length > 0
          ? 'nonsense'
          : 'up',
      messages: [...new Set(errors.map(({ message }) => message))],
      unknown: [...records.keys()].filter((name) => !cache.has(name)).sort(),
      revision: this.revision,
      cursor,
    };
  }

  /** @throws RegistryError if the registry does not answer as one */
  async probe(url: string): Promise<void> {
    await this.registry(url).read('/changes?since=0');
  }

  /** The documents of these packages as they were read, each as JSON; those that the registry lacks are left out. */
  async documentTexts(url: string, names: readonly string[]): Promise<readonly string[]> {
    const found = await this.documents
      .createQueryBuilder('document')
      .select('document.body::text', 'text')
      .where('document.registry_url = :url AND document.name = ANY(:names)', { url, names })
      .andWhere('document.body IS NOT NULL')
      .orderBy('document.name')
      .getRawMany<{ text: string }>();
    return found.map(({ text }) => text);
  }

  private cacheOf(url: string): Map<string, ParsedDocument> {
    const cache = this.parsed.get(url) ?? new Map<string, ParsedDocument>();
    this.parsed.set(url, cache);
    return cache;
  }

  /** What the database has, without the documents themselves: those that are not parsed yet, or that another server has fetched since, are read into the cache. */
  private async stored(
    url: string,
    names: readonly string[],
  ): Promise<ReadonlyMap<string, StoredDocument>> {
    const found = await this.documents.find({
      select: { name: true, etag: true, isOutdated: true, fetchedAt: true },
      where: { registryUrl: url, name: In([...names]) },
    });
    const cache = this.cacheOf(url);
    const unread = found.filter(
      ({ name, fetchedAt }) => cache.get(name)?.fetchedAt !== fetchedAt.getTime(),
    );
    if (unread.length > 0) {
      const bodies = await this.documents.findBy({
        registryUrl: url,
        name: In(unread.map(({ name }) => name)),
      });
      for (const { name, body, fetchedAt } of bodies) {
        if (cache.has(name)) this.revision += 1;
        const reading = body === null ? null : readPackageRecord(body);
        if (reading === null || reading.ok)
          cache.set(name, { record: reading?.record ?? null, fetchedAt: fetchedAt.getTime() });
      }
    }
    return new Map(found.map((document) => [document.name, document]));
  }

  private async noteChanges(url: string): Promise<string> {
    const known = await this.registries.findOneBy({ url });
    const since = known?.cursor ?? '0';
    const answer = await this.registry(url).read(`/changes?since=${encodeURIComponent(since)}`);
    if (!isChanges(answer)) {
      throw new RegistryError(
        'REGISTRY_NONSENSE',
        `${url}/changes does not answer with a cursor and changes. Is this address a registry?`,
      );
    }
    const names = [...new Set(answer.changes.map(({ name }) => name))];
    if (known !== null && names.length > 0) {
      await this.documents.update({ registryUrl: url, name: In(names) }, { isOutdated: true });
    }
    await this.registries.save({ url, cursor: answer.cursor });
    return answer.cursor;
  }

  private async fetchDocument(url: string, name: string, etag: string | null): Promise<void> {
    const registry = this.registry(url);
    const answer = await registry.document(name, etag);
    const fetchedAt = this.clock.now();
    if (answer.kind === 'unchanged') {
      await this.documents.update({ registryUrl: url, name }, { isOutdated: false });
      return;
    }
    const body = answer.kind === 'found' ? answer.body : null;
    const record =
      body === null ? null : recordOfDocument(registry.documentAddress(name), name, body);
    await this.documents.save({
      registryUrl: url,
      name,
      etag: answer.kind === 'found' ? answer.etag : null,
      body: record === null ? null : (body as object),
      isOutdated: false,
      fetchedAt,
    });
    this.cacheOf(url).set(name, { record, fetchedAt: fetchedAt.getTime() });
    this.revision += 1;
  }

  private registry(url: string): HttpRegistry {
    let registry = this.clients.get(url);
    if (registry === undefined) {
      const address = addressOf(url);
      if (address === null)
        throw new RegistryError(
          'REGISTRY_NONSENSE',
          'The address of the registry begins with neither http:// nor https://.',
        );
      registry = new HttpRegistry(address, { timeoutMs: TIMEOUT_MS, retries: 1 });
      this.clients.set(url, registry);
    }
    return registry;
  }
}

function isChanges(answer: unknown): answer is { cursor: string; changes: { name: string }[] } {
  if (typeof answer !== 'object' || answer === null) return false;
  const { cursor, changes } = answer as { cursor?: unknown; changes?: unknown };
  return (
    typeof cursor === 'string' &&
    Array.isArray(changes) &&
    changes.every((change) => typeof (change as { name?: unknown } | null)?.name === 'string')
  );
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
