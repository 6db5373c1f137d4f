import { unreachable } from '../text/index.js';
import type { Workspace } from '../workspace/index.js';
import type { Edit } from './edit.js';
import { ownRequirementsOn } from './level-edits.js';

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
    case 'level':
    case 'set-shared': {
      const agreement = workspace?.agreements.get(edit.package);
      const set = agreement?.set ?? null;
      const from = agreement === undefined || agreement.text === edit.range ? null : agreement.text;
      const moved = set === null ? [] : [`the whole set moves, for ${edit.package}`];
      if (edit.kind === 'level')
        return words(set ?? edit.package, 'levelled', {
          from,
          to: edit.range,
          detail: [...moved, `in ${projectNames(workspace, edit.projects)}`].join('; '),
        });
      return words(set ?? edit.package, agreement === undefined ? 'newly agreed' : 'agreed', {
        from,
        to: edit.range,
        detail: moved[0] ?? null,
      });
    }
    case 'upgrade': {
      const [first] = edit.moves;
      const set = workspace?.agreements.get(first?.package ?? '')?.set ?? null;
      const isSet = set !== null && edit.moves.length > 1;
      const names = edit.moves.map((move) => move.package).join(', ');
      return words(isSet ? set : names, 'upgraded', {
        from: first?.from ?? null,
        to: first?.to ?? null,
        detail: isSet ? names : null,
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
        detail: `wherever it turns up${edit.except === undefined || edit.except.length === 0 ? '' : `, except in ${projectNames(workspace, edit.except)}`}`,
      });
    case 'unpin':
      return words(edit.package, 'no longer pinned', {
        from: workspace?.shared.pins.get(edit.package)?.text ?? null,
      });
    case 'accept-terms':
      return words(edit.title, 'terms accepted', { detail: `by ${edit.by} on ${edit.on}` });
    case 'end-acceptance':
      return words(
        workspace?.shared.accepted.find(({ id }) => id === edit.id)?.title ?? edit.id,
        'terms no longer accepted',
      );
    case 'grant-exception':
      return words(edit.project, `keeps ${edit.package}`, {
        to: `${edit.range} †`,
        detail: `until ${edit.until}: ${edit.reason} (${edit.owner})`,
      });
    case 'end-exception':
      return words(edit.project, `exception for ${edit.package} ends`);
    case 'answer-otherwise':
      return words(edit.of, `requirement on ${edit.package} answered otherwise`, {
        from:
          workspace?.shared.otherwise.find(
            (one) => one.of === edit.of && one.package === edit.package,
          )?.range ?? null,
        to: `${edit.range} †`,
        detail: `until ${edit.until}: ${edit.reason} (${edit.owner})`,
      });
    case 'end-otherwise':
      return words(edit.of, `requirement on ${edit.package} answered as it asks again`);
    case 'set-policy':
      return words(edit.package ?? 'policy', `${edit.setting} set`, {
        to: edit.value === '' ? 'any' : edit.value,
      });
    case 'set-standing':
      return words(edit.name, 'standing order', {
        from: workspace?.standing.find(({ name }) => name === edit.name)?.every ?? null,
        to: edit.every,
        detail: `takes ${edit.take === 'patch' ? 'patches' : 'patches and minors'}${edit.olderThanDays === 0 ? '' : ` older than ${edit.olderThanDays} days`} into a ${edit.to}`,
      });
    case 'end-standing':
      return words(edit.name, 'standing order ended');
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
    case 'take-integrity':
      return words(`${edit.package} ${edit.version}`, "takes the registry's integrity", {
        to: edit.integrity,
      });
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

/** The name of a draft that clears all findings that can be cleared; its message says so. */
export const CLEAR_EVERYTHING = 'Clear everything';

/**
 * A commit message made of the edits: a line that sums up, then one line for each edit.
 * @param name of the draft
 * @param isBroughtIn it also adds the files that make the repository a workspace
 */
export function draftMessage(
  workspace: Workspace | null,
  edits: readonly Edit[],
  name = '',
  isBroughtIn = false,
): string {
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
  const title = messageTitle(edits, described);
  const before = isBroughtIn
    ? `Bring in ${workspace?.name ?? 'the repository'}`
    : name === CLEAR_EVERYTHING
      ? name
      : null;
  const isSaid = edits.every(({ kind }) => kind === 'bring-up');
  const whole =
    before === null
      ? title
      : isBroughtIn && isSaid
        ? before
        : `${before}: ${title.slice(0, 1).toLowerCase()}${title.slice(1)}`;
  return `${whole}\n\n${lines.join('\n')}\n`;
}

function messageTitle(edits: readonly Edit[], described: readonly EditWords[]): string {
  const takenBack = edits.find((edit) => edit.kind === 'take-back');
  if (takenBack !== undefined && edits.length === 1) return `Take back "${takenBack.title}"`;
  const [edit] = edits;
  if (edits.length === 1 && edit!.kind === 'level')
    return `Level ${described[0]!.subject} at ${edit!.range}`;
  if (edits.length === 1 && edit!.kind === 'upgrade')
    return `Upgrade ${described[0]!.subject} to ${described[0]!.to}`;
  if (edits.length === 1 && edit!.kind === 'set-shared')
    return `Agree on ${described[0]!.subject} ${edit!.range}`;
  if (edits.length === 1) {
    const { subject, verb, to } = described[0]!;
    return `${isSetting(subject) ? upperFirst(subject) : subject} ${verb}${to === null ? '' : ` ${to}`}`;
  }
  return upperFirst(titleParts(edits).join(', '));
}

/** What many edits do, kind by kind: `level 4 packages, remove 6 requirements`. */
function titleParts(edits: readonly Edit[]): readonly string[] {
  const levelled = new Set<string>();
  const refreshed = new Set<string>();
  const counts = new Map<string, number>();
  for (const edit of edits) {
    if (edit.kind === 'level' || edit.kind === 'set-shared' || edit.kind === 'take-shared')
      levelled.add(edit.package);
    else if (edit.kind === 'refresh' && edit.packages.length > 0)
      for (const name of edit.packages) refreshed.add(name);
    else {
      const [verb, one] = KIND_TITLES[edit.kind];
      const key = `${verb}\n${one}`;
      const size =
        'projects' in edit ? edit.projects.length : 'moves' in edit ? edit.moves.length : 1;
      counts.set(key, (counts.get(key) ?? 0) + size);
    }
  }
  return [
    ...(levelled.size === 0 ? [] : [`level ${named(levelled)}`]),
    ...(refreshed.size === 0 ? [] : [`re-resolve ${named(refreshed)}`]),
    ...[...counts].map(([key, n]) => {
      const [verb, one] = key.split('\n') as [string, string];
      return one === '' ? verb : `${verb} ${n === 1 ? `one ${one}` : `${n} ${plural(one)}`}`;
    }),
  ];
}

/** Up to three packages by name, more by their number. */
function named(packages: ReadonlySet<string>): string {
  return packages.size <= 3 ? [...packages].join(', ') : `${packages.size} packages`;
}

function plural(word: string): string {
  return word.endsWith('cy') ? `${word.slice(0, -1)}ies` : `${word}s`;
}

/** What is done, and to how many of what; nothing: it is done once. */
const KIND_TITLES: Readonly<Record<Edit['kind'], readonly [verb: string, one: string]>> = {
  level: ['level', 'package'],
  'set-shared': ['agree on', 'package'],
  upgrade: ['upgrade', 'package'],
  'set-standing': ['set', 'standing order'],
  'end-standing': ['end', 'standing order'],
  'accept-terms': ['accept terms', ''],
  'end-acceptance': ['no longer accept terms', ''],
  'take-shared': ['level', 'package'],
  'retire-shared': ['retire', 'shared version'],
  'set-range': ['set', 'range'],
  'add-requirement': ['add', 'requirement'],
  'remove-requirement': ['remove', 'requirement'],
  'change-kind': ['change the kind of', 'requirement'],
  'make-set': ['set up', 'lockstep set'],
  'dissolve-set': ['dissolve', 'lockstep set'],
  everywhere: ['require everywhere', 'package'],
  'not-everywhere': ['no longer require everywhere', 'package'],
  pin: ['pin', 'package'],
  unpin: ['unpin', 'package'],
  'grant-exception': ['grant', 'exception'],
  'end-exception': ['end', 'exception'],
  'answer-otherwise': ['answer otherwise', 'requirement'],
  'end-otherwise': ['answer as asked', 'requirement'],
  'set-policy': ['change', 'policy'],
  'set-platform': ['change', 'platform version'],
  refresh: ['re-resolve all', ''],
  'bring-up': ['bring the lockfile up to the manifests', ''],
  're-pick': ['pick otherwise', 'copy'],
  'take-integrity': ["take the registry's integrity of", 'copy'],
  'believe-use': ['write down the use of', 'package'],
  mute: ['mute', 'finding'],
  unmute: ['unmute', 'finding'],
  'take-back': ['take back', 'commit'],
};

function upperFirst(text: string): string {
  return text.slice(0, 1).toUpperCase() + text.slice(1);
}

/** Is it no name of a package or a project, which keep their spelling? */
function isSetting(subject: string): boolean {
  return subject === 'policy' || subject === 'platform' || subject === 'lockfile';
}

/** Projects of an edit in which it has nothing left to do, in words; null: it is about all that it names. */
export function leftOutWords(workspace: Workspace | null, edit: Edit): string | null {
  if (workspace === null || edit.kind !== 'level') return null;
  const { projects } = workspace;
  const out = edit.projects.filter((folder) => {
    const project = projects.find((one) => one.folder === folder);
    return project === undefined || ownRequirementsOn(project, edit.package).length === 0;
  });
  return out.length === 0
    ? null
    : `Left out: ${projectNames(workspace, out)}, which ${out.length === 1 ? 'does' : 'do'} not write it any more.`;
}
