import { unreachable } from '../text/index.js';
import type { Workspace } from '../workspace/index.js';
import type { Edit } from './edit.js';

/** An edit in words: `scree-log` agreed `^2.9.0` → `^3.2.0`. */
export interface EditWords {
  readonly subject: string;
  readonly verb: string;
  readonly from: string | null;
  readonly to: string | null;
  readonly detail: string | null;
}

/** @param workspace as it was before the edit */
export function describeEdit(workspace: Workspace | null, edit: Edit): EditWords {
  switch (edit.kind) {
    case 'set-shared': {
      const agreement = workspace?.agreements.get(edit.package);
      const set = agreement?.set ?? null;
      return {
        subject: set ?? edit.package,
        verb: agreement === undefined ? 'newly agreed' : 'agreed',
        from: agreement === undefined || agreement.text === edit.range ? null : agreement.text,
        to: edit.range,
        detail: set === null ? null : `the whole set moves, for ${edit.package}`,
      };
    }
    case 'take-shared': {
      const names = edit.projects.map(
        (folder) =>
          workspace?.projects.find((project) => project.folder === folder)?.name ?? folder,
      );
      return {
        subject: edit.package,
        verb: `taken by ${names.length} ${names.length === 1 ? 'project' : 'projects'}`,
        from: null,
        to: null,
        detail: names.join(', '),
      };
    }
    default:
      return unreachable(edit);
  }
}

/** A commit message made of the edits: a line that sums up, then one line for each edit. */
export function draftMessage(workspace: Workspace | null, edits: readonly Edit[]): string {
  const words = edits.map((edit) => describeEdit(workspace, edit));
  const agreed = edits.flatMap((edit) => (edit.kind === 'set-shared' ? [edit] : []));
  const subjects = [...new Set(words.map(({ subject }) => subject))];
  const title =
    agreed.length === 1
      ? `Agree on ${words[edits.indexOf(agreed[0]!)]!.subject} ${agreed[0]!.range}`
      : `Align ${subjects.slice(0, 3).join(', ')}${subjects.length > 3 ? ` and ${subjects.length - 3} more` : ''}`;
  const lines = words.map(({ subject, verb, from, to, detail }) => {
    const versions = to === null ? '' : from === null ? ` ${to}` : ` ${from} -> ${to}`;
    return `- ${subject}: ${verb}${versions}${detail === null ? '' : ` (${detail})`}`;
  });
  return `${title}\n\n${lines.join('\n')}\n`;
}
