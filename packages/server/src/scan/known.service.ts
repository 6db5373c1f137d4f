import { Injectable } from '@nestjs/common';
import { lookForNeedless, type DraftBase, type Known, type SourceUse } from '@deep-ledger/core';
import type { JobWatch } from '../jobs/jobs.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { ScanService } from './scan.service.js';

const NOTHING: Known = { use: null, needless: null };

type At = Pick<Snapshot, 'head' | 'base'>;
type Asked = WeakMap<DraftBase, Promise<Known>>;

/** What is known of a snapshot beside its files: what source uses, and which copies are needless. */
@Injectable()
export class KnownService {
  private readonly asked: Asked = new WeakMap();
  /** Apart from the others: who works must not wait for what is still to be worked on. */
  private readonly working: Asked = new WeakMap();
  private readonly answered = new WeakMap<DraftBase, Known>();

  constructor(private readonly scans: ScanService) {}

  /** Has source scanned where that has not been done. */
  of(entity: WorkspaceEntity, at: At): Promise<Known> {
    return this.once(this.asked, at, (workspace) =>
      this.scans.use(entity, at.head.commit, workspace),
    );
  }

  /** The same in a process that works: it scans by itself. */
  work(entity: WorkspaceEntity, at: At, watch: JobWatch): Promise<Known> {
    return this.once(this.working, at, (workspace) =>
      this.scans.work(entity, at.head.commit, workspace, watch),
    );
  }

  /** What is at hand; nothing while source is being scanned. */
  atHand(base: DraftBase): Known {
    return this.answered.get(base) ?? NOTHING;
  }

  private async once(
    all: Asked,
    { base }: At,
    scan: (workspace: NonNullable<DraftBase['workspace']>) => Promise<SourceUse>,
  ): Promise<Known> {
    const { workspace } = base;
    if (workspace === null) return NOTHING;
    const answered = this.answered.get(base);
    if (answered !== undefined) return answered;
    const asked =
      all.get(base) ??
      scan(workspace).then((use) => {
        const known = { use, needless: lookForNeedless(base) };
        this.answered.set(base, known);
        return known;
      });
    all.set(base, asked);
    // What failed once may go well when it is asked for again.
    asked.catch(() => all.delete(base));
    return asked;
  }
}
