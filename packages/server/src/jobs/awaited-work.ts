import { AsyncLocalStorage } from 'node:async_hooks';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { JobKind } from './job.entity.js';

/** A job that a request waits for. */
export interface AwaitedWork {
  readonly workspace: Pick<WorkspaceEntity, 'id'>;
  readonly kind: JobKind;
  readonly key: string;
}

const ofRequest = new AsyncLocalStorage<AwaitedWork[]>();

/** Notes in `into` the jobs that something waits for. */
export function notingAwaited<T>(into: AwaitedWork[], something: () => Promise<T>): Promise<T> {
  return ofRequest.run(into, something);
}

/** Does something that the request does not wait for to its end: its jobs are none of the request's. */
export function unawaited<T>(something: () => Promise<T>): Promise<T> {
  return ofRequest.exit(something);
}

/** From now on the request, if this is done for one, waits for this job. */
export function noteAwaited(work: AwaitedWork): void {
  ofRequest.getStore()?.push(work);
}
