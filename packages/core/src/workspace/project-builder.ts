import {
  type ManifestProblem,
  type ProjectManifest,
  rangeFor,
  readingFor,
  registryOf,
  type RootManifest,
  schemeOf,
  type SharedManifest,
  type WrittenRequirement,
} from '../manifest/index.js';
import { globMatcher, nearestWord, type Span } from '../text/index.js';
import { isSameRange, parseRange, parseVersion, readingOf } from '../version/index.js';
import type { ForeignProjects } from './foreign-projects.js';
import { matchingTargets } from './matching-targets.js';
import {
  PROJECT_FILE,
  ROOT_FILE,
  SHARED_FILE,
  type Agreement,
  type FileProblem,
  type Meaning,
  type Project,
  type Requirement,
} from './workspace.js';

/** A project with its requirements given their meaning, and what is wrong with that. */
export interface BuiltProject {
  readonly manifest: ProjectManifest;
  readonly project: Project;
  readonly problems: readonly FileProblem[];
}

/** Path of a project's manifest. */
export function manifestPath(folder: string): string {
  return folder === '.' ? PROJECT_FILE : `${folder}/${PROJECT_FILE}`;
}

/** The file in which a project of this folder says its name. */
export function mainFile(folder: string, { projects }: ForeignProjects): string {
  return projects.get(folder)?.files[0]!.file ?? manifestPath(folder);
}

export type Report = (file: string, problems: readonly ManifestProblem[]) => void;

const MOST_SEARCHES = 50;

/** Gives the requirements of all projects their meaning. */
export class ProjectBuilder {
  readonly agreements: ReadonlyMap<string, Agreement>;
  private readonly folderByName: ReadonlyMap<string, string>;
  private readonly allTargets: readonly string[];
  private searches = 0;

  constructor(
    private readonly root: RootManifest,
    private readonly shared: SharedManifest,
    manifests: ReadonlyMap<string, ProjectManifest>,
    private readonly foreign: ForeignProjects,
    private readonly report: Report,
  ) {
    this.agreements = agreementsOf(root, shared);
    this.allTargets = matchingTargets(root.targets, []);
    this.folderByName = new Map(
      [...manifests].reverse().map(([folder, { name }]) => [name, folder]),
    );
    this.refuseUnknownProjects(manifests);
    this.refuseOtherVersions();
  }

  project(folder: string, manifest: ProjectManifest): BuiltProject {
    const foreign = this.foreign.projects.get(folder);
    const isForeign = foreign?.manifest === manifest;
    const file = isForeign ? foreign.files[0]!.file : manifestPath(folder);
    const problems: FileProblem[] = [];
    const own = manifest.requirements.flatMap((one): Requirement[] => {
      const { lacks: _, file: ownFile = file, ...written } = this.understood(one);
      const report = (problem: ManifestProblem): void =>
        void problems.push({ file: ownFile, problem });
      const meaning = this.meaning(report, written.name, written.written, written.span);
      if (meaning === null) return [];
      const targets = this.targets(report, written.when, written.span);
      if (targets === null) return [];
      return [
        { project: folder, ...written, meaning, targets, isEverywhere: false, file: ownFile },
      ];
    });
    const required = new Set(own.map(({ name }) => name));
    const everywhere = this.everywhere(folder, manifest.name).filter(
      ({ name }) => !required.has(name),
    );
    const project = {
      folder,
      file,
      name: manifest.name,
      version: manifest.version,
      ships: manifest.ships,
      requirements: [...own, ...everywhere],
      implicit: manifest.implicit,
      foreign: isForeign ? foreign.files : [],
      unresolved: isForeign ? foreign.unresolved : [],
    };
    return { manifest, project, problems };
  }

  /** A requirement with what a foreign file says by a range or a name alone: a shared version, a project. */
  private understood(one: WrittenRequirement): WrittenRequirement {
    const { name, written, lacks } = one;
    if (lacks === undefined || written === 'shared' || written === 'workspace') return one;
    if (lacks.workspace && this.folderByName.has(name)) return { ...one, written: 'workspace' };
    const agreement = lacks.shared ? this.agreements.get(name) : undefined;
    const isAgreed =
      agreement !== undefined &&
      isSameRange(agreement.range, rangeFor(this.root.policy, name, written));
    return isAgreed ? { ...one, written: 'shared' } : one;
  }

