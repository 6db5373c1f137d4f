import { policyOf, type Policy } from '../manifest/index.js';
import { requireRange, type PrereleasePolicy, type Range } from '../version/index.js';

/** Reads each range text once for each prerelease policy. The texts must be known to be ranges. */
export class RangeCache {
  private readonly known = new Map<string, Range>();

  constructor(private readonly policy: Policy) {}

  /** A range of one package, under that package's prerelease policy. */
  of(packageName: string, text: string): Range {
    return this.read(text, policyOf(this.policy, packageName).prereleases);
  }

  /** A range of a platform's versions: what the machines offer counts even when it is a prerelease. */
  ofPlatform(text: string): Range {
    return this.read(text, 'always');
  }

  private read(text: string, prereleases: PrereleasePolicy): Range {
    const key = `${prereleases} ${text}`;
    let range = this.known.get(key);
    if (range === undefined) {
      range = requireRange(text, prereleases);
      this.known.set(key, range);
    }
    return range;
  }
}
