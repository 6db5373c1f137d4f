import type { Release } from '../registry/index.js';
import type { Copy } from '../resolve/index.js';
import { chainEvidence } from './evidence.js';
import { remedy, type FindingDraft, type Remedy } from './finding.js';
import type { Grounds } from './grounds.js';

/**
 * Findings on copies that the registry knows.
 * @param test what is wrong with a copy, to be said after its name; null: nothing
 */
export function copyFindings(
  grounds: Grounds,
  test: (copy: Copy, release: Release) => string | null,
  remediesOf: (copy: Copy, release: Release) => readonly Remedy[] = reResolve,
): readonly FindingDraft[] {
  const releases = grounds.releasesOfCopies;
  const found: FindingDraft[] = [];
  grounds.resolution.copies.forEach((copy, i) => {
    const release = releases[i] ?? null;
    const wrong = release === null ? null : test(copy, release);
    if (release === null || wrong === null) return;
    const { name, version } = copy;
    found.push({
      package: name,
      version,
      says: `${name} ${version} ${wrong}`,
      evidence: chainEvidence(grounds, name, version),
      remedies: remediesOf(copy, release),
    });
  });
  return found;
}

/** Another release, where the demands admit one. */
export function reResolve({ name }: Copy): readonly Remedy[] {
  return [remedy(`re-resolve ${name}`, { kind: 'refresh', packages: [name] })];
}
