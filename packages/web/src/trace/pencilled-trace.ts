import type { NamedLink, Trace, TraceNode, WhatIfAnswer } from '../api/client';

/** What would become of a node. */
export type Pencilled =
  | { readonly kind: 'leaves' }
  | { readonly kind: 'moves'; readonly to: string }
  | { readonly kind: 'enters' };

/** A line between nodes, by their places in the list. */
export interface PencilLine {
  readonly from: number;
  readonly to: number;
  readonly kind: 'enters' | 'struck';
}

/** A trace with what is tried out on it. */
export interface PencilledTrace extends Pick<Trace, 'columns' | 'nodes' | 'links'> {
  readonly marks: ReadonlyMap<string, Pencilled>;
  readonly lines: readonly PencilLine[];
}

export interface TriedOut {
  /** The effect of edits, where that is known. */
  readonly answer: WhatIfAnswer | undefined;
  readonly struck: readonly NamedLink[];
  /** Copies that would leave with what is struck out. */
  readonly leaving: readonly string[];
}

/** More is told in words alone. */
const MOST_ENTERING = 24;

/**
 * Marks what would leave and move, and adds what would enter where it would hang: upwards whoever would bring
 * what is drawn, downwards what that would bring. O(nodes + links x columns).
 */
export function pencilledTrace(
  trace: Trace,
  { answer, struck, leaving }: TriedOut,
): PencilledTrace {
  const marks = new Map<string, Pencilled>(leaving.map((id) => [id, { kind: 'leaves' }]));
  /** Copies that take another's place are the same node. */
  const placeOf = new Map<string, string>();
  for (const { name, from, to } of answer?.evaluation.consequences?.change.because ?? []) {
    if (from === null) continue;
    marks.set(`${name} ${from}`, to === null ? { kind: 'leaves' } : { kind: 'moves', to });
    if (to !== null) placeOf.set(`${name} ${to}`, `${name} ${from}`);
  }
  const nodes = [...trace.nodes];
  const byId = new Map(nodes.flatMap(({ id }, i) => (id === null ? [] : [[id, i]])));
  const at = (id: string): number | undefined => byId.get(placeOf.get(id) ?? id);
  const add = (id: string, column: number): void => {
    byId.set(id, nodes.length);
    nodes.push(entering(id, column));
    marks.set(id, { kind: 'enters' });
  };
  const isFull = (): boolean => nodes.length - trace.nodes.length >= MOST_ENTERING;
  const gained = (answer?.gained ?? []).filter(
    ({ to }) => trace.subject !== 'workspace' || !to.includes(' '),
  );
  addEnds(trace, gained, at, add);
  for (let isNew = true; isNew && !isFull();) {
    isNew = false;
    for (const { from, to } of gained) {
      if (isFull()) break;
      const [owner, target] = [at(from), at(to)];
      if (trace.direction === 'down' && owner !== undefined && target === undefined)
        add(to, nodes[owner]!.column + 1);
      else if (trace.direction === 'up' && target !== undefined && owner === undefined)
        add(from, Math.max(0, nodes[target]!.column - 1));
      else continue;
      isNew = true;
    }
  }
  const keyOf = ({ from, to }: NamedLink): string => `${at(from)} ${at(to)}`;
  const drawn = new Set(trace.links.map(({ from, to }) => `${from} ${to}`));
  // Where a copy takes another's place, its links are lost and gained.
  const kept = new Set(gained.map(keyOf));
  const lost = (answer?.lost ?? []).filter((link) => !kept.has(keyOf(link)));
  const linesOf = (all: readonly NamedLink[], kind: PencilLine['kind']): PencilLine[] =>
    all.flatMap(({ from, to }) => {
      const [owner, target] = [at(from), at(to)];
      if (owner === undefined || target === undefined) return [];
      const isDrawn = drawn.has(`${owner} ${target}`);
      return isDrawn === (kind === 'struck') ? [{ from: owner, to: target, kind }] : [];
    });
  return {
    columns: Math.max(trace.columns, ...nodes.map(({ column }) => column + 1)),
    nodes,
    links: trace.links,
    marks,
    lines: [...linesOf(gained, 'enters'), ...linesOf([...lost, ...struck], 'struck')],
  };
}

/** Another copy of the package that is traced belongs beside those that are there. */
function addEnds(
  { subject, direction, ends, columns }: Trace,
  links: readonly NamedLink[],
  at: (id: string) => number | undefined,
  add: (id: string, column: number) => void,
): void {
  if (subject !== 'package' || direction !== 'up') return;
  const name = ends[0]?.split(' ')[0];
  for (const { to } of links)
    if (to.split(' ')[0] === name && to.includes(' ') && at(to) === undefined) add(to, columns - 1);
}

function entering(id: string, column: number): TraceNode {
  const [name = id, version] = id.split(' ');
  return {
    id,
    kind: version === undefined ? 'project' : 'copy',
    name,
    version: version ?? null,
    column,
    row: Number.MAX_SAFE_INTEGER,
    chains: 0,
    count: 1,
    isThrough: true,
    isInCycle: false,
    leadsTo: [],
  };
}
