import { globMatcher } from '../text/index.js';
import type { AdoptShape, ManifestShape, SharedShape } from './shape.js';

/** Whether a path is one of a shape's manifests: patterns count in order, and one that begins with `!` takes paths back. */
export function filesOfShape({ files }: Pick<ManifestShape, 'files'>): (path: string) => boolean {
  const rules = files.map((pattern) => ({
    isOut: pattern.startsWith('!'),
    matches: globMatcher(pattern.replace(/^!/, '')),
  }));
  return (path) => {
    let isIn = false;
    for (const { isOut, matches } of rules) if (isIn === isOut && matches(path)) isIn = !isOut;
    return isIn;
  };
}

/** Whether a path is a file that shapes read something from. */
export function isShaped({
  manifests,
  shared,
  adopt,
}: {
  readonly manifests: readonly ManifestShape[];
  readonly shared: SharedShape | null;
  readonly adopt: readonly AdoptShape[];
}): (path: string) => boolean {
  const tests = manifests.map(filesOfShape);
  const adopted = new Set(adopt.map(({ file }) => file));
  return (path) => path === shared?.file || adopted.has(path) || tests.some((test) => test(path));
}
