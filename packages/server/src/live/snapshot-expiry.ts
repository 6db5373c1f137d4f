import { Injectable } from '@nestjs/common';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { LiveService } from './live.service.js';

/**
 * Reads a workspace again once another server has moved its branch, however young the snapshot is, and tells pages when a
 * look at a repository or registry has found something new.
 */
@Injectable()
export class SnapshotExpiry {
  constructor(live: LiveService, snapshots: SnapshotService) {
    live.fromElsewhere.subscribe(({ workspaceId, topic }) => {
      if (topic === 'post') snapshots.expire(workspaceId);
    });
    snapshots.changes.subscribe((workspaceId) => void live.tell(workspaceId, 'head'));
  }
}
