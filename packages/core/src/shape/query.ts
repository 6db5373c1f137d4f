import { compile, type JSONPathQuery } from 'json-p3';
import { plainOf, sourceAt, type SourceNode, type SourcePath } from './syntax/index.js';

/** A key, an index, or all that there is. */
type Step = { readonly key: string } | { readonly index: number } | 'all';

/** A JSONPath query (RFC 9535) that was read. */
export interface Query {
  readonly text: string;
  readonly compiled: JSONPathQuery;
  /** Its parts, if it is a row of keys, indices and stars; null: it is more than that. */
  readonly steps: readonly Step[] | null;
  /** The same where it is nothing but keys: `$.app.id`. */
  readonly names: readonly string[] | null;
}

export type QueryReading =
  | { readonly ok: true; readonly query: Query }
  | { readonly ok: false; readonly message: string };

/** A query that finds more is refused: it is about something else. */
export const MOST_FOUND = 100_000;

/** O(length). */
export function readQuery(text: string): QueryReading {
  // Their patterns are matched by engines that may take for ever.
  if (/\b(?:match|search)\s*\(/.test(text))
    return { ok: false, message: `"${text}" uses match or search, which are not taken here.` };
  // Each such step may look at all that the one before it found.
  if (text.split('..').length > 2)
    return { ok: false, message: `"${text}" goes to any depth (..) more than once.` };
  try {
    const compiled = compile(text);
    const steps = stepsOf(text);
    const names = steps?.flatMap((step) =>
      typeof step === 'object' && 'key' in step ? [step.key] : [],
    );
    const areNames = names !== undefined && names.length === steps!.length;
    return { ok: true, query: { text, compiled, steps, names: areNames ? names : null } };
  } catch (error) {
    const said = (error as Error).message.replace(/ \('.*$/s, '');
    return { ok: false, message: `"${text}" is no JSONPath query: ${said}.` };
  }
}

const STEP =
  /\.([\p{L}_][\p{L}\p{Nd}_]*)|\[(?:'([^'\\]*)'|"([^"\\]*)")\]|\[(0|[1-9]\d*)\]|\[\*\]|\.\*/uy;

function stepsOf(text: string): readonly Step[] | null {
  if (!text.startsWith('$')) return null;
  const steps: Step[] = [];
  let at = 1;
  while (at < text.length) {
    STEP.lastIndex = at;
    const match = STEP.exec(text);
    if (match === null) return null;
    const key = match[1] ?? match[2] ?? match[3];
    const index = match[4];
    steps.push(
      key !== undefined ? { key } : index === undefined ? 'all' : { index: Number(index) },
    );
    at = STEP.lastIndex;
  }
  return steps;
}

/** Paths of what a query finds below a node, in the order of the document; null: more than are taken. */
export function found(query: Query, node: SourceNode): readonly SourcePath[] | null {
  // Most queries need no copy of the tree.
  if (query.steps !== null) return foundBySteps(query.steps, node);
  const paths: SourcePath[] = [];
  for (const { location } of query.compiled.lazyQuery(plainOf(node) as never)) {
    if (paths.length >= MOST_FOUND) return null;
    paths.push(location);
  }
  return paths;
}

function foundBySteps(steps: readonly Step[], root: SourceNode): readonly SourcePath[] | null {
  let now: readonly (readonly [path: SourcePath, node: SourceNode])[] = [[[], root]];
  for (const step of steps) {
    now = now.flatMap(([path, node]) =>
      keysFor(step, node).flatMap((key) => {
        const next = sourceAt(node, [key]);
        return next === null ? [] : [[[...path, key], next] as const];
      }),
    );
    if (now.length > MOST_FOUND) return null;
  }
  return now.map(([path]) => path);
}

function keysFor(step: Step, node: SourceNode): readonly (string | number)[] {
  if (step !== 'all') {
    if ('index' in step) return node.kind === 'list' ? [step.index] : [];
    return node.kind === 'table' ? [step.key] : [];
  }
  if (node.kind === 'table') return [...node.entries.keys()];
  return node.kind === 'list' ? [...node.items.keys()] : [];
}
