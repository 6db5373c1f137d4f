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
import { StandingOrders } from './standing-orders.service.js';

const DUE_MS = 60_000;
/** After so many rounds each repository is looked at for orders, even if nobody else looks at it. */
const LOOK_EVERY = 60;

/** In a worker process: begins standing orders on their day. */
@Injectable()
export class StandingClock implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly over = new AbortController();

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(LOGGER) private readonly log: Logger,
    private readonly orders: StandingOrders,
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly exclusive: Exclusive,
  ) {}

  onApplicationBootstrap(): void {
    if (this.settings.works) void this.tick();
  }

  onModuleDestroy(): void {
    this.over.abort();
  }

  private async tick(): Promise<void> {
    const { signal } = this.over;
    // Not at the start: which orders there are is known from before.
    for (let n = 1; !signal.aborted; n = (n + 1) % LOOK_EVERY) {
      if (n === 0) await this.lookForOrders();
      await this.orders.beginDue().catch((error: unknown) => {
        this.log.warn({ err: error }, 'standing orders have to wait');
      });
      await setTimeout(DUE_MS, undefined, { signal }).catch(() => undefined);
    }
  }

  /** One process at a time. A repository that does not answer keeps the orders that it was known to have. */
  private async lookForOrders(): Promise<void> {
    const work = async (): Promise<void> => {
      for (const workspace of await this.workspaces.list())
        try {
          const { base } = await this.snapshots.read(workspace);
          if (base.workspace !== null) await this.orders.know(workspace, base.workspace.standing);
        } catch (error) {
          this.log.warn(
            { err: error, workspace: workspace.slug },
            'its standing orders are not known',
          );
        }
    };
    await this.exclusive.run('standing orders', work, 0).catch((error: unknown) => {
      if (!(error instanceof LockTaken))
        this.log.warn({ err: error }, 'standing orders are not known');
    });
  }
}
