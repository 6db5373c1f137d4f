import { randomUUID } from 'node:crypto';
import { isAbsolute } from 'node:path';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import { IsNull, type Repository } from 'typeorm';
import {
  composed,
  isName,
  RegistryError,
  ROOT_FILE,
  schemeOfRegistry,
  type PackageRecord,
  type RegistryShape,
  type VersionScheme,
  type Workspace,
} from '@deep-ledger/core';
import { splitAddress, type Credentials } from '@deep-ledger/registry-client';
import { Clock } from '../clock.js';
import { Vault } from '../credentials/vault.js';
import { Exclusive } from '../database/exclusive.js';
import { GitService } from '../git/git.service.js';
import { Problem } from '../problems/problem.js';
import {
  RegistryService,
  sourceOf,
  type RawReading,
  type RegistrySource,
} from '../registry/registry.service.js';
import { sourcesOf } from '../registry/sources-of.js';
import { SnapshotService } from './snapshot.service.js';
import type { OpenWorkspaceDto, SetRegistryDto } from './workspace.dto.js';
import { WorkspaceEntity, type BringInFiles, type KnownRegistry } from './workspace.entity.js';

/** How a registry of a workspace speaks. */
function speechOf(
  { registries, shapes }: Workspace,
  registry: string,
): Pick<RegistrySource, 'shape' | 'versions'> {
  return {
    shape: shapes.registries.get(registry),
    versions: schemeOfRegistry(registries, registry),
  };
}

/** How long a reader may be given a workspace as it was. */
const LATELY_MS = 1000;

@Injectable()
export class WorkspaceService {
  private readonly lately = new LRUCache<string, WorkspaceEntity>({ max: 1000, ttl: LATELY_MS });

  constructor(
    @InjectRepository(WorkspaceEntity) private readonly workspaces: Repository<WorkspaceEntity>,
    private readonly git: GitService,
    private readonly registries: RegistryService,
    private readonly snapshots: SnapshotService,
    private readonly vault: Vault,
    private readonly clock: Clock,
    private readonly exclusive: Exclusive,
  ) {}

  list(): Promise<WorkspaceEntity[]> {
    return this.workspaces.find({ where: { closedAt: IsNull() }, order: { openedAt: 'ASC' } });
  }

  /** @throws Problem WORKSPACE_UNKNOWN */
  async bySlug(slug: string): Promise<WorkspaceEntity> {
    const entity = await this.workspaces.findOneBy({ slug, closedAt: IsNull() });
    if (entity !== null) return entity;
    throw new Problem(
      'WORKSPACE_UNKNOWN',
      404,
      'No such workspace',
      `No workspace named ${slug} is open here. Open it from the first page.`,
    );
  }

  /**
   * The same as it was within the last second, for pages that many read at once and that change nothing.
   * @throws Problem WORKSPACE_UNKNOWN
   */
  async lookedAt(slug: string): Promise<WorkspaceEntity> {
    const entity = this.lately.get(slug) ?? (await this.bySlug(slug));
    if (!this.lately.has(slug)) this.lately.set(slug, entity);
    return entity;
  }

