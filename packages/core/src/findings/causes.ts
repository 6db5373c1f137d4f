import { retainedSizes, START } from '../graph/index.js';
import { Grounds, type Stand } from './grounds.js';
import { findingName, type Finding } from './finding.js';

/** One thing behind several findings. */
export interface Cause {
  /** `package scree-log`, `set moraine`, `copy serac-queue 1.6.0`, or a finding's own name. */
  readonly key: string;
  readonly says: string;
  /** In the order of all findings. */
  readonly findings: readonly Finding[];
}

/**
 * Gathers findings under what causes them: those on copies under the copy without which none of them would be there,
 * those on a member of a lockstep set under the set, those on a stale lockfile under the lockfile, others under their
 * package. A finding that stands alone is its own cause. Heaviest first, then largest. O(findings + links).
 */
export function causesOf(stand: Stand, findings: readonly Finding[]): readonly Cause[] {
  const { workspace } = stand;
  if (workspace === null) return findings.map(alone);
  const grounds = new Grounds(stand, workspace);
  const bringer = bringers(grounds);
  const causes = new Map<string, { readonly key: CauseKey; readonly list: Finding[] }>();
  for (const finding of findings) {
    const key = keyOf(grounds, bringer, finding);
    const text = findingName(...key);
    const known = causes.get(text);
    if (known === undefined) causes.set(text, { key, list: [finding] });
    else known.list.push(finding);
  }
  // The list of findings is in order of severity, so a cause's place is that of its heaviest.
  return [...causes].map(([text, { key, list }]) =>
    list.length === 1
      ? alone(list[0]!)
      : { key: text, says: causeWords(key, list), findings: list },
  );
}

function alone(finding: Finding): Cause {
  return { key: finding.id, says: finding.says, findings: [finding] };
}

/** What findings have in common; causes are told apart by it. */
type CauseKind = 'lockfile' | 'copy' | 'set' | 'source' | 'package' | 'alone';
type CauseKey = readonly [kind: CauseKind, ...subjects: string[]];

function keyOf(
  { workspace }: Grounds,
  bringer: (copy: string) => string,
  { kind, project, package: name, version, mark, id }: Finding,
): CauseKey {
  if (kind === 'unlocked' || kind === 'orphaned') return ['lockfile'];
  if (name !== null && version !== null) {
    const top = bringer(`${name} ${version}`);
    return top === `${name} ${version}` ? packageKey(name) : ['copy', top];
  }
  if (kind === 'lockstep-broken') return ['set', ...mark];
  if (name === null) return ['alone', id];
  if (kind === 'unused' || kind === 'undeclared' || kind === 'redundant')
    return ['source', project ?? '', name];
  return packageKey(name);

  function packageKey(of: string): CauseKey {
    const set = workspace.agreements.get(of)?.set ?? null;
    return set === null ? ['package', of] : ['set', set];
  }
}

/** The highest copy by way of which alone another comes in; itself where there is none. */
function bringers(grounds: Grounds): (copy: string) => string {
  let weights: ReturnType<typeof retainedSizes> | null = null;
  return (copy) => {
    const { graph, resolution } = grounds;
    weights ??= retainedSizes(graph);
    let node = grounds.node(copy);
    if (node === null) return copy;
    for (;;) {
      const above: number = weights.dominatorOf[node]!;
      if (above === START || above < graph.projectCount) break;
      node = above;
    }
    const top = resolution.copies[node - graph.projectCount]!;
    return `${top.name} ${top.version}`;
  };
}

function causeWords([kind, ...subjects]: CauseKey, findings: readonly Finding[]): string {
  const count = `${findings.length} findings`;
  const [first = '', second = ''] = subjects;
  switch (kind) {
    case 'lockfile':
      return `The lockfile has not followed the manifests: ${count}`;
    case 'copy':
      return `${first} brings them in: ${count}`;
    case 'set':
      return `The lockstep set ${first}: ${count}`;
    case 'source':
      return `${second} in ${first}: ${count}`;
    case 'package':
    case 'alone':
      return `${first}: ${count}`;
  }
}
