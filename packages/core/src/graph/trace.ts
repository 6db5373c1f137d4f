import { nodeCount, nodeName, type NeedGraph } from './need-graph.js';

/** Which part of a graph is to be drawn. */
export interface TraceTerms {
  /** `up`: who brings the ends in; `down`: what they bring. */
  readonly direction: 'up' | 'down';
  readonly ends: readonly number[];
  /** Only chains from these; without it, from all projects. */
  readonly from?: readonly number[];
  /** Nodes on a chain through this one are never gathered, and are marked. */
  readonly through?: number;
  /** Nodes of a column that stand by themselves; the rest is gathered. */
  readonly most: number;
  /** Columns that are shown whole. */
  readonly open?: ReadonlySet<number>;
}

/** A node where it is drawn, or what was gathered of a column. */
export interface TraceNode {
  /** Null: gathered. */
  readonly node: number | null;
  readonly column: number;
  /** From the top of its column, from 0. */
  readonly row: number;
  /** Chains that pass it. Within cycles they are counted as if the cycle were one node. */
  readonly chains: number;
  /** How many nodes stand here. */
  readonly count: number;
  readonly isThrough: boolean;
  /** Indices of the ends that it leads to, of the first 30; empty for `down`. */
  readonly leadsTo: readonly number[];
}

export interface TraceLink {
  /** Indices among the trace's nodes. */
  readonly from: number;
  readonly to: number;
  readonly chains: number;
  readonly isThrough: boolean;
  readonly leadsTo: readonly number[];
}

export interface Trace {
  readonly columns: number;
  readonly nodes: readonly TraceNode[];
  readonly links: readonly TraceLink[];
  /** Nodes that are part of it, gathered or not. */
  readonly size: number;
}

const MOST_ENDS = 30;

/**
 * Lays the chains to some nodes, or from them, in columns: each node as many columns from the left as the
 * longest way to it has steps, so that links lead to the right except within cycles. Columns are
 * ordered by the means of their neighbours (K. Sugiyama and others, Methods for visual understanding of
 * hierarchical system structures, IEEE Trans. SMC 11(2), 1981).
 * O(links), and O(n log n) for the nodes that are drawn.
 */
export function traceOf(graph: NeedGraph, terms: TraceTerms): Trace {
  return new Tracer(graph, terms).run();
}

class Tracer {
  private readonly count: number;
  private readonly isIn: Uint8Array;
  private readonly isStart: Uint8Array;
  private readonly isEnd: Uint8Array;
  /** Nodes of the trace, owners before what they require, the members of a cycle together. */
  private readonly cyclesInOrder: readonly (readonly number[])[];
  private readonly order: readonly number[];
  private readonly column: Int32Array;
  private readonly above: Float64Array;
  private readonly below: Float64Array;
  private readonly leads: Uint32Array;

  constructor(
    private readonly graph: NeedGraph,
    private readonly terms: TraceTerms,
  ) {
    this.count = nodeCount(graph);
    this.isStart = new Uint8Array(this.count);
    this.isEnd = new Uint8Array(this.count);
    const isUp = terms.direction === 'up';
    const projects = Array.from({ length: graph.projectCount }, (_, i) => i);
    const starts = isUp ? (terms.from ?? projects) : terms.ends;
    for (const start of starts) this.isStart[start] = 1;
    for (const end of terms.ends) this.isEnd[end] = 1;
    const reached = this.reach(graph.starts, graph.targets, starts);
    if (isUp) {
      const reaching = this.reach(graph.owners.starts, graph.owners.targets, terms.ends);
      this.isIn = reached.map((is, node) => is & reaching[node]!);
      for (const end of terms.ends) this.isIn[end] = 1;
    } else {
      this.isIn = reached;
      this.isEnd.fill(1);
    }
    this.cyclesInOrder = this.inOrder();
    this.order = this.cyclesInOrder.flat();
    this.column = this.columns();
    this.above = this.waysAbove();
    this.below = this.waysBelow();
    this.leads = this.leadsTo();
  }

  run(): Trace {
    const through = this.throughNodes();
    const { shown, nodes } = this.gather(through);
    const links = this.links(shown, nodes, through);
    const columns = nodes.reduce((most, { column }) => Math.max(most, column + 1), 0);
    return { columns, ...arrange(this.graph, nodes, links, columns), size: this.order.length };
  }

  private reach(
    starts: Uint32Array,
    targets: Uint32Array,
    from: Iterable<number>,
  ): Uint8Array<ArrayBuffer> {
    const isReached = new Uint8Array(this.count);
    const open: number[] = [];
    for (const node of from) {
      isReached[node] = 1;
      open.push(node);
    }
    for (let node = open.pop(); node !== undefined; node = open.pop()) {
      for (let at = starts[node]!; at < starts[node + 1]!; at++) {
        const next = targets[at]!;
        if (isReached[next] === 1) continue;
        isReached[next] = 1;
        open.push(next);
      }
    }
    return isReached;
  }

