import {
  readProjectManifest,
  readSharedManifest,
  type ProjectReading,
  type SharedManifestReading,
} from '../manifest/index.js';
import {
  filesOfShape,
  NO_SHAPES,
  readAdopted,
  readForeignManifest,
  readShapes,
  readSharedVersions,
  type AdoptedReading,
  type ForeignReading,
  type SharedReading,
} from '../shape/index.js';
import type { WorkspaceReading } from './read-workspace.js';
import {
  isProjectFile,
  LOCK_FILE,
  ROOT_FILE,
  SHAPES_FILE,
  SHARED_FILE,
  type WorkspaceFiles,
} from './workspace.js';

/**
 * What single files say, each read by itself. It is plain data, so that another thread can do the reading; the
 * workspace is made of it afterwards.
 */
export interface ReadAhead {
  /** By path. */
  readonly projects: ReadonlyMap<string, ProjectReading>;
  readonly shared: SharedManifestReading | null;
  /** By path, by the first shape that describes the file. */
  readonly foreign: ReadonlyMap<string, ForeignReading>;
  readonly foreignShared: SharedReading | null;
  /** By the index of the shape that says where. */
  readonly adopted: ReadonlyMap<number, AdoptedReading>;
}

/** What another thread needs for reading ahead. */
export interface AheadTask {
  /** Texts that nobody has read yet, by path. */
  readonly texts: WorkspaceFiles;
  /** Of the workspace's `ledger.shapes.toml`; undefined: it has none. */
  readonly shapesText: string | undefined;
  /** What is installed by other means counts until there is a lockfile. */
  readonly hasLock: boolean;
}

/** The texts of a workspace that an earlier reading does not have, without the short ones that say how the others are read. O(files). */
export function aheadTask(files: WorkspaceFiles, before?: WorkspaceReading): AheadTask {
  const shapesText = files.get(SHAPES_FILE);
  const foreign = before?.shapes?.text === shapesText ? before?.foreign.readings : undefined;
  const known = (path: string): string | undefined =>
    path === SHARED_FILE
      ? before?.shared?.text
      : (before?.manifests.get(path) ?? foreign?.get(path))?.text;
  const texts = [...files].filter(
    ([path, text]) => ![ROOT_FILE, SHAPES_FILE, LOCK_FILE].includes(path) && known(path) !== text,
  );
  return { texts: new Map(texts), shapesText, hasLock: files.has(LOCK_FILE) };
}

/** Reads each text by itself. A pure function, for whichever thread has the time. O(length of the texts). */
export function readAhead({ texts, shapesText, hasLock }: AheadTask): ReadAhead {
  const shapes =
    shapesText === undefined ? NO_SHAPES : (readShapes(shapesText).shapes ?? NO_SHAPES);
  const tests = shapes.manifests.map(filesOfShape);
  const projects = new Map<string, ProjectReading>();
  const foreign = new Map<string, ForeignReading>();
  for (const [path, text] of texts) {
    if (isProjectFile(path)) projects.set(path, readProjectManifest(text));
    const first = tests.findIndex((isOf) => isOf(path));
    if (first >= 0) foreign.set(path, readForeignManifest(text, shapes.manifests[first]!));
  }
  const adopted = new Map<number, AdoptedReading>();
  for (const [i, shape] of shapes.adopt.entries()) {
    const text = texts.get(shape.file);
    if (text !== undefined && !hasLock) adopted.set(i, readAdopted(text, shape));
  }
  const shared = texts.get(SHARED_FILE);
  const agreed = shapes.shared === null ? undefined : texts.get(shapes.shared.file);
  return {
    projects,
    shared: shared === undefined ? null : readSharedManifest(shared),
    foreign,
    foreignShared: agreed === undefined ? null : readSharedVersions(agreed, shapes.shared!),
    adopted,
  };
}
