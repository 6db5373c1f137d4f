import {
  Chains,
  checkLock,
  linkBetween,
  mergedChains,
  needGraph,
  nodeName,
  nodesByName,
  type Chain,
  type NeedGraph,
} from '@deep-ledger/core';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { usableWorkspace } from './usable-workspace.js';
import type { Output } from './output.js';
import { readWorkTree } from './work-tree.js';

export interface TraceOptions {
  /** Folder of the work tree. */
  readonly in: string;
  /** Only chains that begin in this project's folder. */
  readonly from?: string;
  readonly count: number;
  readonly json?: true;
}

/** Says by which chains a package comes in, from the lockfile alone. @returns the exit code */
export async function traceCommand(
  subject: string,
  options: TraceOptions,
  output: Output,
): Promise<number> {
  const files = await readWorkTree(options.in, output.complain);
  const workspace = usableWorkspace(files, output);
  if (workspace === null) return EXIT.unreadable;
  const { resolution, state } = checkLock(workspace, files);
  if (resolution === null) {
    output.complain('There is no lockfile that can be read. Write it with deep-ledger lock.');
    return EXIT.unreadable;
  }
  if (state === 'stale') output.complain('The lockfile is stale; this is what it says.');
  const graph = needGraph(resolution);
  const ends = endsOf(graph, subject);
  if (ends.length === 0) {
    output.complain(
      `The lockfile has no copy of ${subject} and no project of that name or folder.`,
    );
    return EXIT.stale;
  }
  const from = options.from === undefined ? null : (nodesByName(graph).get(options.from) ?? null);
  if (options.from !== undefined && from === null) {
    output.complain(`There is no project in ${options.from}.`);
    return EXIT.unreadable;
  }
  const chains = from === null ? new Chains(graph) : new Chains(graph, [from]);
  const shown: Chain[] = [];
  for (const chain of mergedChains(chains, ends)) {
    if (shown.length === options.count) break;
    shown.push(chain);
  }
  const counts = ends.map((end) => chains.count(end));
  const total = counts.includes(null) ? null : counts.reduce((sum: bigint, one) => sum + one!, 0n);
  if (options.json)
    output.say(
      JSON.stringify({
        format: 1,
        copies: ends.map((end) => nodeName(graph, end)),
        total: total === null ? null : String(total),
        chains: shown.map((chain) => stepsOf(graph, chain)),
      }),
    );
  else {
    for (const chain of shown) output.say(words(graph, chain));
    if (shown.length === 0)
      output.say(
        `Nothing ${from === null ? '' : `from ${options.from} on `}requires ${ends.map((end) => nodeName(graph, end)).join(', ')}.`,
      );
    else
      output.say(
        `${shown.length} of ${total === null ? 'more chains than can be counted' : count(total, 'chain')} to ${ends.map((end) => nodeName(graph, end)).join(', ')}.`,
      );
  }
  return EXIT.ok;
}

/** Copies of a package, the one copy that name@version names, or a project of the workspace by name or folder. */
function endsOf({ projectCount, resolution }: NeedGraph, subject: string): readonly number[] {
  const copies = resolution.copies.flatMap(({ name, version }, i) =>
    [name, `${name}@${version}`].includes(subject) ? [projectCount + i] : [],
  );
  if (copies.length > 0) return copies;
  return resolution.projects.flatMap((project, i) =>
    project.name === subject || project.folder === subject ? [i] : [],
  );
}

interface Step {
  readonly node: string;
  readonly range: string | null;
}

function stepsOf(graph: NeedGraph, chain: Chain): readonly Step[] {
  return chain.map((node, i) => ({
    node: nodeName(graph, node),
    range: i === 0 ? null : (linkBetween(graph, chain[i - 1]!, node)?.written ?? null),
  }));
}

function words(graph: NeedGraph, chain: Chain): string {
  return stepsOf(graph, chain)
    .map(({ node, range }) => (range === null ? node : `${range} -> ${node}`))
    .join('  ');
}
