/*
 * Knows nothing of how answers are found: it reads the registry's records and the ranges by itself, with plain
 * loops, so that what it accepts does not depend on the code that made it.
 */
import { policyOf, rangeFor } from '../../manifest/index.js';
import type { PackageRecords, Release } from '../../registry/index.js';
import { globMatcher } from '../../text/index.js';
import {
  compareVersions,
  rangeContains,
  requireRange,
  requireVersion,
} from '../../version/index.js';
import { matchingTargets, PinScope, type Workspace } from '../../workspace/index.js';
import type { Certificate, Certificates } from './certificate.js';
import { recordsAsAnswered } from '../model/answered-otherwise.js';
import type { Resolution } from '../model/resolution.js';
import { statedDemands } from './stated-demands.js';

/** Why a certificate proves nothing. */
export interface CertificateFault {
  readonly name: string;
  readonly fault:
    | 'GIVEN_IS_NOT_BOUND'
    | 'GIVEN_IS_NOT_THE_ANSWER'
    | 'CERTIFICATE_MISSING'
    | 'VERSIONS_DIFFER'
    | 'DEMAND_UNKNOWN'
    | 'TOO_FEW_DEMANDS'
    | 'DEMANDS_MEET'
    | 'FEWER_WOULD_DO';
}

/**
 * Checks the proofs of a resolution's numbers of copies.
 * @returns nothing where every package with several copies has a certificate that holds
 * Cost: O(needs of all releases) for each round in which a release falls out, and for `exhausted` a search.
 */
export function checkCertificates(
  workspace: Workspace,
  records: PackageRecords,
  asOf: string,
  resolution: Resolution,
  certificates: Certificates,
): readonly CertificateFault[] {
  const faults: CertificateFault[] = [];
  const versions = new Map<string, string[]>();
  for (const { name, version } of resolution.copies)
    versions.set(name, [...(versions.get(name) ?? []), version]);
  for (const { name, versions: given } of certificates.given) {
    if (policyOf(workspace.policy, name).copies === 'any')
      faults.push({ name, fault: 'GIVEN_IS_NOT_BOUND' });
    if (given.join() !== (versions.get(name) ?? []).join())
      faults.push({ name, fault: 'GIVEN_IS_NOT_THE_ANSWER' });
  }
  const given = new Map(certificates.given.map((one) => [one.name, one.versions]));
  const left = usableReleases(workspace, recordsAsAnswered(records, workspace, asOf), asOf, given);
  const byName = new Map(certificates.packages.map((one) => [one.name, one]));
  const demands = statedDemands(workspace.policy, resolution);
  const pins = new PinScope(workspace);
  for (const [name, all] of versions) {
    if (all.length < 2) continue;
    const certificate = byName.get(name);
    if (certificate === undefined) faults.push({ name, fault: 'CERTIFICATE_MISSING' });
    else if (certificate.versions.join() !== all.join())
      faults.push({ name, fault: 'VERSIONS_DIFFER' });
    else {
      const fault = faultOf(certificate);
      if (fault !== null) faults.push({ name, fault });
    }
  }
  return faults;

  function faultOf(certificate: Certificate): CertificateFault['fault'] | null {
    const stated = demands.get(certificate.name) ?? [];
    const admitted: Release[][] = [];
    for (const { owner, kind, range } of certificate.demands) {
      const demand = stated.find(
        (one) => one.owner === owner && one.kind === kind && one.range === range,
      );
      if (demand === undefined) return 'DEMAND_UNKNOWN';
      const targets = matchingTargets(workspace.targets, demand.when, demand.ofOwner);
      const pin = pins.versionFor(certificate.name, demand.isOfProject ? demand.owner : null);
      admitted.push(
        (records.get(certificate.name)?.releases ?? []).filter(
          (release) =>
            left.has(release) &&
            isAtPin(pin, release) &&
            rangeContains(rangeFor(workspace.policy, certificate.name, range), release.version) &&
            isFor(release, targets, kind === 'optional'),
        ),
      );
    }
    if (certificate.proof === 'exhausted')
      return canMeet(admitted, certificate.least - 1) ? 'FEWER_WOULD_DO' : null;
    if (admitted.length < certificate.least) return 'TOO_FEW_DEMANDS';
    const isAnyPair = admitted.some((one, i) =>
      admitted.slice(i + 1).some((other) => one.some((release) => other.includes(release))),
    );
    return isAnyPair ? 'DEMANDS_MEET' : null;
  }
}

function canMeet(demands: readonly (readonly Release[])[], most: number): boolean {
  const [first, ...others] = demands;
  if (first === undefined) return true;
  if (most === 0) return false;
  return first.some((release) =>
    canMeet(
      others.filter((demand) => !demand.includes(release)),
      most - 1,
    ),
  );
}

function isAtPin(pin: string | null, release: Release): boolean {
  return pin === null || compareVersions(requireVersion(pin), release.version) === 0;
}

function isFor(release: Release, targets: readonly string[], isOptional: boolean): boolean {
  if (release.targets.includes('*')) return true;
  const isMatch = globMatcher(release.targets);
  return isOptional ? targets.some(isMatch) : targets.every(isMatch);
}

function usableReleases(
  workspace: Workspace,
  records: PackageRecords,
  asOf: string,
  given: ReadonlyMap<string, readonly string[]>,
): ReadonlySet<Release> {
  const left = new Set<Release>();
  const pins = new PinScope(workspace);
  for (const [name, record] of records) {
    for (const release of record?.releases ?? [])
      if (isUsable(workspace, pins, name, release, asOf, given)) left.add(release);
  }
  const isAnswered = (
    owner: Release,
    { name, range, when, kind }: Release['needs'][number],
  ): boolean => {
    const targets = matchingTargets(workspace.targets, when, owner.targets);
    if (kind === 'optional' || targets.length === 0) return true;
    const read = rangeFor(workspace.policy, name, range);
    return (records.get(name)?.releases ?? []).some(
      (one) =>
        left.has(one) &&
        isAtPin(pins.versionFor(name, null), one) &&
        rangeContains(read, one.version) &&
        isFor(one, targets, false),
    );
  };
  for (let size = -1; size !== left.size;) {
    size = left.size;
    for (const release of left)
      if (!release.needs.every((need) => isAnswered(release, need))) left.delete(release);
  }
  return left;
}

function isUsable(
  { policy, platform }: Workspace,
  pins: PinScope,
  name: string,
  release: Release,
  asOf: string,
  given: ReadonlyMap<string, readonly string[]>,
): boolean {
  const day = release.published.slice(0, 10);
  const oldest = new Date(`${asOf}T00:00:00Z`);
  oldest.setUTCDate(oldest.getUTCDate() - policyOf(policy, name).minimumAgeDays);
  const pin = pins.isWhole(name) ? pins.versionFor(name, null) : null;
  return (
    release.fault === null &&
    !release.isWithdrawn &&
    day <= oldest.toISOString().slice(0, 10) &&
    isAtPin(pin, release) &&
    (given.get(name)?.includes(release.text) ?? true) &&
    release.platform.every(([asked, range]) => {
      const offered = platform.get(asked);
      return offered !== undefined && rangeContains(requireRange(range, 'always'), offered);
    })
  );
}
