import {
  parseToml,
  planSetString,
  printKey,
  printString,
  type TomlNode,
} from '../../manifest/index.js';
import type { SourceEntry, SourceNode, SourceParse } from './source-tree.js';
import type { Syntax } from './syntax.js';

/** TOML 1.0. */
export const TOML_SYNTAX: Syntax = {
  parse: parse,
  respell: (source, { span }, text) => {
    const at = source.slice(...span);
    if (!/^["']/.test(at)) return printString(text);
    const { offset, length, text: put } = planSetString(at, [0, at.length], text);
    return at.slice(0, offset) + put + at.slice(offset + length);
  },
  entry: (key, value, isQuoted) => `${printKey(key)} = ${isQuoted ? printString(value) : value}`,
  separator: '',
  comment: /^#/,
  bullet: '',
};

function parse(text: string): SourceParse {
  const parsed = parseToml(text);
  return parsed.ok ? { ok: true, root: nodeOf(text, parsed.root) } : parsed;
}

function nodeOf(text: string, node: TomlNode): SourceNode {
  switch (node.kind) {
    case 'table':
      return {
        kind: 'table',
        span: node.span,
        obstacle: null,
        entries: new Map(
          [...node.entries].map(([key, entry]): [string, SourceEntry] => [
            key,
            { ...entry, value: nodeOf(text, entry.value) },
          ]),
        ),
      };
    case 'array':
      return {
        kind: 'list',
        span: node.span,
        items: node.items.map((item) => nodeOf(text, item)),
        obstacle: null,
      };
    default: {
      const said = node.kind === 'string' ? String(node.value) : text.slice(...node.span);
      const value = node.kind === 'date' ? String(node.value) : node.value;
      return { kind: 'scalar', span: node.span, value, text: said, obstacle: null };
    }
  }
}
