import type { DataSourceOptions } from 'typeorm';
import { DraftEntity, DraftStateEntity } from '../drafts/draft.entity.js';
import { CommitFiguresEntity } from '../findings/commit-figures.entity.js';
import { PostEntity } from '../journal/post.entity.js';
import { PackageDocumentEntity } from '../registry/package-document.entity.js';
import { RegistryEntity } from '../registry/registry.entity.js';
import { SourceScanEntity } from '../scan/source-scan.entity.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { Initial1763856000000 } from './migrations/1763856000000-initial.js';
import { DraftHistory1763899200000 } from './migrations/1763899200000-draft-history.js';
import { Findings1763942400000 } from './migrations/1763942400000-findings.js';

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
    ],
    migrations: [Initial1763856000000, DraftHistory1763899200000, Findings1763942400000],
    migrationsRun: true,
    migrationsTransactionMode: 'each',
    synchronize: false,
    installExtensions: false,
    logging: ['error', 'warn', 'migration'],
  };
}
