import { Injectable } from '@nestjs/common';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { LiveService } from './live.service.js';

/** What moves a branch, or asks for it to be read. */
const MOVING = new Set(['post', 'workspace', 'refresh']);

/** Reads a workspace anew once any server has moved its branch, however young the snapshot is. */
@Injectable()
export class SnapshotExpiry {
  constructor(live: LiveService, snapshots: SnapshotService) {
    live.all.subscribe(({ workspaceId, topic }) => {
      if (MOVING.has(topic)) snapshots.expire(workspaceId);
    });
  }
}