  private inOrder(): readonly (readonly number[])[] {
    const { starts, targets } = this.graph.components.members;
    const order: number[][] = [];
    for (let cycle = starts.length - 2; cycle >= 0; cycle--) {
      const members: number[] = [];
      for (let at = starts[cycle]!; at < starts[cycle + 1]!; at++)
        if (this.isIn[targets[at]!] === 1) members.push(targets[at]!);
      if (members.length > 0) order.push(members);
    }
    return order;
  }

  private isInside(owner: number, target: number): boolean {
    return this.graph.components.of[owner] === this.graph.components.of[target];
  }

  private columns(): Int32Array {
    const { owners, components } = this.graph;
    const ofCycle = new Int32Array(components.members.starts.length);
    for (const node of this.order) {
      for (let at = owners.starts[node]!; at < owners.starts[node + 1]!; at++) {
        const owner = owners.targets[at]!;
        if (this.isIn[owner] === 0 || this.isInside(owner, node)) continue;
        const next = ofCycle[components.of[owner]!]! + 1;
        if (next > ofCycle[components.of[node]!]!) ofCycle[components.of[node]!] = next;
      }
    }
    const column = new Int32Array(this.count);
    let lastBefore = -1;
    for (const node of this.order) {
      column[node] = ofCycle[components.of[node]!]!;
      if (this.isEnd[node] === 0) lastBefore = Math.max(lastBefore, column[node]);
    }
    if (this.terms.direction === 'up')
      for (const end of this.terms.ends) column[end] = lastBefore + 1;
    return column;
  }

  /**
   * Chains from starts down to each node; its own start not counted. What comes into a cycle reaches each of its
   * members.
   */
  private waysAbove(): Float64Array {
    const { owners } = this.graph;
    const ways = new Float64Array(this.count);
    for (const members of this.cyclesInOrder) {
      let entering = 0;
      let startsInside = 0;
      for (const node of members) {
        startsInside += this.isStart[node]!;
        for (let at = owners.starts[node]!; at < owners.starts[node + 1]!; at++) {
          const owner = owners.targets[at]!;
          if (this.isIn[owner] === 0 || this.isInside(owner, node)) continue;
          entering += ways[owner]! + this.isStart[owner]!;
        }
      }
      for (const node of members) ways[node] = entering + startsInside - this.isStart[node]!;
    }
    return ways;
  }

  /** Chains from each node down to ends; one that ends there is one. From a cycle's members the same ways lead on. */
  private waysBelow(): Float64Array {
    const { starts, targets } = this.graph;
    const ways = new Float64Array(this.count);
    for (const members of [...this.cyclesInOrder].reverse()) {
      let leaving = 0;
      for (const node of members) {
        leaving += this.isEnd[node]!;
        for (let at = starts[node]!; at < starts[node + 1]!; at++) {
          const target = targets[at]!;
          if (this.isIn[target] === 1 && !this.isInside(node, target)) leaving += ways[target]!;
        }
      }
      for (const node of members) ways[node] = leaving;
    }
    return ways;
  }

  /** As bits, the ends that each node leads to. */
  private leadsTo(): Uint32Array {
    const leads = new Uint32Array(this.count);
    if (this.terms.direction === 'down') return leads;
    this.terms.ends.slice(0, MOST_ENDS).forEach((end, i) => {
      leads[end]! |= 1 << i;
    });
    const { starts, targets } = this.graph;
    for (const members of [...this.cyclesInOrder].reverse()) {
      let all = 0;
      for (const node of members) {
        all |= leads[node]!;
        for (let at = starts[node]!; at < starts[node + 1]!; at++)
          if (this.isIn[targets[at]!] === 1) all |= leads[targets[at]!]!;
      }
      for (const node of members) leads[node] = all;
    }
    return leads;
  }

  private throughNodes(): Uint8Array | null {
    const { through } = this.terms;
    if (through === undefined || this.isIn[through] === 0) return null;
    const { starts, targets, owners } = this.graph;
    const down = this.reach(starts, targets, [through]);
    const up = this.reach(owners.starts, owners.targets, [through]);
    return down.map((is, node) => (is | up[node]!) & this.isIn[node]!);
  }

  private chainsOf(node: number): number {
    return (this.above[node]! + this.isStart[node]!) * this.below[node]!;
  }

