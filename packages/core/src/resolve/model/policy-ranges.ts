import { readingFor, schemeOf, type Policy } from '../../manifest/index.js';
import {
  NO_VERSION,
  parseRange,
  readingOf,
  requireRange,
  type Range,
  type RangeReading,
} from '../../version/index.js';

/** Ranges under a workspace's policy; `parseRange` remembers the texts. */
export class PolicyRanges {
  private readonly readings = new Map<string, RangeReading>();

  constructor(private readonly policy: Policy) {}

  /** What a text admits of one package's versions, under its prerelease policy. */
  of(packageName: string, text: string): Range {
    let reading = this.readings.get(packageName);
    if (reading === undefined) {
      reading = readingFor(this.policy, packageName);
      this.readings.set(packageName, reading);
    }
    const parsed = parseRange(text, reading);
    return parsed.ok ? parsed.value : NO_VERSION;
  }

  /** The same if the policy let all prereleases in. */
  withPrereleases(packageName: string, text: string): Range {
    const scheme = schemeOf(this.policy.registries, packageName);
    const parsed = parseRange(text, readingOf(scheme, 'always'));
    return parsed.ok ? parsed.value : NO_VERSION;
  }

  /** A range of a platform's versions: what the machines offer counts even when it is a prerelease. */
  ofPlatform(text: string): Range {
    return requireRange(text, 'always');
  }
}
