import fc from 'fast-check';

/*
 * Manifests in any spelling that TOML 1.0 allows. A table is told as data and written in one of the ways to write it:
 * under a header, between braces, or by dotted keys; with any quotes, comments, indentation and line ends.
 */

export type Plain = string | readonly string[] | PlainTable | readonly PlainTable[] | Raw;
export interface PlainTable {
  readonly [key: string]: Plain;
}

/** A value that is written as it is, as a number or a date. */
export class Raw {
  constructor(readonly text: string) {}
}

/** A row of choices, taken one after another; the same choices write the same text. */
export class Choices {
  private at = 0;

  constructor(private readonly numbers: readonly number[]) {}

  below(count: number): number {
    this.at += 1;
    const number = this.numbers[this.at % this.numbers.length]!;
    // The place counts too, so that short rows do not repeat themselves.
    return (number + this.at * 7) % count;
  }

  one<T>(...options: readonly T[]): T {
    return options[this.below(options.length)]!;
  }
}

export const anyChoices = fc
  .array(fc.nat(997), { minLength: 40, maxLength: 40 })
  .map((numbers) => numbers);

/** The text of a manifest that says this. */
export function spelt(table: PlainTable, numbers: readonly number[]): string {
  return new Writer(new Choices(numbers)).manifest(table);
}

class Writer {
  private readonly newline: string;
  private remarks = 0;

  constructor(private readonly pick: Choices) {
    this.newline = pick.one('\n', '\n', '\r\n');
  }

  manifest(root: PlainTable): string {
    const lines: string[] = [];
    const blocks: (() => void)[] = [];
    this.pairs(root, [], [], lines, blocks, true);
    // Headers in any order.
    for (const write of this.pick.below(2) === 0 ? blocks : blocks.reverse()) write();
    const end = this.pick.below(4) === 0 ? '' : this.newline;
    return lines.join(this.newline) + end;
  }

  /**
   * Writes the pairs of a table, each after the keys that stand before it in its lines.
   * @param path of the table, for headers
   */
  private pairs(
    table: PlainTable,
    path: readonly string[],
    before: readonly string[],
    lines: string[],
    blocks: (() => void)[],
    mayHaveHeaders: boolean,
  ): void {
    const entries = Object.entries(table);
    if (this.pick.below(3) === 0) entries.reverse();
    for (const [key, value] of entries) {
      if (isTable(value))
        this.table(value, [...path, key], [...before, key], lines, blocks, mayHaveHeaders);
      else if (isTables(value) && mayHaveHeaders && this.pick.below(3) > 0) {
        const items = value;
        blocks.push(() => {
          for (const item of items) {
            this.head(`[[${this.keys([...path, key])}]]`, lines);
            for (const [name, one] of Object.entries(item))
              this.pair([name], this.inline(one, false), lines);
          }
        });
      } else this.pair([...before, key], this.inline(value, true), lines);
    }
  }

  private table(
    table: PlainTable,
    path: readonly string[],
    before: readonly string[],
    lines: string[],
    blocks: (() => void)[],
    mayHaveHeaders: boolean,
  ): void {
    const isEmpty = Object.keys(table).length === 0;
    const ways = [
      ...(mayHaveHeaders ? ['header', 'header', 'header'] : []),
      'braces',
      ...(isEmpty ? [] : ['dotted']),
    ];
    switch (this.pick.one(...ways)) {
      case 'header':
        blocks.push(() => {
          const inner: (() => void)[] = [];
          this.head(`[${this.keys(path)}]`, lines);
          this.pairs(table, path, [], lines, inner, true);
          for (const write of inner) write();
        });
        break;
      case 'braces':
        this.pair(before, this.inline(table, false), lines);
        break;
      default:
        this.pairs(table, path, before, lines, [], false);
    }
  }

  private head(header: string, lines: string[]): void {
    if (this.pick.below(3) > 0) lines.push('');
    this.remark(lines, '');
    lines.push(`${header}${this.trailing()}`);
  }