  /** Decides which nodes stand by themselves; the others share one place in their column. */
  private gather(through: Uint8Array | null): {
    readonly shown: Int32Array;
    readonly nodes: readonly Omit<TraceNode, 'row'>[];
  } {
    const { most, open } = this.terms;
    const byColumn: number[][] = [];
    for (const node of this.order) (byColumn[this.column[node]!] ??= []).push(node);
    const shown = new Int32Array(this.count).fill(-1);
    const nodes: Omit<TraceNode, 'row'>[] = [];
    byColumn.forEach((members, column) => {
      const rank = (node: number): number =>
        (this.isEnd[node] === 1 && this.terms.direction === 'up') || through?.[node] === 1 ? 1 : 0;
      members.sort((a, b) => rank(b) - rank(a) || this.chainsOf(b) - this.chainsOf(a) || a - b);
      const kept = members.filter((node) => rank(node) === 1).length;
      // A node that would be gathered alone stands by itself.
      const isWhole = open?.has(column) === true || members.length <= most + 1;
      const limit = isWhole ? members.length : Math.max(most, Math.min(kept, 4 * most));
      for (const node of members.slice(0, limit)) {
        shown[node] = nodes.length;
        nodes.push({
          node,
          column,
          chains: this.chainsOf(node),
          count: 1,
          isThrough: through === null || through[node] === 1,
          leadsTo: bitsOf(this.leads[node]!),
        });
      }
      const rest = members.slice(limit);
      if (rest.length === 0) return;
      for (const node of rest) shown[node] = nodes.length;
      nodes.push({
        node: null,
        column,
        chains: rest.reduce((sum, node) => sum + this.chainsOf(node), 0),
        count: rest.length,
        isThrough: through === null,
        leadsTo: bitsOf(rest.reduce((bits, node) => bits | this.leads[node]!, 0)),
      });
    });
    return { shown, nodes };
  }

  private links(
    shown: Int32Array,
    nodes: readonly Omit<TraceNode, 'row'>[],
    through: Uint8Array | null,
  ): readonly TraceLink[] {
    const { starts, targets } = this.graph;
    const joined = new Map<number, { chains: number; isThrough: boolean; leads: number }>();
    for (const node of this.order) {
      let last = -1;
      for (let at = starts[node]!; at < starts[node + 1]!; at++) {
        const target = targets[at]!;
        if (this.isIn[target] === 0 || target === last) continue;
        last = target;
        const from = shown[node]!;
        const to = shown[target]!;
        // What is gathered in one place shows no links among itself.
        if (from === to) continue;
        const key = from * nodes.length + to;
        const chains = (this.above[node]! + this.isStart[node]!) * this.below[target]!;
        const isThrough = through === null || (through[node] === 1 && through[target] === 1);
        const known = joined.get(key);
        if (known === undefined) joined.set(key, { chains, isThrough, leads: this.leads[target]! });
        else {
          known.chains += chains;
          known.isThrough ||= isThrough;
          known.leads |= this.leads[target]!;
        }
      }
    }
    return [...joined].map(([key, { chains, isThrough, leads }]) => ({
      from: Math.floor(key / nodes.length),
      to: key % nodes.length,
      chains,
      isThrough,
      leadsTo: bitsOf(leads),
    }));
  }
}

function bitsOf(bits: number): readonly number[] {
  const found: number[] = [];
  for (let i = 0; i < MOST_ENDS; i++) if ((bits & (1 << i)) !== 0) found.push(i);
  return found;
}

const SWEEPS = 4;

/** Gives each node its row: by name at first, then by the mean of its neighbours, to and fro. */
function arrange(
  graph: NeedGraph,
  nodes: readonly Omit<TraceNode, 'row'>[],
  links: readonly TraceLink[],
  columns: number,
): Pick<Trace, 'nodes' | 'links'> {
  const neighbours: readonly { before: number[]; after: number[] }[] = nodes.map(() => ({
    before: [],
    after: [],
  }));
  for (const { from, to } of links) {
    if (nodes[from]!.column >= nodes[to]!.column) continue;
    neighbours[from]!.after.push(to);
    neighbours[to]!.before.push(from);
  }
  const nameOf = (i: number): string => {
    const { node } = nodes[i]!;
    // Gathered nodes come last.
    return node === null ? '\uffff' : nodeName(graph, node);
  };
  const rows: number[][] = Array.from({ length: columns }, () => []);
  nodes.forEach(({ column }, i) => rows[column]!.push(i));
  const row = new Float64Array(nodes.length);
  const place = (list: number[]): void =>
    list.forEach((one, i) => {
      row[one] = list.length === 1 ? 0.5 : i / (list.length - 1);
    });
  for (const list of rows) {
    list.sort((a, b) => (nameOf(a) < nameOf(b) ? -1 : 1));
    place(list);
  }
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    const isForth = sweep % 2 === 0;
    for (const list of isForth ? rows : [...rows].reverse()) {
      const mean = new Map(
        list.map((one) => {
          const near = isForth ? neighbours[one]!.before : neighbours[one]!.after;
          const sum = near.reduce((total, other) => total + row[other]!, 0);
          return [one, near.length === 0 ? row[one]! : sum / near.length] as const;
        }),
      );
      list.sort((a, b) => {
        const isLast = Number(nodes[a]!.node === null) - Number(nodes[b]!.node === null);
        return isLast || mean.get(a)! - mean.get(b)! || (nameOf(a) < nameOf(b) ? -1 : 1);
      });
      place(list);
    }
  }
  const inColumn = new Map(rows.flatMap((list) => list.map((one, i) => [one, i] as const)));
  return { nodes: nodes.map((node, i) => ({ ...node, row: inColumn.get(i)! })), links };
}
