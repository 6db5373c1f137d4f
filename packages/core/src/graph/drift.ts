import { explainLockChange } from '../lock/index.js';
import { type Resolution } from '../resolve/index.js';
import {
  compareVersions,
  requireVersion,
  versionStep,
  type VersionStep,
} from '../version/index.js';
import { needGraph, nodeNamed } from './need-graph.js';
import { demandsOn, type WrittenLink } from './written-links.js';

/** A copy that one resolution has otherwise than another. */
export interface DriftLine {
  readonly name: string;
  /** Null: it comes new. */
  readonly from: string | null;
  /** Null: it goes. */
  readonly to: string | null;
  /** How far, where it moves. */
  readonly step: VersionStep | null;
  readonly direction: 'up' | 'down' | null;
  /** The ranges that let it move: what is asked of the copy, those of projects first. */
  readonly demands: readonly WrittenLink[];
}

/**
 * How one resolution differs from another, copy by copy. Of a package with several copies, those are laid
 * beside each other that the same requirements are answered by, and the one that is left on either side. Sorted by name. O(requirements of both).
 */
export function driftLines(before: Resolution, after: Resolution): readonly DriftLine[] {
  const { because, reanswered } = explainLockChange(before, after);
  const gone = new Map<string, Set<string>>();
  const come = new Map<string, Set<string>>();
  for (const { name, from, to } of because) {
    if (from !== null) add(gone, name, from);
    if (to !== null) add(come, name, to);
  }
  const counts = new Map<string, number>();
  for (const { name, from, to } of reanswered) {
    if (from === null || to === null) continue;
    const key = `${name} ${from} ${to}`;
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  const pairs = [...counts]
    .sort(([a, n], [b, m]) => m - n || (a < b ? -1 : 1))
    .flatMap(([key]) => {
      const [name, from, to] = key.split(' ') as [string, string, string];
      if (gone.get(name)?.has(from) !== true || come.get(name)?.has(to) !== true) return [];
      gone.get(name)!.delete(from);
      come.get(name)!.delete(to);
      return [{ name, from, to }];
    });
  for (const [name, versions] of gone) {
    const [from, ...others] = versions;
    const [to, ...more] = come.get(name) ?? [];
    if (from === undefined || to === undefined || others.length + more.length > 0) continue;
    versions.clear();
    come.get(name)!.clear();
    pairs.push({ name, from, to });
  }
  const alone = [
    ...[...gone].flatMap(([name, versions]) =>
      [...versions].map((from) => ({ name, from, to: null })),
    ),
    ...[...come].flatMap(([name, versions]) =>
      [...versions].map((to) => ({ name, from: null, to })),
    ),
  ];
  const [old, now] = [needGraph(before), needGraph(after)];
  return [...pairs, ...alone]
    .sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))
    .map(({ name, from, to }): DriftLine => {
      const graph = to === null ? old : now;
      const node = nodeNamed(graph, `${name} ${to ?? from}`);
      const demands = node === null ? [] : demandsOn(graph, node);
      const projects = new Set(graph.resolution.projects.map(({ folder }) => folder));
      const [a, b] = [from, to].map((text) => (text === null ? null : requireVersion(text)));
      return {
        name,
        from,
        to,
        step: a == null || b == null ? null : versionStep(a, b),
        direction: a == null || b == null ? null : compareVersions(a, b) < 0 ? 'up' : 'down',
        demands: demands.toSorted(
          (one, other) => Number(projects.has(other.owner)) - Number(projects.has(one.owner)),
        ),
      };
    });
}

function add(lists: Map<string, Set<string>>, name: string, version: string): void {
  const known = lists.get(name);
  if (known === undefined) lists.set(name, new Set([version]));
  else known.add(version);
}
