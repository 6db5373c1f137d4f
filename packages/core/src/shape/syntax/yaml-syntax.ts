import {
  isAlias,
  isMap,
  isScalar,
  isSeq,
  parseDocument,
  type Document,
  type Node,
  type YAMLMap,
} from 'yaml';
import { composed, type Span } from '../../text/index.js';
import { beyondDepth, beyondSize } from './limits.js';
import type { SourceEntry, SourceNode, SourceParse, SourceScalar } from './source-tree.js';
import type { Syntax } from './syntax.js';

/** YAML 1.2, one document. */
export const YAML_SYNTAX: Syntax = {
  parse,
  respell: (source, { span }, text) => {
    const quote = source[span[0]];
    if (quote === '"') return JSON.stringify(text);
    if (quote === "'" && !/[\n\r]/.test(text)) return `'${text.replaceAll("'", "''")}'`;
    return isPlain(text) ? text : JSON.stringify(text);
  },
  entry: (key, value, isQuoted) => {
    const put = (text: string): string => (isPlain(text) ? text : JSON.stringify(text));
    return `${put(key)}: ${isQuoted ? put(value) : value}`;
  },
  separator: '',
  comment: /^#/,
  bullet: '- ',
};

/** A text that YAML reads as the same text without quotes, between brackets too. */
function isPlain(text: string): boolean {
  if (!/^[\p{L}\p{Nd}^~<=/(._+][\p{L}\p{M}\p{Nd} ^~<>=|*.+/()_-]*$/u.test(text)) return false;
  if (text.trim() !== text || /: |:$| #|^[|>]|--/.test(text)) return false;
  try {
    return parseDocument(text).toJS() === text;
  } catch {
    return false;
  }
}

function parse(text: string): SourceParse {
  const beyond = beyondSize(text) ?? beyondDepth(text);
  if (beyond !== null) return { ok: false, ...beyond };
  let document: Document.Parsed;
  try {
    document = parseDocument(text, { merge: false, prettyErrors: false, logLevel: 'error' });
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return { ok: false, message: 'The file is nested too deeply to be read.', span: [0, 1] };
  }
  const [error] = document.errors;
  if (error !== undefined) {
    const [start, end] = error.pos;
    const at = Math.min(start, text.length);
    return {
      ok: false,
      message: `This is not YAML 1.2: ${sentence(error.message)}.`,
      span: [at, Math.min(text.length, Math.max(end, at + 1))],
    };
  }
  const { contents } = document;
  if (contents === null || isEmpty(contents)) return { ok: true, root: emptyTable() };
  return { ok: true, root: new TreeBuilder(text, document).node(contents) };
}

function emptyTable(): SourceNode {
  return { kind: 'table', span: [0, 0], entries: new Map(), obstacle: null };
}

function isEmpty(node: Node): boolean {
  return isScalar(node) && node.value === null && node.range![0] === node.range![1];
}

function sentence(message: string): string {
  return message.charAt(0).toLowerCase() + message.slice(1).replace(/\.$/, '');
}

class TreeBuilder {
  constructor(
    private readonly text: string,
    private readonly document: Document.Parsed,
  ) {}

  node(node: Node): SourceNode {
    if (isAlias(node)) return this.alias(node);
    const span = spanOf(node);
    if (isMap(node)) return this.table(node, span);
    if (isSeq(node)) {
      const items = node.items.map((item) => this.node(item as Node));
      return { kind: 'list', span, items, obstacle: anchorOf(node) };
    }
    if (isScalar(node)) {
      const value = (node.value ?? null) as SourceScalar['value'];
      const said = typeof value === 'string' ? value : this.text.slice(...span);
      const isBlock = node.type === 'BLOCK_LITERAL' || node.type === 'BLOCK_FOLDED';
      const isSplit = !isBlock && /[\n\r]/.test(this.text.slice(...span));
      const obstacle = isBlock
        ? 'the value is a block of lines'
        : isSplit
          ? 'the value is written over several lines'
          : node.tag !== undefined
            ? `the value has the tag ${node.tag}`
            : anchorOf(node);
      return { kind: 'scalar', span, value, text: said, obstacle };
    }
    return {
      kind: 'scalar',
      span,
      value: null,
      text: '',
      obstacle: 'the value is of no known kind',
    };
  }

  /** An alias is read where it stands for one value; tables and lists behind aliases are not unfolded. */
  private alias(node: Node & { source: string }): SourceNode {
    const span = spanOf(node);
    const obstacle = `the value is an alias (*${node.source})`;
    const meant = (node as unknown as { resolve(of: Document): Node | undefined }).resolve(
      this.document,
    );
    if (meant === undefined || !isScalar(meant))
      return { kind: 'scalar', span, value: null, text: '', obstacle };
    const value = (meant.value ?? null) as SourceScalar['value'];
    const said = typeof value === 'string' ? value : this.text.slice(...spanOf(meant));
    return { kind: 'scalar', span, value, text: said, obstacle };
  }

  private table(node: YAMLMap, span: Span): SourceNode {
    const entries = new Map<string, SourceEntry>();
    let obstacle = anchorOf(node);
    for (const { key, value } of node.items) {
      const keyNode = key as Node;
      if (!isScalar(keyNode)) {
        obstacle = 'a key in it is no plain text';
        continue;
      }
      const keySpan = spanOf(keyNode);
      const name = composed(
        typeof keyNode.value === 'string' ? keyNode.value : this.text.slice(...keySpan),
      );
      if (name === '<<' && value !== null) obstacle = 'a merge key (<<) adds to it';
      const read =
        value === null
          ? ({
              kind: 'scalar',
              span: [keySpan[1], keySpan[1]],
              value: null,
              text: '',
              obstacle: 'there is no value',
            } as const)
          : this.node(value as Node);
      entries.set(name, { key: name, keySpan, span: [keySpan[0], read.span[1]], value: read });
    }
    return { kind: 'table', span: trimmed(this.text, span), entries, obstacle };
  }
}

function spanOf(node: Node): Span {
  const [start, end] = node.range!;
  return [start, end];
}

/** Block collections reach to the next line; their own text ends before. */
function trimmed(text: string, [start, end]: Span): Span {
  let last = end;
  while (last > start && /\s/.test(text[last - 1]!)) last -= 1;
  return [start, last];
}

function anchorOf(node: { readonly anchor?: string | undefined }): string | null {
  return node.anchor === undefined
    ? null
    : `other places refer to it by an anchor (&${node.anchor})`;
}
