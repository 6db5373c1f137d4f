import {
  addRequirement,
  carryOut,
  dropRequirement,
  moveRequirement,
  planSetRequirement,
  type RequirementKind,
  schemeOf,
  type TreePlan,
} from '../manifest/index.js';
import { addForeign, removeForeign, setForeignRange, type ForeignEdit } from '../shape/index.js';
import {
  parseRange,
  parseVersion,
  readingOf,
  versionProblemMessage,
  type VersionScheme,
} from '../version/index.js';
import type {
  ForeignFile,
  Project,
  Requirement,
  Workspace,
  WorkspaceFiles,
} from '../workspace/index.js';
import { ownRequirementsOn, type EditProblem } from '../edit/index.js';

export type EditOutcome =
  | { readonly ok: true; readonly files: WorkspaceFiles }
  | { readonly ok: false; readonly problem: EditProblem };

/** The files under one edit. The first thing that cannot be done stops it, and nothing of it is kept. */
export class EditedFiles {
  private readonly texts: Map<string, string>;
  private problem: EditProblem | null = null;

  /** @param workspace read from these files */
  constructor(
    readonly workspace: Workspace,
    files: WorkspaceFiles,
  ) {
    this.texts = new Map(files);
  }

  get outcome(): EditOutcome {
    return this.problem === null
      ? { ok: true, files: this.texts }
      : { ok: false, problem: this.problem };
  }

  has(path: string): boolean {
    return this.texts.has(path);
  }

  text(path: string): string {
    return this.texts.get(path) ?? '';
  }

  set(path: string, text: string): void {
    if (this.problem === null) this.texts.set(path, text);
  }

  refuse(code: EditProblem['code'], message: string): void {
    this.problem ??= { code, message };
  }

  /**
   * Carries out plans on one file.
   * @param otherwise what a file that is not there begins with
   */
  change(path: string, plans: readonly TreePlan[], otherwise?: string): void {
    if (this.problem !== null) return;
    const text = carryOut(this.texts.get(path) ?? otherwise ?? '', ...plans);
    if (text !== null) this.texts.set(path, text);
    else {
      this.refuse(
        'EDIT_FILE_UNREADABLE',
        `${path} cannot be edited in place: it is no TOML, or what the edit is about is written in a form that has no place for it. Edit it by hand.`,
      );
    }
  }

  /** Edits a file that is not ours. */
  changeForeign(path: string, edit: (text: string) => ForeignEdit): void {
    if (this.problem !== null) return;
    const edited = edit(this.text(path));
    if (edited.ok) this.texts.set(path, edited.text);
    else this.refuse('EDIT_FILE_UNREADABLE', `${path}: ${edited.message}`);
  }

  /**
   * Makes a requirement of a project's own manifests say something else.
   * @param agreed what is agreed on for the package once the edit is made, for files that have no word for it
   */
  setRequirement(
    project: Project,
    kind: RequirementKind,
    name: string,
    written: string,
    agreed: string | null = this.workspace.agreements.get(name)?.text ?? null,
  ): void {
    const foreign = this.foreignOf(project, kind, name);
    if (foreign === null)
      return this.change(project.file, [(text) => planSetRequirement(text, kind, name, written)]);
    const { file, shape } = foreign;
    this.changeForeign(file, (text) => setForeignRange(text, shape, kind, name, written, agreed));
  }

  addRequirement(project: Project, kind: RequirementKind, name: string, written: string): void {
    const [first] = project.foreign;
    if (first === undefined)
      return this.change(project.file, [addRequirement(kind, name, written)]);
    const holds = project.foreign.find(({ shape }) =>
      shape.requirements.some((block) => block.kind === kind),
    );
    const { file, shape } = holds ?? first;
    const agreed = this.workspace.agreements.get(name)?.text ?? null;
    this.changeForeign(file, (text) => addForeign(text, shape, kind, name, written, agreed));
  }

  removeRequirement(project: Project, kind: RequirementKind, name: string): void {
    const foreign = this.foreignOf(project, kind, name);
    if (foreign === null) return this.change(project.file, dropRequirement(kind, name));
    const { file, shape } = foreign;
    this.changeForeign(file, (text) => removeForeign(text, shape, kind, name));
  }

  moveRequirement(
    project: Project,
    from: RequirementKind,
    to: RequirementKind,
    name: string,
    written: string,
  ): void {
    if (project.foreign.length === 0)
      return this.change(project.file, moveRequirement(from, to, name));
    this.removeRequirement(project, from, name);
    this.addRequirement(project, to, name, written);
  }

  /** The foreign manifest in which a requirement stands; null: it stands in ours. */
  private foreignOf(project: Project, kind: RequirementKind, name: string): ForeignFile | null {
    if (project.foreign.length === 0) return null;
    const one = project.requirements.find(
      (requirement) =>
        requirement.kind === kind && requirement.name === name && !requirement.isEverywhere,
    );
    return project.foreign.find(({ file }) => file === one?.file) ?? project.foreign[0]!;
  }

  /** @returns whether the text is a range of each of these packages; if not, the edit is refused */
  isRange(range: string, ...names: readonly string[]): boolean {
    const { registries } = this.workspace;
    const wrong = names
      .map((name) => parseRange(range, readingOf(schemeOf(registries, name), 'always')))
      .find((one) => !one.ok);
    if (wrong?.ok !== false) return true;
    const column = wrong.problem.span[0] + 1;
    this.refuse(
      'EDIT_RANGE_INVALID',
      `"${range}", column ${column}: ${versionProblemMessage(wrong.problem)}.`,
    );
    return false;
  }

  /** @param scheme in which it has to be a version; if it is none, the edit is refused */
  isVersion(version: string, scheme: VersionScheme): boolean {
    const parsed = parseVersion(version, scheme);
    if (parsed.ok) return true;
    const column = parsed.problem.span[0] + 1;
    this.refuse(
      'EDIT_RANGE_INVALID',
      `"${version}", column ${column}: ${versionProblemMessage(parsed.problem)}.`,
    );
    return false;
  }

  /** The projects in these folders; one that is not there refuses the edit. */
  projectsIn(folders: readonly string[]): readonly Project[] {
    return folders.flatMap((folder) => {
      const project = this.workspace.projects.find((one) => one.folder === folder);
      if (project === undefined) {
        this.refuse('EDIT_PROJECT_UNKNOWN', `There is no readable project in ${folder} any more.`);
      }
      return project ?? [];
    });
  }

  /** A project's own requirements on a package; where it has none the edit is refused. */
  ownRequirements(project: Project, name: string): readonly Requirement[] {
    const own = ownRequirementsOn(project, name);
    if (own.length === 0) {
      const everywhere = project.requirements.some((one) => one.name === name);
      this.refuse(
        'EDIT_NOT_REQUIRED',
        everywhere
          ? `${project.name} requires ${name} because every project does. Except the project there instead.`
          : `${project.name} does not require ${name} any more.`,
      );
    }
    return own;
  }
}
