import { knownPackage } from './package-of-specifier.js';
import type { Project } from '../workspace/index.js';
import type { SourceReference, SourceScan, UnseenReference } from './source-scan.js';

/** One reference in one file. */
export interface PlacedReference extends SourceReference {
  /** From the repository's root. */
  readonly file: string;
}

/** What the source of one project refers to. */
export interface ProjectUse {
  /** Files that were read. */
  readonly files: number;
  /** By package; those of one package by file and line. */
  readonly references: ReadonlyMap<string, readonly PlacedReference[]>;
  readonly unseen: readonly (UnseenReference & { readonly file: string })[];
}

/** What the source of each project refers to, by the project's folder. */
export type SourceUse = ReadonlyMap<string, ProjectUse>;

/** The project that a file belongs to: that of the deepest folder above it; null: none. */
export function projectOfFile(
  folders: ReadonlySet<string>,
  path: string,
): { readonly folder: string; readonly inside: string } | null {
  for (let end = path.lastIndexOf('/'); end > 0; end = path.lastIndexOf('/', end - 1)) {
    const folder = path.slice(0, end);
    if (folders.has(folder)) return { folder, inside: path.slice(end + 1) };
  }
  return folders.has('.') ? { folder: '.', inside: path } : null;
}

/**
 * Gathers the scans of files by project. Files are taken in the order of their paths. A reference is to the package that
 * the project requires, where its specifier begins with the name of one.
 * O(references log files).
 */
export function gatherUse(
  projects: readonly Pick<Project, 'folder' | 'name' | 'requirements' | 'implicit'>[],
  scans: ReadonlyMap<string, SourceScan>,
): SourceUse {
  const declared = new Map(
    projects.map(({ folder, name, requirements, implicit }) => [
      folder,
      new Set([name, ...requirements.map(({ name }) => name), ...implicit]),
    ]),
  );
  const folders = new Set(declared.keys());
  const gathered = new Map(
    [...folders].map((folder) => [
      folder,
      {
        files: 0,
        references: new Map<string, PlacedReference[]>(),
        unseen: [] as (UnseenReference & { readonly file: string })[],
      },
    ]),
  );
  for (const file of [...scans.keys()].sort()) {
    const project = projectOfFile(folders, file);
    if (project === null) continue;
    const use = gathered.get(project.folder)!;
    const { references, unseen } = scans.get(file)!;
    use.files += 1;
    const names = declared.get(project.folder)!;
    for (const one of references) {
      const name = knownPackage(one.specifier, (wanted) => names.has(wanted)) ?? one.package;
      const placed = { ...one, package: name, file };
      const known = use.references.get(name);
      if (known === undefined) use.references.set(name, [placed]);
      else known.push(placed);
    }
    use.unseen.push(...unseen.map((one) => ({ ...one, file })));
  }
  return gathered;
}
