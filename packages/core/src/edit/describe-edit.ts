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

function words(
  subject: string,
  verb: string,
  more: Partial<Pick<EditWords, 'from' | 'to' | 'detail'>> = {},
): EditWords {
  return { subject, verb, from: null, to: null, detail: null, ...more };
}

/** @param workspace as it was before the edit */
export function describeEdit(workspace: Workspace | null, edit: Edit): EditWords {
  switch (edit.kind) {
    case 'set-shared': {
      const agreement = workspace?.agreements.get(edit.package);
      const set = agreement?.set ?? null;
      return words(set ?? edit.package, agreement === undefined ? 'newly agreed' : 'agreed', {
        from: agreement === undefined || agreement.text === edit.range ? null : agreement.text,
        to: edit.range,
        detail: set === null ? null : `the whole set moves, for ${edit.package}`,
      });
    }
    case 'take-shared':
      return words(edit.package, `taken by ${projectCount(edit.projects)}`, {
        detail: projectNames(workspace, edit.projects),
      });
    case 'retire-shared':
      return words(edit.package, 'no longer agreed', {
        from: workspace?.agreements.get(edit.package)?.text ?? null,
        detail: 'who takes the shared version writes its range',
      });
    case 'set-range':
      return words(edit.package, `of its own in ${projectCount(edit.projects)}`, {
        to: edit.range,
        detail: projectNames(workspace, edit.projects),
      });
    case 'add-requirement':
      return words(edit.package, `added to ${projectCount(edit.projects)}`, {
        to: edit.range,
        detail: `${edit.as}, in ${projectNames(workspace, edit.projects)}`,
      });
    case 'remove-requirement':
      return words(edit.package, `dropped by ${projectCount(edit.projects)}`, {
        detail: projectNames(workspace, edit.projects),
      });
    case 'change-kind':
      return words(edit.package, `becomes ${edit.as} in ${projectCount(edit.projects)}`, {
        detail: projectNames(workspace, edit.projects),
      });
    case 'make-set': {
      const old = workspace?.shared.lockstep.find(({ name }) => name === edit.set);
      return words(edit.set, old === undefined ? 'new lockstep set' : 'lockstep set', {
        from: old === undefined || old.text === edit.range ? null : old.text,
        to: edit.range,
        detail: edit.packages.join(', '),
      });
    }
    case 'dissolve-set':
      return words(edit.set, 'lockstep set dissolved', {
        detail:
          workspace?.shared.lockstep.find(({ name }) => name === edit.set)?.packages.join(', ') ??
          null,
      });
    case 'everywhere':
      return words(edit.package, 'required everywhere', {
        to: edit.range,
        detail: `${edit.as}${edit.except.length === 0 ? '' : `, except ${projectNames(workspace, edit.except)}`}`,
      });
    case 'not-everywhere':
      return words(edit.package, 'no longer required everywhere');
    case 'pin':
      return words(edit.package, 'pinned', {
        from: workspace?.shared.pins.get(edit.package)?.text ?? null,
        to: edit.version,
        detail: 'wherever it turns up',
      });
    case 'unpin':
      return words(edit.package, 'no longer pinned', {
        from: workspace?.shared.pins.get(edit.package)?.text ?? null,
      });
    case 'grant-exception':
      return words(edit.project, `keeps ${edit.package}`, {
        to: `${edit.range} †`,
        detail: `until ${edit.until}: ${edit.reason} (${edit.owner})`,
      });
    case 'end-exception':
      return words(edit.project, `exception for ${edit.package} ends`);
    case 'set-policy':
      return words(edit.package ?? 'policy', `${edit.setting} set`, {
        to: edit.value === '' ? 'any' : edit.value,
      });
    case 'set-platform':
      return words('platform', `${edit.name} offered`, {
        from: workspace?.platform.has(edit.name)
          ? versionText(workspace.platform.get(edit.name)!)
          : null,
        to: edit.version,
      });
    case 'refresh':
      return words(
        edit.packages.length === 0 ? 'lockfile' : edit.packages.join(', '),
        edit.packages.length === 0 ? 're-resolved' : 're-resolved in the lockfile',
      );
    case 'bring-up':
      return words('lockfile', 'brought up to the manifests');
    case 're-pick':
      return words(edit.package, 'picked otherwise', { from: edit.from, to: edit.to });
    case 'believe-use':
      return words(edit.package, 'believed to be used', {
        detail: projectNames(workspace, [edit.project]),
      });
    case 'mute':
      return words(edit.finding, 'muted', {
        detail: `until ${edit.until}: ${edit.reason} (${edit.owner})`,
      });
    case 'unmute':
      return words(edit.finding, 'no longer muted');
    case 'take-back':
      return words(edit.commit.slice(0, 7), 'taken back', { detail: edit.title });
    default:
      return unreachable(edit);
  }
}

function versionText({
  major,
  minor,
  patch,
}: {
  major: number;
  minor: number;
  patch: number;
}): string {
  return `${major}.${minor}.${patch}`;
}

function projectCount(folders: readonly string[]): string {
  return `${folders.length} ${folders.length === 1 ? 'project' : 'projects'}`;
}

function projectNames(workspace: Workspace | null, folders: readonly string[]): string {
  const names = new Map(workspace?.projects.map(({ folder, name }) => [folder, name]));
  return folders.map((folder) => names.get(folder) ?? folder).join(', ');
}

/** A commit message made of the edits: a line that sums up, then one line for each edit. */
export function draftMessage(workspace: Workspace | null, edits: readonly Edit[]): string {
  const described = edits.map((edit) => describeEdit(workspace, edit));
  const lines = described.map(({ subject, verb, from, to, detail }) => {
    const versions =
      to === null
        ? from === null
          ? ''
          : ` ${from}`
        : from === null
          ? ` ${to}`
          : ` ${from} -> ${to}`;
    return `- ${subject}: ${verb}${versions}${detail === null ? '' : ` (${detail})`}`;
  });
  return `${messageTitle(edits, described)}\n\n${lines.join('\n')}\n`;
}

function messageTitle(edits: readonly Edit[], described: readonly EditWords[]): string {
  const takenBack = edits.find((edit) => edit.kind === 'take-back');
  if (takenBack !== undefined && edits.length === 1) return `Take back "${takenBack.title}"`;
  const agreed = edits.flatMap((edit, i) =>
    edit.kind === 'set-shared' ? [{ subject: described[i]!.subject, range: edit.range }] : [],
  );
  const isAboutOne = edits.every(
    (edit) => edit.kind === 'set-shared' || edit.kind === 'take-shared',
  );
  if (agreed.length === 1 && isAboutOne)
    return `Agree on ${agreed[0]!.subject} ${agreed[0]!.range}`;
  if (edits.length === 1) {
    const { subject, verb, to } = described[0]!;
    return `${upperFirst(subject)} ${verb}${to === null ? '' : ` ${to}`}`;
  }
  const subjects = [...new Set(described.map(({ subject }) => subject))];
  const rest = subjects.length > 3 ? ` and ${subjects.length - 3} more` : '';
  return `${isAboutOne ? 'Align' : 'Change'} ${subjects.slice(0, 3).join(', ')}${rest}`;
}

function upperFirst(text: string): string {
  return text === 'policy' || text === 'platform' || text === 'lockfile'
    ? text[0]!.toUpperCase() + text.slice(1)
    : text;
}