  /**
   * Opens a branch of a repository, finds it where it is open already, or opens again what was closed.
   * @throws Problem that says what is missing, if this is no workspace or no registry
   */
  async open(order: OpenWorkspaceDto): Promise<WorkspaceEntity> {
    const { address, branch: wanted, ...asked } = order;
    const isLocal = !/^\w+:\/\/|^[\w.-]+@[\w.-]+:/.test(address);
    if (isLocal && !isAbsolute(address)) {
      throw new Problem(
        'ADDRESS_INVALID',
        422,
        'No whole path',
        `"${address}" is not a whole path. Write it from the root, such as /home/you/repository, or write a git address.`,
      );
    }
    const at = splitAddress(address);
    const credentials = await this.locked(at.credentials);
    const branch = wanted ?? (await this.git.defaultBranch({ address: at.address, credentials }));
    const known = await this.workspaces.findOneBy({ address: at.address, branch });
    const given = await this.givenPlaces(asked, known?.registries ?? {});
    const registries = given[''] === undefined ? { ...known?.registries, ...given } : given;
    const isOther = at.credentials !== null || isOtherThan(registries, known?.registries ?? {});
    if (known?.closedAt === null && !isOther) return known;
    const id = known?.id ?? randomUUID();
    const entity = this.workspaces.create({
      id,
      slug: '',
      name: '',
      branch,
      address: at.address,
      // Opened again without them, it keeps those that it has.
      credentials: credentials ?? known?.credentials ?? null,
      registries,
      bringIn: known?.bringIn ?? null,
      openedAt: this.clock.now(),
      closedAt: null,
      needsApproval: known?.needsApproval ?? false,
    });
    try {
      const { base, problems } = await this.snapshots.read(entity, 'now');
      const isToBringIn = base.workspace === null && !base.files.has(ROOT_FILE);
      if (base.workspace === null && !isToBringIn) {
        const detail = problems
          .map(({ message, place }) => `${place.file}:${place.line}:${place.column}: ${message}`)
          .join(' ');
        throw new Problem('NO_WORKSPACE', 422, 'Not a workspace yet', detail, problems);
      }
      entity.name = base.workspace?.name ?? nameOfAddress(at.address);
      if (base.workspace !== null) {
        entity.registries = namedPlaces(base.workspace, registries);
        await this.probeGiven(entity, base.workspace, given);
      }
      const saved = await this.exclusive.run('open', async () => {
        if (known === null && (await this.workspaces.existsBy({ address: at.address, branch })))
          return null;
        entity.slug = known?.slug ?? (await this.freeSlug(entity.name, branch));
        return this.workspaces.save(entity);
      });
      if (saved !== null) return saved;
    } catch (error) {
      if (known === null) await this.forgetUnsaved(id);
      throw error;
    }
    // Somebody has opened the same meanwhile.
    await this.forgetUnsaved(id);
    return this.open(order);
  }

  private async forgetUnsaved(id: string): Promise<void> {
    this.snapshots.forget(id);
    await this.git.remove(id);
  }

  /**
   * Has the repository read with files that it does not have yet, once its registries have answered.
   * @param given places that are said now; those of the other registries stay
   * @throws Problem that says what is wrong with a registry
   */
  async prepare(
    entity: WorkspaceEntity,
    bringIn: BringInFiles,
    workspace: Workspace,
    registries: readonly { name: string; address?: string; token?: string }[],
  ): Promise<WorkspaceEntity> {
    const said = registries.flatMap(({ name, address, token }) =>
      address === undefined ? [] : [{ name, address, ...(token === undefined ? {} : { token }) }],
    );
    const given = await this.givenPlaces({ registries: said }, entity.registries);
    const named = new Set(workspace.registries.map(({ name }) => name));
    const all = Object.entries({ ...entity.registries, ...given });
    const places = Object.fromEntries(all.filter(([name]) => named.has(name)));
    const changed = { name: workspace.name, registries: namedPlaces(workspace, places), bringIn };
    await this.probeGiven(changed, workspace, given);
    return this.change(entity, changed);
  }

  private async probeGiven(
    entity: Pick<WorkspaceEntity, 'registries'>,
    workspace: Workspace,
    given: WorkspaceEntity['registries'],
  ): Promise<void> {
    const sources = sourcesOf(entity, workspace);
    for (const { name } of workspace.registries) {
      const source = sourceOf(sources, name);
      if (source !== null && isGiven(given, source)) await this.probeRegistry(source);
    }
  }

  /**
   * The JSON that a registry at an address has at a path, and the record that is read from it, by a shape or as ours
   * are read.
   * @throws Problem where it does not answer
   */
  async tryDocument(
    entity: WorkspaceEntity,
    { name, address, token, package: wanted }: TriedPlace,
    path: string,
    shape: RegistryShape | undefined,
    versions: VersionScheme,
  ): Promise<RawReading> {
    const place = await this.placeAt(address, entity.registries[name] ?? null);
    const source = await this.withToken(place, token);
    return this.tellingOfRegistry(() =>
      this.registries.readRaw({ ...source, shape, versions }, path, wanted),
    );
  }

