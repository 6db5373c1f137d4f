import { firstProblems, type Agreed, type ManifestProblem } from '../manifest/index.js';
import { readForeignManifest } from './read-foreign-manifest.js';
import type { ManifestShape, SharedShape } from './shape.js';

/** Agreed versions in a foreign file, by package. */
export interface SharedReading {
  readonly agreed: ReadonlyMap<string, Agreed>;
  readonly problems: readonly ManifestProblem[];
}

/** A table of agreed versions is read and edited as requirements are. */
export function sharedAsManifest({ syntax, at, spelling, file, span }: SharedShape): ManifestShape {
  return {
    files: [file],
    syntax,
    levels: 0,
    name: null,
    version: null,
    ships: null,
    requirements: [{ kind: 'runtime', at, package: [], join: '', range: null, when: null }],
    spelling,
    span,
  };
}

export function readSharedVersions(text: string, shape: SharedShape): SharedReading {
  const { manifest, problems } = readForeignManifest(text, sharedAsManifest(shape));
  const agreed = new Map<string, Agreed>();
  const foreign: ManifestProblem[] = [];
  for (const { name, written, text: said, span } of manifest?.requirements ?? []) {
    if (written === null || written === 'shared' || written === 'workspace')
      foreign.push({ code: 'RANGE_FOREIGN', name, text: said, span });
    else agreed.set(name, { text: written, span, file: shape.file });
  }
  return { agreed, problems: firstProblems([...problems, ...foreign]) };
}
