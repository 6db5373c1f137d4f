import { distancesFrom, FAR, type Components } from '../links/index.js';
import type { NeedGraph } from './need-graph.js';

/** Nodes from a project, or another start, down to the end; two at least, none twice. */
export type Chain = readonly number[];

/** How many simple ways inside cycles are walked before counting gives up. */
const MOST_STEPS = 1_000_000;

/** A chain from its end upwards, while it is sought. */
interface Tail {
  readonly node: number;
  readonly below: Tail | null;
  readonly length: number;
}

/**
 * The chains from some starts to any node: counted without walking them, and walked lazily, shortest first.
 * A chain passes no node twice, cycles or not.
 */
export class Chains {
  private knownDistances: Uint32Array | null = null;
  private readonly isStart: Uint8Array;
  private readonly components: Components;
  private counted: ArrayLike<number> | null = null;
  private exact: ArrayLike<bigint> | null = null;

  /**
   * @param starts nodes at which chains begin; all projects where they are not given
   */
  constructor(
    private readonly graph: NeedGraph,
    starts?: Iterable<number>,
  ) {
    this.isStart = new Uint8Array(graph.starts.length - 1);
    if (starts === undefined) this.isStart.fill(1, 0, graph.projectCount);
    else for (const start of starts) this.isStart[start] = 1;
    this.components = graph.components;
  }

  /** Steps from the nearest start. One walk, when it is first asked for. */
  private get distances(): Uint32Array {
    if (this.knownDistances === null) {
      const starts: number[] = [];
      this.isStart.forEach((is, node) => is === 1 && starts.push(node));
      this.knownDistances = distancesFrom(this.graph, starts);
    }
    return this.knownDistances;
  }

  /** Steps of the shortest chain to a node, or null. */
  shortest(to: number): number | null {
    const distance = this.distances[to]!;
    return distance === FAR ? null : distance;
  }

  /**
   * The chains to a node, shortest first, those of one length in a fixed order. Each costs its length times
   * the owners along it, and within a cycle times the cycle's links; those that are not asked for cost nothing.
   */
  *to(end: number): Generator<Chain> {
    if (this.distances[end] === FAR) return;
    // By length of the shortest chain that a tail can become.
    const waiting: Tail[][] = [];
    const add = (tail: Tail, left: number): void => {
      (waiting[tail.length + left] ??= []).push(tail);
    };
    add({ node: end, below: null, length: 0 }, this.distances[end]!);
    for (let length = 0; length < waiting.length; length++) {
      const tails = waiting[length] ?? [];
      // The last first: a tail is followed up to its start before the next is begun, so few wait at a time.
      for (let tail = tails.pop(); tail !== undefined; tail = tails.pop()) {
        if (this.isStart[tail.node] === 1 && tail.length === length && tail.below !== null)
          yield chainOf(tail);
        this.extend(tail, add);
      }
    }
  }

  private extend(tail: Tail, add: (tail: Tail, left: number) => void): void {
    const { starts, targets } = this.graph.owners;
    const { node, length } = tail;
    const cycle = this.components.of[node]!;
    let passed: Set<number> | null = null;
    let last = -1;
    for (let at = starts[node + 1]! - 1; at >= starts[node]!; at--) {
      const owner = targets[at]!;
      // Owners are in order; two requirements of one owner are one step of a chain.
      if (owner === last || this.distances[owner] === FAR) continue;
      last = owner;
      // Nothing of another cycle has been passed, so the shortest way to it is a way for this tail.
      let left = this.distances[owner]!;
      if (this.components.of[owner] === cycle) {
        passed ??= nodesOf(tail);
        if (passed.has(owner)) continue;
        left = this.stepsLeft(owner, passed);
      }
      if (left !== FAR) add({ node: owner, below: tail, length: length + 1 }, left);
    }
  }

  /**
   * Steps from the nearest start to a member of a cycle past none of the nodes that a tail has passed; FAR where
   * all ways lead through them. Without this, tails would try every way round a cycle that they cannot leave.
   * O(links inside the cycle).
   */
  private stepsLeft(from: number, passed: ReadonlySet<number>): number {
    const { starts, targets } = this.graph.owners;
    const cycle = this.components.of[from];
    const seen = new Set([from]);
    let best = FAR;
    let ring = [from];
    for (let steps = 0; ring.length > 0 && steps < best; steps++) {
      const next: number[] = [];
      for (const node of ring) {
        if (this.isStart[node] === 1) best = Math.min(best, steps);
        for (let at = starts[node]!; at < starts[node + 1]!; at++) {
          const owner = targets[at]!;
          if (this.components.of[owner] !== cycle) {
            if (this.distances[owner] !== FAR)
              best = Math.min(best, steps + 1 + this.distances[owner]!);
          } else if (!seen.has(owner) && !passed.has(owner)) {
            seen.add(owner);
            next.push(owner);
          }
        }
      }
      ring = next;
    }
    return best;
  }

