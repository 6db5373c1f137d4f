import { Injectable } from '@nestjs/common';
import {
  believedOf,
  isLicenceAllowed,
  isPrerelease,
  nearestWord,
  RegistryError,
  registryOf,
  ReleaseTerms,
  releaseTermsOf,
  termsStand,
  unusableWords,
  type DraftBase,
  type FoundPackage,
  type PackageRecord,
  type Release,
  type TermsOfUse,
  type Workspace,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import { RegistryService, sourceOf } from '../registry/registry.service.js';
import { sourcesOf } from '../registry/sources-of.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type {
  FoundPackageDto,
  PublishedReleaseDto,
  RegistryPackageDto,
  RegistryTroubleDto,
  ReleaseNotesDto,
  ReleaseTermsDto,
  SearchDto,
} from './registry-page.dto.js';

const MOST_RELEASES = 200;

/** What registries have, beside what the workspace uses of it. */
@Injectable()
export class RegistryPageService {
  constructor(private readonly registries: RegistryService) {}

  /** Searches every registry of the workspace. One that cannot be searched is told, the others go on. */
  async search(entity: WorkspaceEntity, { base }: Snapshot, words: string): Promise<SearchDto> {
    const { workspace } = base;
    if (workspace === null) return { found: [], isCut: false, troubles: [] };
    const sources = sourcesOf(entity, workspace);
    const troubles: RegistryTroubleDto[] = [];
    let isCut = false;
    const pages = await Promise.all(
      workspace.registries.map(async ({ name: registry }) => {
        const source = sourceOf(sources, registry);
        try {
          if (source === null)
            throw new RegistryError('REGISTRY_DOWN', 'Nobody has said where it is.');
          const { total, packages } = await this.registries.search(source, words);
          isCut ||= total > packages.length;
          // A registry's packages under names that belong to another registry are left out.
          return believedOf(workspace.registries, registry, packages).map(
            (one) => [registry, one] as const,
          );
        } catch (error) {
          if (!(error instanceof RegistryError)) throw error;
          troubles.push({ registry, says: error.message });
          return [];
        }
      }),
    );
    const use = usesOf(base, workspace);
    const found = pages.flat().map(([registry, one]) => toFound(workspace, registry, one, use));
    return { found, isCut, troubles };
  }

  /** @throws Problem PACKAGE_UNKNOWN, or what the registry says */
  async package(
    entity: WorkspaceEntity,
    { base, head }: Snapshot,
    name: string,
  ): Promise<RegistryPackageDto> {
    const { workspace } = base;
    const registry = workspace === null ? null : registryOf(workspace.registries, name);
    if (workspace === null || registry === null)
      throw new Problem(
        'PACKAGE_UNKNOWN',
        404,
        'No registry for it',
        `No pattern of the workspace's registries takes ${name}.`,
      );
    const record = base.records.get(name) ?? (await this.ask(entity, workspace, registry, name));
    if (record === null) throw unknownPackage(name, registry, [...base.records.keys()]);
    const terms = new ReleaseTerms(releaseTermsOf(workspace), base.today);
    const versions = new Set(
      base.lock?.resolution?.copies.flatMap((one) => (one.name === name ? [one.version] : [])),
    );
    const releases = record.releases
      .map((release) => toRelease(workspace, terms, name, release, versions))
      .reverse();
    return {
      commit: head.commit,
      name,
      registry,
      summary: record.summary,
      releases: releases.slice(0, MOST_RELEASES),
      newest:
        releases.find((one) => one.why === null && !one.isPrerelease && one.deprecated === null)
          ?.version ?? null,
      agreed: workspace.agreements.get(name)?.text ?? null,
      projects: workspace.projects.map(({ folder, name: project, requirements }) => {
        const own = requirements.find((one) => one.name === name);
        return { folder, name: project, kind: own?.kind ?? null, range: own?.written ?? null };
      }),
    };
  }

