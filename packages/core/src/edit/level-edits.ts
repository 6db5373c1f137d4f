import { requirementsOn, type AlignmentRow } from '../alignment/index.js';
import { requireVersion, versionStep, type Version } from '../version/index.js';
import { standingOf, type Project, type Requirement, type Workspace } from '../workspace/index.js';
import type { Edit } from './edit.js';

/** The range around a version in the manner of the agreement there is: caret, tilde or exact; caret without one. */
export function rangeLike(agreed: string | null, version: string): string {
  if (agreed === null || agreed.startsWith('^')) return `^${version}`;
  if (agreed.startsWith('~')) return `~${version}`;
  return /^\d+\.\d+\.\d+/.test(agreed) && !/\s/.test(agreed) ? version : `^${version}`;
}

/** What levelling a package at a version asks for. */
export interface LevelStep {
  readonly range: string;
  /** Folders of projects that write a range of their own and are to take the shared version, sorted. */
  readonly takers: readonly string[];
}

/**
 * Every project that writes a range of its own takes the shared version, unless it has an exception.
 * @param requirements on the package, where they are known already; to find them is O(requirements of all projects)
 */
export function levelStep(
  workspace: Workspace,
  name: string,
  version: string,
  today: string,
  requirements: readonly Requirement[] = requirementsOn(workspace, name),
): LevelStep {
  const range = rangeLike(workspace.agreements.get(name)?.text ?? null, version);
  const own = requirements.filter(
    (requirement) =>
      !requirement.isEverywhere &&
      requirement.written !== 'shared' &&
      standingOf(workspace, requirement, today).kind !== 'excepted',
  );
  return { range, takers: [...new Set(own.map(({ project }) => project))].sort() };
}

/** The edits that level a package at a version: the shared version is set around it, and projects take it. */
export function levelEdits(
  workspace: Workspace,
  name: string,
  version: string,
  today: string,
  requirements?: readonly Requirement[],
): readonly Edit[] {
  const { range, takers } = levelStep(workspace, name, version, today, requirements);
  return takers.length === 0
    ? [{ kind: 'set-shared', package: name, range }]
    : [{ kind: 'level', package: name, range, projects: takers }];
}

/**
 * The edits that level a package without deciding on a version: at what is agreed, or, where nothing is, at the
 * newest version in use. None where it is level, or where nothing is in use.
 */
export function levelInUse(
  workspace: Workspace,
  row: AlignmentRow,
  today: string,
  requirements?: readonly Requirement[],
): readonly Edit[] {
  const { name, agreed, off, marks } = row;
  const newest = marks.findLast((mark) => mark.inLine + mark.off > 0)?.version;
  if (off === 0 || (agreed === null && newest === undefined)) return [];
  if (agreed === null) return levelEdits(workspace, name, newest!, today, requirements);
  const { takers } = levelStep(workspace, name, newest ?? '0.0.0', today, requirements);
  return takers.length === 0 ? [] : [{ kind: 'take-shared', package: name, projects: takers }];
}

/**
 * The edits that move a package up to the newest release for which no project takes a major step, from the lowest version
 * in use on. None where there is no such release, or where it is agreed on and taken already.
 * @param ahead releases that are newer than a version and that the workspace lets in, ascending
 */
export function levelUp(
  workspace: Workspace,
  row: AlignmentRow,
  ahead: (version: string) => readonly { readonly text: string; readonly version: Version }[],
  today: string,
): readonly Edit[] {
  const used = row.marks.filter((mark) => mark.inLine + mark.off > 0);
  const [lowest, newest] = [used[0], used.at(-1)];
  if (lowest === undefined || newest === undefined) return [];
  const from = requireVersion(lowest.version);
  const target = ahead(newest.version).findLast(
    ({ version }) => versionStep(from, version) !== 'major',
  );
  if (target === undefined) return [];
  const { range, takers } = levelStep(workspace, row.name, target.text, today);
  return range === row.agreed && takers.length === 0
    ? []
    : levelEdits(workspace, row.name, target.text, today);
}

/** A project's requirements on a package that an edit can change: those that it writes itself. */
export function ownRequirementsOn(
  { requirements }: Pick<Project, 'requirements'>,
  name: string,
): readonly Requirement[] {
  return requirements.filter((one) => one.name === name && !one.isEverywhere);
}

/** The edits but those that an earlier levelling of this package made. */
export function editsWithoutLevel(edits: readonly Edit[], name: string): readonly Edit[] {
  return edits.filter(
    (edit) =>
      !(
        (edit.kind === 'level' || edit.kind === 'set-shared' || edit.kind === 'take-shared') &&
        edit.package === name
      ),
  );
}