  private pair(keys: readonly string[], value: string, lines: string[]): void {
    const indent = this.pick.one('', '', '  ', '\t');
    if (this.pick.below(6) === 0) lines.push('');
    this.remark(lines, indent);
    const equals = this.pick.one(' = ', ' = ', '=', '  =\t');
    lines.push(...`${indent}${this.keys(keys)}${equals}${value}${this.trailing()}`.split('\n'));
  }

  private remark(lines: string[], indent: string): void {
    if (this.pick.below(4) > 0) return;
    this.remarks += 1;
    lines.push(`${indent}# above ${this.remarks}`);
  }

  private trailing(): string {
    if (this.pick.below(4) > 0) return this.pick.one('', '', '  ');
    this.remarks += 1;
    return `${this.pick.one(' ', '', '\t')}# beside ${this.remarks}`;
  }

  private keys(path: readonly string[]): string {
    return path
      .map((key) =>
        /^[A-Za-z0-9_-]+$/.test(key)
          ? this.pick.one(key, key, key, `"${key}"`, `'${key}'`)
          : this.pick.one(`"${key}"`, `'${key}'`),
      )
      .join(this.pick.one('.', '.', ' . '));
  }

  /** @param mayBreak whether a list may go over several lines */
  private inline(value: Plain, mayBreak: boolean): string {
    if (value instanceof Raw) return value.text;
    if (typeof value === 'string') return this.string(value, mayBreak);
    if (isTable(value)) {
      const flat: string[] = [];
      this.flat(value, [], flat);
      return flat.length === 0
        ? this.pick.one('{}', '{ }')
        : `{ ${flat.join(this.pick.one(', ', ' , '))} }`;
    }
    return this.list(
      value.map((one) => this.inline(one as Plain, false)),
      mayBreak,
    );
  }

  private flat(table: PlainTable, before: readonly string[], into: string[]): void {
    for (const [key, value] of Object.entries(table)) {
      const keys = [...before, key];
      if (isTable(value) && Object.keys(value).length > 0 && this.pick.below(2) === 0)
        this.flat(value, keys, into);
      else into.push(`${this.keys(keys)} = ${this.inline(value, false)}`);
    }
  }

  private string(text: string, mayBreak: boolean): string {
    const ways = [`"${text}"`, `"${text}"`, `'${text}'`, `"""${text}"""`, `'''${text}'''`];
    if (mayBreak) ways.push(`"""\n${text}"""`, `'''\n${text}'''`, `"""\\\n   ${text}"""`);
    if (/^[a-z]/.test(text)) ways.push(`"\\u00${text.charCodeAt(0).toString(16)}${text.slice(1)}"`);
    return this.pick.one(...ways);
  }

  private list(items: readonly string[], mayBreak: boolean): string {
    if (items.length === 0) return this.pick.one('[]', '[ ]');
    if (!mayBreak || this.pick.below(2) === 0) {
      const end = this.pick.one('', '', ',', ', ');
      const pad = this.pick.one('', ' ');
      return `[${pad}${items.join(this.pick.one(', ', ','))}${end}${pad}]`;
    }
    const indent = this.pick.one('  ', '\t', '');
    const isCommaLast = this.pick.below(2) === 0;
    const lines = items.map((item, i) => {
      const comma = i < items.length - 1 || isCommaLast ? ',' : '';
      return `${indent}${item}${comma}${this.trailing()}`;
    });
    const isClosedBehind = this.pick.below(3) === 0 && !lines.at(-1)!.includes('#');
    this.remark(lines, indent);
    const isCommentLast = lines.at(-1)!.includes('#');
    return `[${this.trailing()}\n${lines.join('\n')}${isClosedBehind && !isCommentLast ? ' ]' : '\n]'}`;
  }
}

function isTable(value: Plain): value is PlainTable {
  return typeof value === 'object' && !Array.isArray(value) && !(value instanceof Raw);
}

function isTables(value: Plain): value is readonly PlainTable[] {
  return Array.isArray(value) && value.length > 0 && typeof value[0] === 'object';
}
