import type { Span } from '../../text/index.js';

/** A value in a file of any syntax, with its place. */
export type SourceNode = SourceTable | SourceList | SourceScalar;

export interface SourceTable {
  readonly kind: 'table';
  readonly span: Span;
  readonly entries: ReadonlyMap<string, SourceEntry>;
  /** Why nothing in it can be changed in place; null: it can. */
  readonly obstacle: string | null;
}

export interface SourceEntry {
  readonly key: string;
  readonly keySpan: Span;
  /** Key and value. */
  readonly span: Span;
  readonly value: SourceNode;
}

export interface SourceList {
  readonly kind: 'list';
  readonly span: Span;
  readonly items: readonly SourceNode[];
  readonly obstacle: string | null;
}

export interface SourceScalar {
  readonly kind: 'scalar';
  readonly span: Span;
  readonly value: string | number | boolean | null;
  /** The text that it says: of a number as it is written, so that 1.10 stays 1.10. */
  readonly text: string;
  readonly obstacle: string | null;
}

export type SourceParse =
  | { readonly ok: true; readonly root: SourceNode }
  /** A whole sentence, and where reading stopped. */
  | { readonly ok: false; readonly message: string; readonly span: Span };

/** Keys and indices that lead from the root to a node. */
export type SourcePath = readonly (string | number)[];

/** The node at a path, or null. O(length of the path). */
export function sourceAt(root: SourceNode, path: SourcePath): SourceNode | null {
  let node: SourceNode = root;
  for (const step of path) {
    const next: SourceNode | undefined =
      node.kind === 'table'
        ? node.entries.get(String(step))?.value
        : node.kind === 'list' && typeof step === 'number'
          ? node.items[step]
          : undefined;
    if (next === undefined) return null;
    node = next;
  }
  return node;
}

/** Data without places, as queries want it. O(size). */
export function plainOf(node: SourceNode): unknown {
  switch (node.kind) {
    case 'table':
      return Object.fromEntries(
        [...node.entries.values()].map(({ key, value }) => [key, plainOf(value)]),
      );
    case 'list':
      return node.items.map(plainOf);
    case 'scalar':
      return node.value;
  }
}

/** The first obstacle on a path, the node at its end included; null: it can be changed in place. */
export function obstacleOn(root: SourceNode, path: SourcePath): string | null {
  for (let depth = 0; depth <= path.length; depth++) {
    const node = sourceAt(root, path.slice(0, depth));
    if (node !== null && node.obstacle !== null) return node.obstacle;
  }
  return null;
}
