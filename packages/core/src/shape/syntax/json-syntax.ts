import { parseTree, printParseErrorCode, type Node, type ParseError } from 'jsonc-parser';
import { composed } from '../../text/index.js';
import { beyondDepth, beyondSize } from './limits.js';
import type { SourceEntry, SourceNode, SourceParse, SourceScalar } from './source-tree.js';
import type { Syntax } from './syntax.js';

/** JSON (RFC 8259), in which comments and commas behind the last value are allowed. */
export const JSON_SYNTAX: Syntax = {
  parse: parseJson,
  respell: (_, __, text) => JSON.stringify(text),
  entry: (key, value, isQuoted) =>
    `${JSON.stringify(key)}: ${isQuoted ? JSON.stringify(value) : value}`,
  separator: ',',
  comment: /^\/\/|^\/\*/,
  bullet: '',
};

function parseJson(text: string): SourceParse {
  const beyond = beyondSize(text) ?? beyondDepth(text);
  if (beyond !== null) return { ok: false, ...beyond };
  const errors: ParseError[] = [];
  const root = parseTree(text, errors, { allowTrailingComma: true });
  const [error] = errors;
  if (error !== undefined || root === undefined) {
    const at = Math.min(error?.offset ?? 0, text.length);
    const what = error === undefined ? 'it is empty' : words(printParseErrorCode(error.error));
    return {
      ok: false,
      message: `This is not JSON: ${what}.`,
      span: [at, Math.min(text.length, at + Math.max(1, error?.length ?? 1))],
    };
  }
  return { ok: true, root: nodeOf(text, root) };
}

/** `CommaExpected` as `comma expected`. */
function words(code: string): string {
  return code.replace(/(?<=[a-z])[A-Z]/g, (one) => ` ${one}`).toLowerCase();
}

function nodeOf(text: string, node: Node): SourceNode {
  const span = [node.offset, node.offset + node.length] as const;
  switch (node.type) {
    case 'object': {
      const entries = new Map<string, SourceEntry>();
      let obstacle: string | null = null;
      for (const pair of node.children ?? []) {
        const [key, value] = pair.children ?? [];
        if (key === undefined || value === undefined) continue;
        const name = composed(String(key.value));
        if (entries.has(name)) obstacle = `the key ${JSON.stringify(name)} is there twice`;
        entries.set(name, {
          key: name,
          keySpan: [key.offset, key.offset + key.length],
          span: [key.offset, value.offset + value.length],
          value: nodeOf(text, value),
        });
      }
      return { kind: 'table', span, entries, obstacle };
    }
    case 'array': {
      const items = (node.children ?? []).map((item) => nodeOf(text, item));
      return { kind: 'list', span, items, obstacle: null };
    }
    default: {
      const value = node.value as SourceScalar['value'];
      const said = typeof value === 'string' ? value : text.slice(...span);
      return { kind: 'scalar', span, value, text: said, obstacle: null };
    }
  }
}
