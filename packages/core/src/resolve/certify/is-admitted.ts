import { rangeFor } from '../../manifest/index.js';
import { rangeContains, requireVersion } from '../../version/index.js';
import type { Workspace } from '../../workspace/index.js';

/** Does a range of a package admit a version, under the workspace's policy? */
export function isAdmitted(workspace: Workspace, name: string, range: string, to: string): boolean {
  return rangeContains(rangeFor(workspace.policy, name, range), requireVersion(to));
}
