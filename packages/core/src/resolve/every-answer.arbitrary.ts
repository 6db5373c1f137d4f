import type { PackageRecords, Release } from '../registry/index.js';
import { rangeContains, requireRange } from '../version/index.js';
import type { PolicySketch, World } from './world.arbitrary.js';

/** A demand by who makes it, and the release that answers it. */
interface Given {
  readonly owner: string;
  readonly name: string;
  readonly ranges: readonly string[];
  readonly answer: Release;
}

interface Ask {
  readonly owner: string;
  readonly name: string;
  readonly ranges: readonly string[];
}

/**
 * Whether a small world has an answer, by trying every way to answer every demand. It shares nothing with
 * the resolver but the ranges, and is as slow as it looks.
 */
export function hasAnswerByTrying(
  { projects }: World,
  records: PackageRecords,
  policy: PolicySketch,
): boolean {
  const roots = Object.entries(projects).flatMap(([owner, needs]) =>
    Object.entries(needs).map(([name, range]) => ({ owner, name, ranges: [range] })),
  );
  return extend([], policy);

  function extend(given: readonly Given[], { copies, ofPackage, peers }: PolicySketch): boolean {
    const open = nextAsk(given, peers === 'strict');
    if (open === 'clash') return false;
    if (open === null) return true;
    const candidates = (records.get(open.name)?.releases ?? []).filter(
      (release) =>
        !release.isWithdrawn &&
        release.platform.length === 0 &&
        open.ranges.every((range) => rangeContains(requireRange(range), release.version)),
    );
    return candidates.some((answer) => {
      const own = ofPackage[open.name] ?? copies;
      const others = given.filter((one) => one.name === open.name && one.answer !== answer);
      const isCrowded = others.some(
        (one) =>
          own === 'one' ||
          (own === 'one-per-major' && one.answer.version.major === answer.version.major),
      );
      return !isCrowded && extend([...given, { ...open, answer }], { copies, ofPackage, peers });
    });
  }

  /** The first demand that is open; with all of them met, under strict peers, what peers ask for. */
  function nextAsk(given: readonly Given[], isStrict: boolean): Ask | 'clash' | null {
    const isGiven = (ask: Ask): boolean =>
      given.some((one) => one.owner === ask.owner && one.name === ask.name);
    const owned = given.flatMap(({ name, answer }) =>
      answer.needs.map((need) => ({
        owner: `${name} ${answer.text}`,
        name: need.name,
        ranges: [need.range],
      })),
    );
    const open = [...roots, ...owned].find((ask) => !isGiven(ask));
    if (open !== undefined || !isStrict) return open ?? null;
    return peerAsk(given);
  }

  function peerAsk(given: readonly Given[]): Ask | 'clash' | null {
    const wanted = new Map<string, { owner: string; name: string; ranges: Set<string> }>();
    const copies = new Map(given.map((one) => [`${one.name} ${one.answer.text}`, one.answer]));
    for (const [copy, release] of copies) {
      for (const peer of release.peers) {
        for (const owner of nearestOwners(given, copy, peer.name)) {
          const provider = given.find((one) => one.owner === owner && one.name === peer.name);
          const isSupply = provider !== undefined && provider.owner.startsWith('supply');
          if (provider === undefined || isSupply) {
            if (peer.isOptional) {
              if (isSupply && !rangeContains(requireRange(peer.range), provider.answer.version))
                return 'clash';
              continue;
            }
            const key = `${owner} ${peer.name}`;
            const one = wanted.get(key) ?? { owner, name: peer.name, ranges: new Set() };
            wanted.set(key, one);
            one.ranges.add(peer.range);
          } else if (!rangeContains(requireRange(peer.range), provider.answer.version))
            return 'clash';
        }
      }
    }
    for (const { owner, name, ranges } of wanted.values()) {
      const supplyOwner = owner.startsWith('supply') ? owner : `supply ${owner}`;
      const supplied = given.find((one) => one.owner === supplyOwner && one.name === name);
      if (supplied === undefined) return { owner: supplyOwner, name, ranges: [...ranges] };
      const isMet = [...ranges].every((range) =>
        rangeContains(requireRange(range), supplied.answer.version),
      );
      if (!isMet) return 'clash';
    }
    return null;
  }

  /** Owners up the chains of a copy that ask for a package, or the projects where none does. */
  function nearestOwners(given: readonly Given[], copy: string, name: string): readonly string[] {
    const found = new Set<string>();
    const seen = new Set<string>();
    const open = [copy];
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      if (seen.has(next)) continue;
      seen.add(next);
      const owners = given.filter((one) => `${one.name} ${one.answer.text}` === next);
      for (const { owner } of owners) {
        if (owner === copy) continue;
        const project = owner.replace(/^supply /, '');
        const isProject = project in projects;
        const own = given.find((one) => one.owner === project && one.name === name);
        const supply = given.find((one) => one.owner === `supply ${project}` && one.name === name);
        if (own !== undefined) found.add(project);
        else if (isProject) found.add(supply === undefined ? project : `supply ${project}`);
        else open.push(owner);
      }
    }
    return [...found];
  }
}
