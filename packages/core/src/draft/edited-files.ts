import { carryOut, type TreePlan } from '../manifest/index.js';
import { parseRange, parseVersion, versionProblemMessage } from '../version/index.js';
import type { Project, Requirement, Workspace, WorkspaceFiles } from '../workspace/index.js';
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

  /** @returns whether the text is a range; if not, the edit is refused */
  isRange(range: string): boolean {
    const parsed = parseRange(range, 'always');
    if (parsed.ok) return true;
    const column = parsed.problem.span[0] + 1;
    this.refuse(
      'EDIT_RANGE_INVALID',
      `"${range}", column ${column}: ${versionProblemMessage(parsed.problem)}.`,
    );
    return false;
  }

  isVersion(version: string): boolean {
    const parsed = parseVersion(version);
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