  private meaning(
    report: (problem: ManifestProblem) => void,
    name: string,
    written: string,
    span: Span,
  ): Meaning | null {
    if (written === 'workspace') {
      const folder = this.folderByName.get(name);
      if (folder !== undefined) return { kind: 'project', folder };
      report({ code: 'PROJECT_UNKNOWN', name, meant: this.meantProject(name), span });
      return null;
    }
    if (registryOf(this.root.registries, name) === null) {
      report({ code: 'REGISTRY_NONE', name, span });
      return null;
    }
    if (written !== 'shared') return this.rangeOf(report, name, written, span);
    const agreement = this.agreements.get(name);
    if (agreement !== undefined)
      return { kind: 'range', text: agreement.text, range: agreement.range };
    report({ code: 'NOT_SHARED', name, span });
    return null;
  }

  /** The project that a name most likely means; looked for a few times only, as it looks at all of them. */
  private meantProject(name: string): string | null {
    this.searches += 1;
    return this.searches > MOST_SEARCHES ? null : nearestWord(name, [...this.folderByName.keys()]);
  }

  /** Null, with a problem, where the package's registry writes versions otherwise. */
  private rangeOf(
    report: (problem: ManifestProblem) => void,
    name: string,
    text: string,
    span: Span,
  ): Meaning | null {
    const parsed = parseRange(text, readingFor(this.root.policy, name));
    if (parsed.ok) return { kind: 'range', text, range: parsed.value };
    report({ code: 'RANGE_INVALID', key: name, cause: parsed.problem, span });
    return null;
  }

  /** The workspace's targets that a `when` names; null, with a problem, where a pattern names none. */
  private targets(
    report: (problem: ManifestProblem) => void,
    when: readonly string[],
    span: Span,
  ): readonly string[] | null {
    const { targets } = this.root;
    if (when.length === 0) return this.allTargets;
    const idle = when.find((pattern) => !targets.some(globMatcher(pattern)));
    if (idle === undefined) return matchingTargets(targets, when);
    report({ code: 'TARGET_UNKNOWN', pattern: idle, targets, span });
    return null;
  }

  private everywhere(folder: string, projectName: string): readonly Requirement[] {
    return this.shared.everywhere
      .filter(({ except }) => !except.some(({ text }) => text === folder || text === projectName))
      .map(({ name, kind, text, span, line }) => ({
        project: folder,
        kind,
        name,
        written: text,
        meaning: { kind: 'range', text, range: rangeFor(this.root.policy, name, text) },
        when: [],
        targets: this.allTargets,
        isEverywhere: true,
        file: SHARED_FILE,
        span,
        line,
      }));
  }

  /** Exceptions, pins, [everywhere] and the policy may only name projects that are there. */
  private refuseUnknownProjects(manifests: ReadonlyMap<string, ProjectManifest>): void {
    const known = new Set([...this.folderByName.keys(), ...manifests.keys()]);
    const named = [
      ...this.shared.exceptions.map(({ project, span }) => ({ text: project, span })),
      ...this.shared.everywhere.flatMap(({ except }) => except),
      ...[...this.shared.pins.values()].flatMap(({ except }) => except),
    ];
    const refuse = (file: string, all: readonly { text: string; span: Span }[]): void => {
      for (const { text, span } of all) {
        if (known.has(text)) continue;
        const meant = this.meantProject(text);
        this.report(file, [{ code: 'PROJECT_UNKNOWN', name: text, meant, span }]);
      }
    };
    refuse(SHARED_FILE, named);
    refuse(ROOT_FILE, this.root.policyProjects);
  }

  /** The team writes the versions of a package as its registry does. */
  private refuseOtherVersions(): void {
    const { shared, lockstep, everywhere, pins, exceptions, otherwise } = this.shared;
    const refuse = (name: string, text: string, span: Span): void => {
      // Under `always` every text that makes sense admits something.
      const parsed = parseRange(text, readingOf(schemeOf(this.root.registries, name), 'always'));
      if (!parsed.ok)
        this.report(SHARED_FILE, [
          { code: 'RANGE_INVALID', key: name, cause: parsed.problem, span },
        ]);
    };
    for (const [name, { text, span }] of shared) refuse(name, text, span);
    for (const [name, { text, span }] of pins) {
      const parsed = parseVersion(text, schemeOf(this.root.registries, name));
      if (!parsed.ok)
        this.report(SHARED_FILE, [
          { code: 'VERSION_INVALID', key: name, cause: parsed.problem, span },
        ]);
    }
    for (const { packages, text, span } of lockstep)
      for (const name of packages) refuse(name, text, span);
    for (const { name, text, span } of everywhere) refuse(name, text, span);
    for (const one of [...exceptions, ...otherwise]) refuse(one.package, one.range, one.span);
  }
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