  /**
   * Sets where a registry is and how one is let in, once it has answered.
   * @throws Problem that says what is wrong with it, and then nothing is changed
   */
  async setRegistry(
    entity: WorkspaceEntity,
    workspace: Workspace,
    name: string,
    asked: SetRegistryDto,
  ): Promise<WorkspaceEntity> {
    const place = await this.registryPlace(entity, workspace, name, asked);
    await this.probeRegistry({ ...place, ...speechOf(workspace, name) });
    const { '': unnamed, ...named } = entity.registries;
    const isOnly = workspace.registries.length === 1;
    const known = unnamed === undefined || isOnly ? named : { ...named, '': unnamed };
    return this.change(entity, { registries: { ...known, [name]: place } });
  }

  /** @throws Problem where it does not answer */
  async tryRegistry(
    entity: WorkspaceEntity,
    workspace: Workspace,
    name: string,
    asked: SetRegistryDto,
  ): Promise<PackageRecord | null> {
    const place = {
      ...(await this.registryPlace(entity, workspace, name, asked)),
      ...speechOf(workspace, name),
    };
    await this.probeRegistry(place);
    if (asked.package === undefined) return null;
    return this.tellingOfRegistry(() => this.registries.tryOut(place, asked.package!));
  }

  private async registryPlace(
    entity: WorkspaceEntity,
    workspace: Workspace,
    name: string,
    { address, token, forget }: SetRegistryDto,
  ): Promise<KnownRegistry> {
    if (!workspace.registries.some((one) => one.name === name))
      throw new Problem(
        'REGISTRY_UNKNOWN',
        404,
        'No such registry',
        `ledger.toml names no registry ${name}. It has ${workspace.registries.map((one) => one.name).join(', ')}.`,
      );
    const before = sourceOf(sourcesOf(entity, workspace), name);
    const place = await this.placeAt(address, before);
    if (forget === true) return { ...place, credentials: null };
    return this.withToken(place, token);
  }

  private async withToken(place: KnownRegistry, token: string | undefined): Promise<KnownRegistry> {
    if (token === undefined || token === '') return place;
    return { ...place, credentials: await this.vault.lock({ token }) };
  }

  private async givenPlaces(
    { registry, registries = [] }: Pick<OpenWorkspaceDto, 'registry' | 'registries'>,
    before: WorkspaceEntity['registries'],
  ): Promise<WorkspaceEntity['registries']> {
    const all = [
      ...(registry === undefined ? [] : [{ name: '', address: registry, token: undefined }]),
      ...registries,
    ];
    const entries = all.map(async ({ name, address, token }) => {
      const only = Object.values(before).length === 1 ? Object.values(before)[0] : undefined;
      const place = await this.placeAt(address, before[name] ?? only ?? null);
      return [name, await this.withToken(place, token)] as const;
    });
    return Object.fromEntries(await Promise.all(entries));
  }

  /** A place with the credentials in its address; without any, those that were known for the same address stay. */
  private async placeAt(address: string, before: KnownRegistry | null): Promise<KnownRegistry> {
    const from = splitAddress(address);
    const url = from.address.replace(/\/+$/, '');
    const kept = before?.url === url ? before.credentials : null;
    return { url, credentials: (await this.locked(from.credentials)) ?? kept };
  }

  async change(
    entity: WorkspaceEntity,
    values: Partial<Pick<WorkspaceEntity, 'name' | 'needsApproval' | 'registries' | 'bringIn'>>,
  ): Promise<WorkspaceEntity> {
    const changed = await this.workspaces.save(Object.assign(entity, values));
    this.lately.delete(entity.slug);
    return changed;
  }