  /** @throws Problem that says what the registry says */
  async notes(
    entity: WorkspaceEntity,
    { base: { workspace } }: Snapshot,
    name: string,
    version: string,
  ): Promise<ReleaseNotesDto> {
    const registry = workspace === null ? null : registryOf(workspace.registries, name);
    const source = registry === null ? null : sourceOf(sourcesOf(entity, workspace), registry);
    if (source === null) return { text: null, isCut: false };
    try {
      return (await this.registries.notes(source, name, version)) ?? { text: null, isCut: false };
    } catch (error) {
      if (!(error instanceof RegistryError)) throw error;
      throw new Problem(error.code, 502, `The registry ${registry} does not tell`, error.message);
    }
  }

  private async ask(
    entity: WorkspaceEntity,
    workspace: Workspace,
    registry: string,
    name: string,
  ): Promise<PackageRecord | null> {
    const source = sourceOf(sourcesOf(entity, workspace), registry);
    try {
      if (source === null)
        throw new RegistryError('REGISTRY_DOWN', `Nobody has said where ${registry} is.`);
      return await this.registries.tryOut(source, name);
    } catch (error) {
      if (!(error instanceof RegistryError)) throw error;
      throw new Problem(error.code, 502, `The registry ${registry} does not tell`, error.message);
    }
  }
}

interface Use {
  readonly projects: ReadonlyMap<string, number>;
  readonly versions: ReadonlyMap<string, readonly string[]>;
}

function usesOf({ lock }: DraftBase, { projects }: Workspace): Use {
  const requiring = new Map<string, number>();
  for (const { requirements } of projects)
    for (const name of new Set(requirements.map((one) => one.name)))
      requiring.set(name, (requiring.get(name) ?? 0) + 1);
  const versions = new Map<string, readonly string[]>();
  for (const { name, version } of lock?.resolution?.copies ?? [])
    versions.set(name, [...(versions.get(name) ?? []), version]);
  return { projects: requiring, versions };
}

function toFound(
  { policy }: Workspace,
  registry: string,
  one: FoundPackage,
  { projects, versions }: Use,
): FoundPackageDto {
  return {
    ...one,
    registry,
    isLicenceAllowed: isLicenceAllowed(one.licence, policy.licences),
    projects: projects.get(one.name) ?? 0,
    versions: [...(versions.get(one.name) ?? [])],
  };
}

function toRelease(
  { policy, shared }: Workspace,
  terms: ReleaseTerms,
  name: string,
  release: Release,
  inUse: ReadonlySet<string>,
): PublishedReleaseDto {
  const { version, text, published, licence, archive, needs, peers, platform, targets } = release;
  const [reason] = terms.reasons(name, release);
  return {
    version: text,
    published: published.slice(0, 10),
    licence,
    isLicenceAllowed: isLicenceAllowed(licence, policy.licences),
    terms: toTerms(shared, release.terms),
    bytes: archive.bytes,
    needs: needs.map((need) => `${need.name} ${need.range}`),
    peers: peers.map((peer) => `${peer.name} ${peer.range}`),
    platform: platform.map(([asked, range]) => `${asked} ${range}`),
    targets: [...targets],
    deprecated: release.deprecated,
    isPrerelease: isPrerelease(version),
    why: reason === undefined ? null : unusableWords(reason),
    isInUse: inUse.has(text),
  };
}

function toTerms(
  { accepted }: Workspace['shared'],
  terms: TermsOfUse | null,
): ReleaseTermsDto | null {
  if (terms === null) return null;
  const { state, line } = termsStand(accepted, terms);
  return { ...terms, state, by: line?.by ?? null, on: line?.on ?? null };
}

function unknownPackage(name: string, registry: string, known: readonly string[]): Problem {
  const near = nearestWord(name, known);
  const meant = near === null ? '' : ` Did you mean ${near}?`;
  return new Problem(
    'PACKAGE_UNKNOWN',
    404,
    'No such package',
    `${registry} has no package ${name}.${meant}`,
  );
}
