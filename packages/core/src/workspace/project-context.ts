import {
  type ProjectManifest,
  rangeFor,
  type RootManifest,
  schemeOf,
  type SharedManifest,
} from '../manifest/index.js';
import { nearestWord, type Span } from '../text/index.js';
import { parseRange, parseVersion, readingOf } from '../version/index.js';
import { matchingTargets } from './matching-targets.js';
import { ROOT_FILE, SHARED_FILE, type Agreement, type FileProblem } from './workspace.js';

const MOST_SEARCHES = 50;

/** What the meaning of requirements depends on beside their own manifests. */
export class ProjectContext {
  readonly agreements: ReadonlyMap<string, Agreement>;
  readonly folderByName: ReadonlyMap<string, string>;
  readonly allTargets: readonly string[];
  readonly problems: readonly FileProblem[];
  /** How often the project was looked for that a name most likely means. */
  readonly searches: number;

  constructor(
    readonly root: RootManifest,
    readonly shared: SharedManifest,
    manifests: ReadonlyMap<string, ProjectManifest>,
  ) {
    this.agreements = agreementsOf(root, shared);
    this.allTargets = matchingTargets(root.targets, []);
    this.folderByName = new Map(
      [...manifests].reverse().map(([folder, { name }]) => [name, folder]),
    );
    const search = new NameSearch(this.folderByName);
    const problems: FileProblem[] = [];
    refuseUnknownProjects(root, shared, manifests, search, problems);
    refuseOtherVersions(root, shared, problems);
    this.problems = problems;
    this.searches = search.searches;
  }
}

/** Looks for the project that a name most likely means; a few times only, as it looks at all of them. */
export class NameSearch {
  constructor(
    private readonly folderByName: ReadonlyMap<string, string>,
    public searches = 0,
  ) {}

  meant(name: string): string | null {
    this.searches += 1;
    return this.searches > MOST_SEARCHES ? null : nearestWord(name, [...this.folderByName.keys()]);
  }
}

/** Exceptions, pins, [everywhere] and the policy may only name projects that are there. */
function refuseUnknownProjects(
  root: RootManifest,
  shared: SharedManifest,
  manifests: ReadonlyMap<string, ProjectManifest>,
  search: NameSearch,
  problems: FileProblem[],
): void {
  const known = new Set(manifests.keys());
  for (const { name } of manifests.values()) known.add(name);
  const named = [
    ...shared.exceptions.map(({ project, span }) => ({ text: project, span })),
    ...shared.everywhere.flatMap(({ except }) => except),
    ...[...shared.pins.values()].flatMap(({ except }) => except),
  ];
  const refuse = (file: string, all: readonly { text: string; span: Span }[]): void => {
    for (const { text: name, span } of all)
      if (!known.has(name))
        problems.push({
          file,
          problem: { code: 'PROJECT_UNKNOWN', name, meant: search.meant(name), span },
        });
  };
  refuse(SHARED_FILE, named);
  refuse(ROOT_FILE, root.policyProjects);
}

/** The team writes the versions of a package as its registry does. */
function refuseOtherVersions(
  root: RootManifest,
  shared: SharedManifest,
  problems: FileProblem[],
): void {
  const refuse = (name: string, text: string, span: Span): void => {
    // Under `always` every text that makes sense admits something.
    const parsed = parseRange(text, readingOf(schemeOf(root.registries, name), 'always'));
    if (parsed.ok) return;
    const problem = { code: 'RANGE_INVALID', key: name, cause: parsed.problem, span } as const;
    problems.push({ file: SHARED_FILE, problem });
  };
  for (const [name, { text, span }] of shared.shared) refuse(name, text, span);
  for (const [name, { text, span }] of shared.pins) {
    const parsed = parseVersion(text, schemeOf(root.registries, name));
    if (parsed.ok) continue;
    const problem = { code: 'VERSION_INVALID', key: name, cause: parsed.problem, span } as const;
    problems.push({ file: SHARED_FILE, problem });
  }
  for (const { packages, text, span } of shared.lockstep)
    for (const name of packages) refuse(name, text, span);
  for (const { name, text, span } of shared.everywhere) refuse(name, text, span);
  for (const one of [...shared.exceptions, ...shared.otherwise])
    refuse(one.package, one.range, one.span);
}

function agreementsOf(root: RootManifest, shared: SharedManifest): ReadonlyMap<string, Agreement> {
  const agreements = new Map<string, Agreement>();
  const add = (name: string, text: string, set: string | null): void => {
    if (agreements.has(name)) return;
    agreements.set(name, { text, range: rangeFor(root.policy, name, text), set });
  };
  for (const [name, { text }] of shared.shared) add(name, text, null);
  for (const set of shared.lockstep) for (const name of set.packages) add(name, set.text, set.name);
  for (const { name, text } of shared.everywhere) add(name, text, null);
  return agreements;
}
