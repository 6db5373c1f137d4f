import {
  type ManifestProblem,
  type ProjectManifest,
  rangeFor,
  readingFor,
  registryOf,
  type WrittenRequirement,
} from '../manifest/index.js';
import { globMatcher, type Span } from '../text/index.js';
import { isSameRange, parseRange } from '../version/index.js';
import type { ForeignProjects } from './foreign-projects.js';
import { matchingTargets } from './matching-targets.js';
import { NameSearch, type ProjectContext } from './project-context.js';
import {
  PROJECT_FILE,
  SHARED_FILE,
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

/** Gives the requirements of all projects their meaning. */
export class ProjectBuilder {
  private readonly search: NameSearch;

  constructor(
    private readonly context: ProjectContext,
    private readonly foreign: ForeignProjects,
  ) {
    this.search = new NameSearch(context.folderByName, context.searches);
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
    if (lacks.workspace && this.context.folderByName.has(name))
      return { ...one, written: 'workspace' };
    const agreement = lacks.shared ? this.context.agreements.get(name) : undefined;
    const isAgreed =
      agreement !== undefined &&
      isSameRange(agreement.range, rangeFor(this.context.root.policy, name, written));
    return isAgreed ? { ...one, written: 'shared' } : one;
  }

  private meaning(
    report: (problem: ManifestProblem) => void,
    name: string,
    written: string,
    span: Span,
  ): Meaning | null {
    if (written === 'workspace') {
      const folder = this.context.folderByName.get(name);
      if (folder !== undefined) return { kind: 'project', folder };
      report({ code: 'PROJECT_UNKNOWN', name, meant: this.search.meant(name), span });
      return null;
    }
    if (registryOf(this.context.root.registries, name) === null) {
      report({ code: 'REGISTRY_NONE', name, span });
      return null;
    }
    if (written !== 'shared') return this.rangeOf(report, name, written, span);
    const agreement = this.context.agreements.get(name);
    if (agreement !== undefined)
      return { kind: 'range', text: agreement.text, range: agreement.range };
    report({ code: 'NOT_SHARED', name, span });
    return null;
  }

  /** Null, with a problem, where the package's registry writes versions otherwise. */
  private rangeOf(
    report: (problem: ManifestProblem) => void,
    name: string,
    text: string,
    span: Span,
  ): Meaning | null {
    const parsed = parseRange(text, readingFor(this.context.root.policy, name));
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
    const { targets } = this.context.root;
    if (when.length === 0) return this.context.allTargets;
    const idle = when.find((pattern) => !targets.some(globMatcher(pattern)));
    if (idle === undefined) return matchingTargets(targets, when);
    report({ code: 'TARGET_UNKNOWN', pattern: idle, targets, span });
    return null;
  }

  private everywhere(folder: string, projectName: string): readonly Requirement[] {
    return this.context.shared.everywhere
      .filter(({ except }) => !except.some(({ text }) => text === folder || text === projectName))
      .map(({ name, kind, text, span, line }) => ({
        project: folder,
        kind,
        name,
        written: text,
        meaning: { kind: 'range', text, range: rangeFor(this.context.root.policy, name, text) },
        when: [],
        targets: this.context.allTargets,
        isEverywhere: true,
        file: SHARED_FILE,
        span,
        line,
      }));
  }
}
