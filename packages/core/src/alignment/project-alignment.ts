import {
  retainedSizes,
  retainedBy,
  needGraph,
  nodeOf,
  whatTheyBring,
  type RetainedSizes,
  type NeedGraph,
} from '../graph/index.js';
import type { CopyName } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import type { Resolution } from '../resolve/index.js';
import {
  standingOf,
  type Project,
  type Requirement,
  type Standing,
  type Workspace,
} from '../workspace/index.js';
import type { AlignmentRow } from './alignment-row.js';

/** One requirement of a project, and what would go with it. */
export interface ProjectLine {
  readonly requirement: Requirement;
  /** Null: another project answers it. */
  readonly standing: Standing | null;
  readonly isOff: boolean;
  /** The version that the lockfile answers; null: none, or a project. */
  readonly copy: string | null;
  /** Copies that only this requirement brings in, its own answer first. */
  readonly bringsAlone: readonly CopyName[];
  /** Of their archives. */
  readonly bytesAlone: number;
}

export interface ProjectAlignment {
  readonly project: Project;
  readonly lines: readonly ProjectLine[];
  readonly requiredBy: readonly Project[];
  /** Copies that it reaches. */
  readonly copies: number;
}

/** The lockfile as a graph, with what leaves with what; made once for each lockfile. */
interface Weighed {
  readonly graph: NeedGraph;
  readonly weights: RetainedSizes;
}

const weighed = new WeakMap<Resolution, Weighed>();

function weigh(resolution: Resolution, records: PackageRecords): Weighed {
  const known = weighed.get(resolution);
  if (known !== undefined) return known;
  const graph = needGraph(resolution);
  const bytes = resolution.copies.map(
    ({ name, version }) =>
      records.get(name)?.releases.find(({ text }) => text === version)?.archive.bytes ?? 0,
  );
  const made = { graph, weights: retainedSizes(graph, bytes) };
  weighed.set(resolution, made);
  return made;
}

/**
 * One project's requirements with their answers, and beneath each what it alone brings along. Null: there is no
 * readable project in the folder.
 * @param rows of Alignment
 * Cost: O(links) once for each lockfile, then O(requirements * copies) at most.
 */
export function projectAlignment(
  workspace: Workspace,
  records: PackageRecords,
  resolution: Resolution | null,
  rows: readonly AlignmentRow[],
  folder: string,
  today: string,
): ProjectAlignment | null {
  const project = workspace.projects.find((one) => one.folder === folder);
  if (project === undefined) return null;
  const graph = resolution === null ? null : weigh(resolution, records);
  const node = resolution?.projects.findIndex((one) => one.folder === folder) ?? -1;
  const answers = resolution?.projects[node];
  const offHere = new Set(
    rows.flatMap(({ name, cells }) =>
      cells.some((cell) => cell.project === folder && cell.isOff) ? [name] : [],
    ),
  );
  const lines = project.requirements.map((requirement): ProjectLine => {
    const { name, kind, meaning } = requirement;
    const index =
      answers?.requirements.findIndex((one) => one.name === name && one.kind === kind) ?? -1;
    const answer = answers?.requirements[index]?.answer;
    const link = graph === null || index < 0 ? null : linkOf(graph.graph, node, index);
    return {
      requirement,
      standing: meaning.kind === 'range' ? standingOf(workspace, requirement, today) : null,
      isOff: meaning.kind === 'range' && offHere.has(name),
      copy: answer?.kind === 'copy' ? answer.version : null,
      ...(graph === null || link === null ? NOTHING : broughtBy(graph, link)),
    };
  });
  const requiredBy = workspace.projects.filter(({ requirements }) =>
    requirements.some((one) => one.meaning.kind === 'project' && one.meaning.folder === folder),
  );
  return {
    project,
    lines,
    requiredBy,
    copies: graph === null || node < 0 ? 0 : copiesReached(graph.graph, node),
  };
}

function copiesReached(graph: NeedGraph, node: number): number {
  return whatTheyBring(graph, [node]).filter((one) => one.node >= graph.projectCount).length;
}

const NOTHING = { bringsAlone: [], bytesAlone: 0 };

/** The link that stands for a requirement of a node; null: it was skipped. */
function linkOf({ starts, requirements }: NeedGraph, node: number, index: number): number | null {
  for (let link = starts[node]!; link < starts[node + 1]!; link++)
    if (requirements[link] === index) return link;
  return null;
}

function broughtBy(
  { graph, weights }: Weighed,
  link: number,
): Pick<ProjectLine, 'bringsAlone' | 'bytesAlone'> {
  const target = graph.targets[link]!;
  if (target < graph.projectCount || weights.isSoleWay[link] === 0) return NOTHING;
  const others = retainedBy(weights, target).filter((node) => node !== target);
  return {
    bringsAlone: [target, ...others].flatMap((node): CopyName[] => {
      const found = nodeOf(graph, node);
      return found.kind === 'copy' ? [{ name: found.copy.name, version: found.copy.version }] : [];
    }),
    bytesAlone: weights.bytes[target]!,
  };
}
