import { composed } from '../../text/index.js';
import type { SourceEntry, SourceNode } from './source-tree.js';

/** Parsed JSON as a tree; nothing in it has a place. O(size). */
export function sourceOfJson(value: unknown): SourceNode {
  const span = [0, 0] as const;
  if (Array.isArray(value))
    return { kind: 'list', span, items: value.map(sourceOfJson), obstacle: null };
  if (typeof value === 'object' && value !== null) {
    const entries = Object.entries(value).map(([said, inner]): [string, SourceEntry] => {
      const key = composed(said);
      return [key, { key, keySpan: span, span, value: sourceOfJson(inner) }];
    });
    return { kind: 'table', span, entries: new Map(entries), obstacle: null };
  }
  const scalar = value as string | number | boolean | null;
  return { kind: 'scalar', span, value: scalar, text: String(scalar), obstacle: null };
}