  /**
   * The exact number of chains to a node; null where a cycle has more ways than are worth walking.
   * O(links) for all nodes together while numbers stay below 2^53, and once more for a node beyond that.
   */
  count(to: number): bigint | null {
    const count = this.quickCounts()[to]!;
    if (Number.isNaN(count)) return null;
    if (count <= Number.MAX_SAFE_INTEGER) return BigInt(count);
    const { graph, components, isStart } = this;
    const zeros = new Array<bigint>(isStart.length).fill(0n);
    this.exact ??= new WayCounter<bigint>(graph, components, isStart, zeros, 0n, 1n).count(0n);
    return this.exact[to]!;
  }

  private quickCounts(): ArrayLike<number> {
    const { graph, components, isStart } = this;
    const zeros = new Float64Array(isStart.length);
    this.counted ??= new WayCounter<number>(graph, components, isStart, zeros, 0, 1).count(NaN);
    return this.counted;
  }
}

function chainOf(tail: Tail): Chain {
  const chain: number[] = [];
  for (let at: Tail | null = tail; at !== null; at = at.below) chain.push(at.node);
  return chain;
}

function nodesOf(tail: Tail): Set<number> {
  const nodes = new Set<number>();
  for (let at: Tail | null = tail; at !== null; at = at.below) nodes.add(at.node);
  return nodes;
}

/**
 * Counts the ways to each node from all starts, cycle by cycle from the owners down; a start's own way to
 * itself is none. With doubles, or with integers of any size where those do not reach.
 */
class WayCounter<N extends number | bigint> {
  private walked = 0;

  constructor(
    private readonly graph: NeedGraph,
    private readonly components: Components,
    private readonly isStart: Uint8Array,
    private readonly ways: { [node: number]: N; readonly length: number },
    private readonly zero: N,
    private readonly one: N,
  ) {}

  /** @param unknown stands at members of a cycle that has too many ways, and at all that it leads to */
  count(unknown: N): ArrayLike<N> {
    const { starts, targets } = this.components.members;
    for (let cycle = starts.length - 2; cycle >= 0; cycle--) {
      const first = starts[cycle]!;
      const end = starts[cycle + 1]!;
      for (let at = first; at < end; at++) this.ways[targets[at]!] = this.fromAbove(targets[at]!);
      if (end - first > 1) this.goRound(targets.subarray(first, end), unknown);
    }
    return this.ways;
  }

  private goRound(members: Uint32Array, unknown: N): void {
    const added = this.waysInside(members);
    for (const member of members)
      this.ways[member] =
        added === null ? unknown : plus(this.ways[member]!, added.get(member) ?? this.zero);
  }

  private fromAbove(node: number): N {
    const { starts, targets } = this.graph.owners;
    const { of } = this.components;
    const { ways, isStart } = this;
    const cycle = of[node];
    let sum = this.zero;
    let last = -1;
    for (let at = starts[node]!, end = starts[node + 1]!; at < end; at++) {
      const owner = targets[at]!;
      if (owner === last || of[owner] === cycle) continue;
      last = owner;
      sum = plus(sum, ways[owner]!);
      if (isStart[owner] === 1) sum = plus(sum, this.one);
    }
    return sum;
  }

  /** Ways that go on from a node: those to it, and one that begins there if it is a start. */
  private leaving(node: number): N {
    return this.isStart[node] === 1 ? plus(this.ways[node]!, this.one) : this.ways[node]!;
  }

  /** What comes in at each member, for every other that a simple way inside leads to; null: too many. */
  private waysInside(members: Uint32Array): ReadonlyMap<number, N> | null {
    const isInside = new Set(members);
    const inside = new Map(
      Array.from(members, (member) => [member, this.insideTargets(member, isInside)]),
    );
    const added = new Map<number, N>();
    for (const entry of members) {
      const entering = this.leaving(entry);
      if (entering === this.zero) continue;
      const passed = new Set([entry]);
      // Depth first, with the number of links that are still to be walked at each depth.
      const path = [entry];
      const left = [inside.get(entry)!.length];
      while (path.length > 0) {
        const depth = path.length - 1;
        if (left[depth] === 0) {
          passed.delete(path.pop()!);
          left.pop();
          continue;
        }
        left[depth]! -= 1;
        const next = inside.get(path[depth]!)![left[depth]!]!;
        if (passed.has(next)) continue;
        this.walked += 1;
        if (this.walked > MOST_STEPS) return null;
        added.set(next, plus(added.get(next) ?? this.zero, entering));
        passed.add(next);
        path.push(next);
        left.push(inside.get(next)!.length);
      }
    }
    return added;
  }

  private insideTargets(node: number, isInside: ReadonlySet<number>): number[] {
    const { starts, targets } = this.graph;
    const all = targets.subarray(starts[node], starts[node + 1]);
    return [...new Set(all)].filter((target) => isInside.has(target));
  }
}

/** The language adds both kinds of numbers alike; its types do not say so. */
function plus<N extends number | bigint>(a: N, b: N): N {
  return ((a as number) + (b as number)) as N;
}
