import { setTimeout } from 'node:timers/promises';
import {
  Inject,
  Injectable,
  type OnApplicationBootstrap,
  type OnModuleDestroy,
} from '@nestjs/common';
import type { Logger } from 'pino';
import { Exclusive, LockTaken } from '../database/exclusive.js';
import { LOGGER } from '../logging/nest-logger.js';
import { SETTINGS, type Settings } from '../settings.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { ArchivesService } from './archives.service.js';

/** How often lockfiles are looked at when nobody else looks at them. */
const LOOK_MS = 10 * 60_000;

/** Begins rounds of the mirror: as soon as a head is seen to have moved, and now and then in a worker process. */
@Injectable()
export class MirrorClock implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly over = new AbortController();

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(LOGGER) private readonly log: Logger,
    private readonly archives: ArchivesService,
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly exclusive: Exclusive,
  ) {}

  onApplicationBootstrap(): void {
    if (this.settings.archivesBytes === 0) return;
    const changes = this.snapshots.changes.subscribe((id) => void this.beginIn(id));
    this.over.signal.addEventListener('abort', () => changes.unsubscribe());
    if (this.settings.works) void this.tick();
  }

  onModuleDestroy(): void {
    this.over.abort();
  }

  private async tick(): Promise<void> {
    const { signal } = this.over;
    const rest = () => setTimeout(LOOK_MS, undefined, { signal }).catch(() => undefined);
    for (await rest(); !signal.aborted; await rest()) {
      const work = async (): Promise<void> => {
        for (const entity of await this.workspaces.list()) await this.beginFor(entity);
      };
      await this.exclusive.run('archives', work, 0).catch((error: unknown) => {
        if (!(error instanceof LockTaken)) this.log.warn({ err: error }, 'archives have to wait');
      });
    }
  }

  private async beginIn(id: string): Promise<void> {
    const all = await this.workspaces.list().catch(() => []);
    const entity = all.find((one) => one.id === id);
    if (entity !== undefined) await this.beginFor(entity);
  }

  private async beginFor(entity: WorkspaceEntity): Promise<void> {
    try {
      await this.snapshots.read(entity);
      await this.archives.beginIfChanged(entity);
    } catch (error) {
      this.log.warn({ err: error, workspace: entity.slug }, 'its archives are not looked at');
    }
  }
}
