import type { PackageRecord, Release } from '../registry/index.js';
import type { ReleaseTerms } from '../resolve/index.js';
import {
  compareVersions,
  isPrerelease,
  requireVersion,
  versionStep,
  type VersionStep,
} from '../version/index.js';

/** How far a version is behind the newest release that could be taken. */
export interface Behind {
  readonly step: VersionStep;
  readonly newest: string;
  /** Newer releases that it passes by, the newest included. */
  readonly releases: number;
}

/**
 * The releases of a package that are newer than a version and that the workspace lets in, ascending. Prereleases and
 * deprecated releases are nothing to move to. O(releases of the package).
 */
export function releasesAhead(
  record: PackageRecord | null,
  version: string,
  terms: ReleaseTerms,
): readonly Release[] {
  const at = requireVersion(version);
  return (record?.releases ?? []).filter(
    (release) =>
      compareVersions(release.version, at) > 0 &&
      !isPrerelease(release.version) &&
      release.deprecated === null &&
      terms.letsIn(record!.name, release),
  );
}

/** Null: no release is ahead of the version. */
export function behindNewest(
  record: PackageRecord | null,
  version: string,
  terms: ReleaseTerms,
): Behind | null {
  const newer = releasesAhead(record, version, terms);
  const newest = newer.at(-1);
  if (newest === undefined) return null;
  const step = versionStep(requireVersion(version), newest.version);
  return { step, newest: newest.text, releases: newer.length };
}
