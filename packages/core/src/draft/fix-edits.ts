import type { Change, SuggestedFix } from '../resolve/index.js';
import type { Workspace } from '../workspace/index.js';
import type { Edit } from '../edit/index.js';

/** The edits that make a suggested fix's changes in the files. */
export function fixEdits(workspace: Workspace, { changes }: SuggestedFix): readonly Edit[] {
  return changes.flatMap((change) => editsOf(workspace, change));
}

function editsOf(workspace: Workspace, change: Change): readonly Edit[] {
  switch (change.kind) {
    case 'range': {
      const { requirements, to: range } = change;
      const name = requirements[0]!.name;
      const isShared = requirements.some((one) => one.written === 'shared' || one.isEverywhere);
      const own = requirements.filter((one) => one.written !== 'shared' && !one.isEverywhere);
      const projects = [...new Set(own.map(({ project }) => project))].sort();
      return [
        ...(isShared && workspace.agreements.has(name)
          ? [{ kind: 'set-shared', package: name, range } as const]
          : []),
        ...(projects.length > 0
          ? [{ kind: 'set-range', package: name, range, projects } as const]
          : []),
      ];
    }
    case 'copies':
      return [{ kind: 'set-policy', package: change.name, setting: 'copies', value: change.to }];
    case 'minimum-age':
      return [
        { kind: 'set-policy', package: change.name, setting: 'minimum-age-days', value: '0' },
      ];
    case 'platform':
      return [{ kind: 'set-platform', name: change.name, version: change.to }];
    case 'peers':
      return [{ kind: 'set-policy', package: null, setting: 'peers', value: 'report' }];
    case 'pin':
      return [{ kind: 'unpin', package: change.name }];
  }
}
