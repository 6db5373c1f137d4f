import { SaxesParser } from 'saxes';
import { composed, type Span } from '../../text/index.js';
import { beyondSize } from './limits.js';
import type {
  SourceEntry,
  SourceList,
  SourceNode,
  SourceParse,
  SourceScalar,
  SourceTable,
} from './source-tree.js';
import type { Syntax } from './syntax.js';

const DEEPEST = 100;

/**
 * XML 1.0. An element is a table of the names of its children to lists of them, `@name` its attributes, `#text` its
 * text without the blanks around it. The root is a table that has the one element.
 */
export const XML_SYNTAX: Syntax = {
  parse,
  respell: (source, { span }, text) => {
    const quote = source[span[0] - 1];
    const escaped = text.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
    if (quote === '"') return escaped.replaceAll('"', '&quot;');
    return quote === "'" ? escaped.replaceAll("'", '&apos;') : escaped.replaceAll('>', '&gt;');
  },
  entry: null,
  separator: '',
  comment: /^<!--/,
  bullet: '',
};

/** An element while its children are read. */
interface Open {
  readonly name: string;
  readonly start: number;
  /** Behind the `>` of its opening tag. */
  inside: number;
  readonly entries: Map<string, SourceEntry>;
  readonly lists: Map<string, { readonly items: SourceNode[]; span: [number, number] }>;
  text: string;
  /** Something other than text stands in it. */
  isMixed: boolean;
}

function parse(text: string): SourceParse {
  const beyond = beyondSize(text);
  if (beyond !== null) return { ok: false, ...beyond };
  const reader = new XmlReader(text);
  return reader.run();
}

class XmlReader {
  private readonly parser = new SaxesParser({ position: true });
  private readonly open: Open[] = [this.element('', 0)];
  private failure: { readonly message: string; readonly at: number } | null = null;

  constructor(private readonly text: string) {
    const { parser } = this;
    parser.on('error', ({ message }) => {
      const said = message.replace(/^(?:[^:]*:)?\d+:\d+: /, '').replace(/\.$/, '');
      this.fail(`This is not XML: ${said}`);
    });
    parser.on('opentagstart', ({ name }) => {
      const start = text.lastIndexOf(`<${name}`, parser.position);
      if (this.open.length > DEEPEST) this.fail(`Elements are nested more than ${DEEPEST} deep`);
      else this.open.push(this.element(name, start));
    });
    parser.on('attribute', ({ name, value }) => this.attribute(name, value));
    parser.on('opentag', () => {
      this.top.inside = parser.position;
    });
    parser.on('text', (found) => (this.top.text += found));
    parser.on('cdata', (found) => {
      this.top.text += found;
      this.top.isMixed = true;
    });
    parser.on('comment', () => (this.top.isMixed = true));
    parser.on('processinginstruction', () => (this.top.isMixed = true));
    parser.on('closetag', ({ isSelfClosing }) => this.close(isSelfClosing));
  }

  run(): SourceParse {
    this.parser.write(this.text).close();
    if (this.failure !== null) {
      const at = Math.max(0, Math.min(this.failure.at, this.text.length) - 1);
      return {
        ok: false,
        message: `${this.failure.message}.`,
        span: [at, Math.min(this.text.length, at + 1)],
      };
    }
    return { ok: true, root: this.table(this.open[0]!, this.text.length) };
  }

  private get top(): Open {
    return this.open.at(-1)!;
  }

  private fail(message: string): void {
    this.failure ??= { message, at: this.parser.position };
  }

  private element(name: string, start: number): Open {
    return {
      name,
      start,
      inside: start,
      entries: new Map(),
      lists: new Map(),
      text: '',
      isMixed: false,
    };
  }

  private attribute(name: string, value: string): void {
    const { text, parser } = this;
    const end = parser.position - 1;
    const quote = text[end]!;
    const start = text.lastIndexOf(quote, end - 1) + 1;
    const key = `@${name}`;
    const keyEnd = text.lastIndexOf('=', start);
    const keyStart = text.lastIndexOf(name, keyEnd);
    this.top.entries.set(key, {
      key,
      keySpan: [keyStart, keyStart + name.length],
      span: [keyStart, end + 1],
      value: scalar([start, end], value),
    });
  }

  private close(isSelfClosing: boolean): void {
    const { parser, text, open } = this;
    const element = open.pop()!;
    if (element === undefined || open.length === 0) return;
    const end = parser.position;
    const stop = isSelfClosing ? element.inside : text.lastIndexOf('</', end - 1);
    if (!isSelfClosing || element.text !== '') this.setText(element, stop);
    const node = this.table(element, end);
    const parent = this.top;
    parent.isMixed = true;
    const list = parent.lists.get(element.name);
    if (list === undefined)
      parent.lists.set(element.name, { items: [node], span: [element.start, end] });
    else {
      list.items.push(node);
      list.span[1] = end;
    }
  }

  private setText(element: Open, stop: number): void {
    const raw = this.text.slice(element.inside, stop);
    const start = element.inside + (raw.length - raw.trimStart().length);
    const span: Span = [start, Math.max(start, stop - (raw.length - raw.trimEnd().length))];
    const said = element.text.trim();
    if (element.isMixed && said === '') return;
    const value = element.isMixed
      ? { ...scalar(span, said), obstacle: 'other things stand in the text' }
      : scalar(span, said);
    element.entries.set('#text', { key: '#text', keySpan: span, span, value });
  }

  private table({ entries, lists, start }: Open, end: number): SourceTable {
    const all = new Map(entries);
    for (const [name, { items, span }] of lists) {
      const key = composed(name);
      const value: SourceList = { kind: 'list', span, items, obstacle: null };
      all.set(key, { key, keySpan: span, span, value });
    }
    return { kind: 'table', span: [start, end], entries: all, obstacle: null };
  }
}

/** A value behind entities is changed as a whole: those that a file may declare for itself are not read at all. */
function scalar(span: Span, value: string): SourceScalar {
  return { kind: 'scalar', span, value, text: value, obstacle: null };
}
