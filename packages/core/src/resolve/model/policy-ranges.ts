import { policyOf, type Policy } from '../../manifest/index.js';
import { requireRange, type Range } from '../../version/index.js';

/** Ranges under a workspace's policy. The texts must be known to be ranges; `parseRange` remembers them. */
export class PolicyRanges {
  constructor(private readonly policy: Policy) {}

  /** A range of one package, under that package's prerelease policy. */
  of(packageName: string, text: string): Range {
    return requireRange(text, policyOf(this.policy, packageName).prereleases);
  }

  /** A range of a platform's versions: what the machines offer counts even when it is a prerelease. */
  ofPlatform(text: string): Range {
    return requireRange(text, 'always');
  }
}