  /** Closes a workspace. Its drafts and posts are kept, the clone is not; the repository itself is left alone. */
  async close(entity: WorkspaceEntity): Promise<void> {
    await this.workspaces.update({ id: entity.id }, { closedAt: this.clock.now() });
    this.lately.delete(entity.slug);
    this.snapshots.forget(entity.id);
    await this.git.remove(entity.id);
  }

  private async locked(credentials: Credentials | null): Promise<string | null> {
    if (credentials === null) return null;
    // git is told them line by line.
    if (/\p{Cc}/u.test(credentials.user + credentials.password))
      throw new Problem(
        'ADDRESS_INVALID',
        422,
        'Not a name and password',
        'The name or password in the address holds a control character.',
      );
    return this.vault.lock(credentials);
  }

  private probeRegistry(place: RegistrySource): Promise<void> {
    return this.tellingOfRegistry(() => this.registries.probe(place));
  }

  private async tellingOfRegistry<T>(work: () => Promise<T>): Promise<T> {
    try {
      return await work();
    } catch (error) {
      if (!(error instanceof RegistryError)) throw error;
      throw new Problem(error.code, 422, 'The registry does not answer', error.message);
    }
  }

  private async freeSlug(name: string, branch: string): Promise<string> {
    const plain = `${name}-${branch}`.toLowerCase().replace(/[^a-z0-9.-]+/g, '-');
    const wishes = [name, plain, ...Array.from({ length: 98 }, (_, i) => `${plain}-${i + 2}`)];
    for (const slug of wishes) if (!(await this.workspaces.existsBy({ slug }))) return slug;
    return randomUUID();
  }
}

/** A registry that is tried before anything is kept. */
interface TriedPlace {
  readonly name: string;
  readonly address: string;
  readonly token?: string;
  readonly package: string;
}

/** What a repository is called by where it is. */
function nameOfAddress(address: string): string {
  const last = address
    .replace(/[\\/]+$/, '')
    .split(/[\\/:]/)
    .at(-1)!
    .replace(/\.git$/, '');
  const name = composed(last).replace(/[^\p{L}\p{Nd}._~+@-]+/gu, '-');
  return isName(name) ? name : 'workspace';
}

/** Was a place said now, and not known before? */
function isGiven(given: WorkspaceEntity['registries'], { url }: KnownRegistry): boolean {
  return Object.values(given).some((one) => one.url === url);
}

function isOtherThan(
  places: WorkspaceEntity['registries'],
  before: WorkspaceEntity['registries'],
): boolean {
  const urls = new Set(
    Object.values(before).map(({ url, credentials }) => `${url} ${credentials}`),
  );
  return Object.values(places).some(({ url, credentials }) => !urls.has(`${url} ${credentials}`));
}

/**
 * Places under the names of the workspace's registries. A place that was given without a name belongs to the only
 * registry.
 * @throws Problem REGISTRY_UNNAMED, REGISTRY_UNKNOWN, REGISTRY_ADDRESS_MISSING
 */
function namedPlaces(
  { registries }: Workspace,
  { '': unnamed, ...places }: WorkspaceEntity['registries'],
): WorkspaceEntity['registries'] {
  const names = registries.map(({ name }) => name);
  const refuse = (code: string, title: string, detail: string): never => {
    throw new Problem(code, 422, title, `${detail} Its registries are ${names.join(', ')}.`);
  };
  if (unnamed !== undefined && names.length > 1)
    refuse(
      'REGISTRY_UNNAMED',
      'Which registry is meant?',
      'The workspace has several registries; give an address for each by its name.',
    );
  const named = unnamed === undefined ? places : { [names[0]!]: unnamed };
  const other = Object.keys(places).find((name) => !names.includes(name));
  if (other !== undefined && unnamed === undefined)
    refuse('REGISTRY_UNKNOWN', 'No such registry', `ledger.toml names no registry ${other}.`);
  const missing = names.filter((name) => named[name] === undefined);
  if (missing.length > 0)
    refuse(
      'REGISTRY_ADDRESS_MISSING',
      'Where is the registry?',
      `No address is given for ${missing.join(', ')}.`,
    );
  return named;
}
