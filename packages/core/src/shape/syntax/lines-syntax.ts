import { RE2JS } from 're2js';
import type { Span } from '../../text/index.js';
import { beyondSize } from './limits.js';
import type { SourceEntry, SourceNode, SourceParse } from './source-tree.js';
import type { Syntax } from './syntax.js';

const GROUPS = ['package', 'range', 'kind'] as const;

/** A pattern of a regular language, which is matched in linear time, or why a text is none. */
export type LinePattern =
  | { readonly ok: true; readonly pattern: RE2JS }
  | { readonly ok: false; readonly message: string };

/** Compiles a pattern with the groups `package` and `range`, and perhaps `kind`. */
export function linePattern(text: string): LinePattern {
  try {
    const pattern = RE2JS.compile(text, RE2JS.MULTILINE);
    const groups = pattern.namedGroups() as unknown as Record<string, number>;
    const missing = ['package', 'range'].filter((name) => groups[name] === undefined);
    if (missing.length > 0)
      return {
        ok: false,
        message: `The pattern has no group named ${missing.join(' or ')}: write (?P<package>…) and (?P<range>…).`,
      };
    return { ok: true, pattern };
  } catch (error) {
    return { ok: false, message: `The pattern cannot be read: ${(error as Error).message}.` };
  }
}

/** Files without a grammar: every match of a pattern is an item of a list, with its groups as entries. */
export function linesSyntax(pattern: RE2JS): Syntax {
  return {
    parse: (text) => parse(pattern, text),
    // A group ends where its pattern says; what is put there is read again.
    respell: (_, __, text) => (/[\n\r]/.test(text) ? null : text),
    entry: null,
    separator: '',
    comment: null,
    bullet: '',
  };
}

function parse(pattern: RE2JS, text: string): SourceParse {
  const beyond = beyondSize(text);
  if (beyond !== null) return { ok: false, ...beyond };
  const matcher = pattern.matcher(text);
  const names = Object.keys(pattern.namedGroups());
  const groups = GROUPS.filter((name) => names.includes(name));
  const items: SourceNode[] = [];
  while (matcher.find()) {
    const entries = new Map<string, SourceEntry>();
    for (const key of groups) {
      const [start, end] = [matcher.start(key), matcher.end(key)];
      if (start < 0) continue;
      const span: Span = [start, end];
      const said = text.slice(start, end);
      const value = { kind: 'scalar', span, value: said, text: said, obstacle: null } as const;
      entries.set(key, { key, keySpan: span, span, value });
    }
    const span = withoutLineEnds(text, [matcher.start(), matcher.end()]);
    if (span[0] < span[1]) items.push({ kind: 'table', span, entries, obstacle: null });
  }
  return { ok: true, root: { kind: 'list', span: [0, text.length], items, obstacle: null } };
}

/** A match without the ends of lines that it begins and ends with. */
function withoutLineEnds(text: string, [start, end]: Span): Span {
  let [from, to] = [start, end];
  while (from < to && /[\r\n]/.test(text[from]!)) from += 1;
  while (to > from && /[\r\n]/.test(text[to - 1]!)) to -= 1;
  return [from, to];
}
