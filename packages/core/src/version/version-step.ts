import { compareVersions, type Version } from './version.js';

/** The highest part in which two versions differ; `prerelease` when major, minor and patch agree. */
export type VersionStep = 'none' | 'prerelease' | 'patch' | 'minor' | 'major';

export function versionStep(a: Version, b: Version): VersionStep {
  if (a.major !== b.major) return 'major';
  if (a.minor !== b.minor) return 'minor';
  if (a.patch !== b.patch) return 'patch';
  return compareVersions(a, b) === 0 ? 'none' : 'prerelease';
}
