import type { DataSourceOptions } from 'typeorm';
import { ArchiveEntity, ArchiveRoundEntity, ArchiveUseEntity } from '../archives/archive.entity.js';
import { AnswerEntity } from '../answers/answer.entity.js';
import { DraftEntity, DraftStateEntity } from '../drafts/draft.entity.js';
import { DriftPointEntity } from '../drift/drift-point.entity.js';
import { JobEntity } from '../jobs/job.entity.js';
import { LockCommitEntity } from '../lock/lock-commit.entity.js';
import { ReportEntity } from '../machines/report.entity.js';
import { CommitFiguresEntity } from '../findings/commit-figures.entity.js';
import { PostEntity } from '../journal/post.entity.js';
import { MergeApprovalEntity } from '../merges/merge-approval.entity.js';
import { PackageDocumentEntity } from '../registry/package-document.entity.js';
import { RegistryEntity } from '../registry/registry.entity.js';
import { ApprovalEntity, CommentEntity } from '../review/review.entity.js';
import { SourceScanEntity } from '../scan/source-scan.entity.js';
import { AccountEntity, OneTimeLinkEntity, SessionEntity } from '../team/account.entity.js';
import { AuditEntity } from '../team/audit.entity.js';
import { TokenEntity } from '../team/token.entity.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { Initial1763856000000 } from './migrations/1763856000000-initial.js';
import { DraftHistory1763899200000 } from './migrations/1763899200000-draft-history.js';
import { Findings1763942400000 } from './migrations/1763942400000-findings.js';
import { DraftSteps1764115260000 } from './migrations/1764115260000-draft-steps.js';
import { SeenAndSigned1764201600000 } from './migrations/1764201600000-seen-and-signed.js';
import { StandingOrderEntity, StandingRunEntity } from '../standing/standing.entity.js';
import { StandingOrders1764460800000 } from './migrations/1764460800000-standing-orders.js';
import { Archives1764547200000 } from './migrations/1764547200000-archives.js';
import { BringIn1764374400000 } from './migrations/1764374400000-bring-in.js';
import { SeveralRegistries1764288000000 } from './migrations/1764288000000-several-registries.js';
import { PlainWords1764115200000 } from './migrations/1764115200000-plain-words.js';
import { Answers1764072000000 } from './migrations/1764072000000-answers.js';
import { Work1764028800000 } from './migrations/1764028800000-work.js';
import { Team1763985600000 } from './migrations/1763985600000-team.js';

/** How the server reaches its database. The schema comes from migrations alone. */
export function dataSourceOptions(url: string): DataSourceOptions {
  return {
    type: 'postgres',
    url,
    entities: [
      WorkspaceEntity,
      DraftEntity,
      DraftStateEntity,
      PostEntity,
      RegistryEntity,
      PackageDocumentEntity,
      SourceScanEntity,
      CommitFiguresEntity,
      AccountEntity,
      SessionEntity,
      OneTimeLinkEntity,
      TokenEntity,
      AuditEntity,
      JobEntity,
      LockCommitEntity,
      DriftPointEntity,
      ReportEntity,
      ApprovalEntity,
      CommentEntity,
      MergeApprovalEntity,
      AnswerEntity,
      StandingOrderEntity,
      StandingRunEntity,
      ArchiveEntity,
      ArchiveUseEntity,
      ArchiveRoundEntity,
    ],
    migrations: [
      Initial1763856000000,
      DraftHistory1763899200000,
      Findings1763942400000,
      Team1763985600000,
      Work1764028800000,
      Answers1764072000000,
      PlainWords1764115200000,
      DraftSteps1764115260000,
      SeenAndSigned1764201600000,
      SeveralRegistries1764288000000,
      BringIn1764374400000,
      StandingOrders1764460800000,
      Archives1764547200000,
    ],
    migrationsRun: true,
    migrationsTransactionMode: 'each',
    synchronize: false,
    installExtensions: false,
    // Not errors: they would be printed with the values of the statement.
    logging: ['warn', 'migration'],
    connectTimeoutMS: 5000,
  };
}
