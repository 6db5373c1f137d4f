import { globMatcher } from '../text/index.js';

/**
 * The workspace's targets for which a requirement must be answered.
 * @param targets of the workspace; where it names none, `*` stands for all
 * @param when patterns of the requirement; empty: every target
 */
export function matchingTargets(
  targets: readonly string[],
  when: readonly string[],
): readonly string[] {
  if (when.length === 0) return targets.length === 0 ? ['*'] : targets;
  return targets.filter(globMatcher(when));
}
