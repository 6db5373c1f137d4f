import { randomUUID } from 'node:crypto';
import { isAbsolute } from 'node:path';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import { IsNull, type Repository } from 'typeorm';
import { RegistryError } from '@deep-ledger/core';
import { splitAddress, type Credentials } from '@deep-ledger/registry-client';
import { Clock } from '../clock.js';
import { Vault } from '../credentials/vault.js';
import { GitService } from '../git/git.service.js';
import { Problem } from '../problems/problem.js';
import { RegistryService, type RegistrySource } from '../registry/registry.service.js';
import { SnapshotService } from './snapshot.service.js';
import type { OpenWorkspaceDto } from './workspace.dto.js';
import { WorkspaceEntity } from './workspace.entity.js';

/** So long a workspace that is only looked at is taken for what it was. */
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
  async open({ address, branch: wanted, registry }: OpenWorkspaceDto): Promise<WorkspaceEntity> {
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
    const from = splitAddress(registry);
    const given = {
      address: at.address,
      credentials: await this.locked(at.credentials),
      registryUrl: from.address.replace(/\/+$/, ''),
      registryCredentials: await this.locked(from.credentials),
    };
    const branch = wanted ?? (await this.git.defaultBranch(given));
    const known = await this.workspaces.findOneBy({ address: given.address, branch });
    const isSameRegistry = known?.registryUrl === given.registryUrl;
    // Opened again without them, it keeps those that it has.
    const source = {
      ...given,
      credentials: given.credentials ?? known?.credentials ?? null,
      registryCredentials:
        given.registryCredentials ?? (isSameRegistry ? known.registryCredentials : null),
    };
    const isOther = !isSameRegistry || at.credentials !== null || from.credentials !== null;
    if (known?.closedAt === null && !isOther) return known;
    await this.probeRegistry(source);
    const id = known?.id ?? randomUUID();
    const entity = this.workspaces.create({
      id,
      slug: '',
      name: '',
      branch,
      ...source,
      openedAt: this.clock.now(),
      closedAt: null,
      needsApproval: known?.needsApproval ?? false,
    });
    try {
      const { base, problems } = await this.snapshots.read(entity, 'now');
      if (base.workspace === null) {
        const detail = problems
          .map(({ message, place }) => `${place.file}:${place.line}:${place.column}: ${message}`)
          .join(' ');
        throw new Problem('NO_WORKSPACE', 422, 'Not a workspace yet', detail, problems);
      }
      entity.name = base.workspace.name;
      entity.slug = known?.slug ?? (await this.freeSlug(base.workspace.name, branch));
      return await this.workspaces.save(entity);
    } catch (error) {
      if (known === null) {
        this.snapshots.forget(id);
        await this.git.remove(id);
      }
      throw error;
    }
  }

  async change(
    entity: WorkspaceEntity,
    values: Pick<WorkspaceEntity, 'needsApproval'>,
  ): Promise<WorkspaceEntity> {
    this.lately.delete(entity.slug);
    return this.workspaces.save(Object.assign(entity, values));
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

  private async probeRegistry(source: RegistrySource): Promise<void> {
    try {
      await this.registries.probe(source);
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
