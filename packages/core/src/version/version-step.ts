import { compareVersions, hasSameNumbers, type Version } from './version.js';

/** From the smallest. */
export const VERSION_STEPS = ['none', 'prerelease', 'patch', 'minor', 'major'] as const;
/**
 * The highest part in which two versions differ: the first number, the second, the third or one after it; `prerelease`
 * when all agree. Below 1.0 the second number is the major step, as `^` has it.
 */
export type VersionStep = (typeof VERSION_STEPS)[number];

export function versionStep(a: Version, b: Version): VersionStep {
  if (a.major !== b.major) return 'major';
  if (a.minor !== b.minor) return a.major === 0 ? 'major' : 'minor';
  if (!hasSameNumbers(a, b)) return 'patch';
  return compareVersions(a, b) === 0 ? 'none' : 'prerelease';
}
