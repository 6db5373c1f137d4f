import type { ManifestProblem } from '../manifest/index.js';
import { readForeignManifest } from './read-foreign-manifest.js';
import type { AdoptShape } from './shape.js';
import { PLAIN_SPELLING } from './spelling.js';

/** A version that is installed today by other means. */
export interface AdoptedVersion {
  readonly name: string;
  readonly version: string;
}

export interface AdoptedReading {
  readonly versions: readonly AdoptedVersion[];
  readonly problems: readonly ManifestProblem[];
}

/**
 * Which versions a file says are installed. It is read as a manifest is, only that a package may be there several times,
 * once for each version. O(length).
 */
export function readAdopted(text: string, shape: AdoptShape): AdoptedReading {
  const { file, syntax, items, package: name, version, span } = shape;
  const { manifest, problems } = readForeignManifest(text, {
    files: [file],
    syntax,
    levels: 0,
    name: null,
    version: null,
    ships: null,
    requirements: [
      {
        kind: 'runtime',
        at: items,
        package: name === null ? [] : [name],
        join: '',
        range: version,
        when: null,
      },
    ],
    mayRepeat: true,
    spelling: PLAIN_SPELLING,
    span,
  });
  return {
    versions: (manifest?.requirements ?? []).map((one) => ({
      name: one.name,
      version: one.text.trim(),
    })),
    problems,
  };
}
