import { globMatcher } from '../text/index.js';

/**
 * The workspace's targets for which a requirement must be answered.
 * @param targets of the workspace; where it names none, `*` stands for all
 * @param when patterns of the requirement; empty: every target
 * @param ofOwner patterns of the targets that the release that requires is for: what is for linux alone requires
 *   nothing on another target
 */
export function matchingTargets(
  targets: readonly string[],
  when: readonly string[],
  ofOwner: readonly string[] = ['*'],
): readonly string[] {
  const all = targets.length === 0 ? ['*'] : targets;
  const own = ofOwner.includes('*') ? all : all.filter(globMatcher(ofOwner));
  if (when.length === 0) return own;
  const isMatch = globMatcher(when);
  return targets.length === 0 ? [] : own.filter(isMatch);
}
