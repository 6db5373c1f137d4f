import { Injectable } from '@nestjs/common';
import {
  registryOf,
  RegistryError,
  type PackageRecords,
  type RegistryPlace,
  type Release,
} from '@deep-ledger/core';
import {
  archivesOf,
  InstallTrouble,
  USUAL_FETCHING,
  type FetchArchive,
} from '@deep-ledger/install';
import { RegistryService, sourceOf, type RegistrySources } from '../registry/registry.service.js';
import { sourcesOf } from '../registry/sources-of.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { NamedArchive } from './named-archives.js';

const FETCHING = { ...USUAL_FETCHING, retries: 2 };

/** What the registries of a workspace say of archives, and how they are fetched. */
export class ArchiveSources {
  private readonly places = new Map<string, Promise<RegistryPlace>>();

  constructor(
    private readonly sources: RegistrySources,
    private readonly records: PackageRecords,
    private readonly placeOf: (registry: string) => Promise<RegistryPlace>,
  ) {}

  /** The release of an archive as its registry has it now; null: not any more, or with another archive. */
  releaseOf({ name, version, integrity, registry }: NamedArchive): Release | null {
    if (registryOf(this.sources.registries, name) !== registry) return null;
    const release = this.records.get(name)?.releases.find(({ text }) => text === version);
    return release?.archive.integrity === integrity ? release : null;
  }

  /** Does the registry say that it has it no more? One that could not be asked says nothing. */
  isGone(archive: NamedArchive): boolean {
    return this.records.has(archive.name) && this.releaseOf(archive) === null;
  }

  /**
   * How an archive is fetched. Whoever writes a lockfile must not be able to send this server anywhere: it goes where the
   * registry says that the archive is, else to the registry's own origin alone.
   * @throws InstallTrouble, RegistryError
   */
  async fetching(
    archive: NamedArchive,
  ): Promise<{ readonly address: string; readonly fetch: FetchArchive }> {
    const known = this.places.get(archive.registry) ?? this.placeOf(archive.registry);
    this.places.set(archive.registry, known);
    const place = await known;
    const release = this.releaseOf(archive);
    const address = release?.archive.path ?? archive.archive;
    if (release === null && !isBelow(place.address, address))
      throw new InstallTrouble(
        `The lockfile has it from ${address}, which is not where its registry ${archive.registry} is. The registry itself does not name it.`,
      );
    return { address, fetch: archivesOf(place, FETCHING) };
  }
}

@Injectable()
export class ArchiveSourcesOf {
  constructor(
    private readonly snapshots: SnapshotService,
    private readonly registries: RegistryService,
  ) {}

  /** Asks the registries of a workspace about archives. */
  async workspace(
    entity: WorkspaceEntity,
    named: readonly NamedArchive[],
  ): Promise<ArchiveSources> {
    const { base } = await this.snapshots.read(entity);
    const sources = sourcesOf(entity, base.workspace);
    const names = [...new Set(named.map(({ name }) => name))];
    const { records } = await this.registries.read(sources, [], names);
    return new ArchiveSources(sources, records, async (registry) => {
      const source = sourceOf(sources, registry);
      if (source === null)
        throw new RegistryError('REGISTRY_DOWN', `Nothing says where the registry ${registry} is.`);
      return this.registries.placeOf(source);
    });
  }
}

/** An address, or a path below it, that stays with a registry. */
function isBelow(registry: string, address: string): boolean {
  if (!/^[a-z][a-z0-9+.-]*:/i.test(address)) return true;
  return URL.canParse(address) && new URL(address).origin === new URL(registry).origin;
}
