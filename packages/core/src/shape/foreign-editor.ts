import {
  newlineOf,
  planAddTomlEntry,
  planRemoveTomlEntry,
  type RequirementKind,
} from '../manifest/index.js';
import { applyEdits, type Span, type TextEdit } from '../text/index.js';
import { planInsert, planRemove, type Row } from './edit-source.js';
import { found } from './query.js';
import type { ForeignManifest, ForeignRequirement } from './read-foreign-manifest.js';
import type { ManifestShape, RequirementShape } from './shape.js';
import { spelt } from './spelling.js';
import {
  obstacleOn,
  sourceAt,
  TOML_SYNTAX,
  type SourceNode,
  type SourcePath,
  type SourceScalar,
} from './syntax/index.js';

/** What a requirement is to say once an edit is made: in our words, or as it is written. Null: it is gone. */
export type Wanted = readonly [
  kind: RequirementKind,
  name: string,
  says: { readonly means: string } | { readonly text: string } | null,
];

interface Plan {
  readonly edits: readonly TextEdit[];
  readonly wanted: Wanted;
}

export type Planned = Plan | { readonly message: string };

/** Plans edits of one foreign manifest, each of the text as it was read. */
export class ForeignEditor {
  constructor(
    private readonly text: string,
    private readonly root: SourceNode,
    private readonly shape: ManifestShape,
    private readonly manifest: ForeignManifest,
  ) {}

  set(kind: RequirementKind, name: string, written: string, literal: string | null): Planned {
    const said = this.said(name, written, literal);
    return 'message' in said ? said : this.put(kind, name, said.text, { means: said.means });
  }

  setText(kind: RequirementKind, name: string, raw: string): Planned {
    const says = { text: raw };
    return this.there(kind, name) === undefined
      ? this.addText(kind, name, raw, says)
      : this.put(kind, name, raw, says);
  }

  private put(kind: RequirementKind, name: string, said: string, says: Wanted[2]): Planned {
    const there = this.there(kind, name);
    if (there === undefined) return { message: `The file does not require ${name}.` };
    const { range } = there.place;
    if (range === null)
      return { message: `The file writes no range for ${name}, so there is nothing to change.` };
    const obstacle = obstacleOn(this.root, range);
    if (obstacle !== null) return this.inTheWay(name, obstacle);
    const scalar = sourceAt(this.root, range) as SourceScalar;
    const source = this.shape.syntax.respell(this.text, scalar, said);
    if (source === null) return { message: `The file has no way to write "${said}" there.` };
    return { edits: [replace(scalar.span, source)], wanted: [kind, name, says] };
  }

  remove(kind: RequirementKind, name: string): Planned {
    const there = this.there(kind, name);
    if (there === undefined) return { message: `The file does not require ${name}.` };
    const { container, step } = there.place;
    const obstacle = obstacleOn(this.root, [...container, step]);
    if (obstacle !== null) return this.inTheWay(name, obstacle);
    const wanted: Wanted = [kind, name, null];
    const path = tomlPath(container);
    if (this.shape.syntax === TOML_SYNTAX && typeof step === 'string' && path !== null) {
      const edits = planRemoveTomlEntry(this.text, [...path, step]);
      if (edits !== null) return { edits, wanted };
    }
    const row = this.row(container);
    const index = this.indexIn(container, step);
    if (row === null || index < 0) return { message: `${name} cannot be taken out in place.` };
    const colon = row.parts.length === 1 ? this.colonBefore(row, container) : null;
    if (colon !== null) {
      // Nothing but the key would be left, which says no table or list any more.
      const empty = typeof step === 'number' ? ' []' : ' {}';
      const edits = [{ offset: colon, length: 0, text: empty }, ...planRemove(row, index)];
      return { edits, wanted };
    }
    return { edits: planRemove(row, index), wanted };
  }

  add(kind: RequirementKind, name: string, written: string, literal: string | null): Planned {
    if (this.there(kind, name) !== undefined)
      return { message: `The file requires ${name} already.` };
    const said = this.said(name, written, literal);
    if ('message' in said) return said;
    return this.addText(kind, name, said.text, { means: said.means });
  }

  private addText(kind: RequirementKind, name: string, said: string, says: Wanted[2]): Planned {
    const blocks = this.shape.requirements.flatMap((block, i) =>
      block.kind === kind ? [[block, i] as const] : [],
    );
    if (blocks.length === 0)
      return { message: `The shape of this file says nowhere where ${kind} requirements stand.` };
    const wanted: Wanted = [kind, name, says];
    const refusals: string[] = [];
    for (const [block, index] of blocks) {
      const planned =
        block.package.length > 0
          ? this.addItem(block, index, name, said)
          : this.addEntry(block, index, name, said);
      if (!('message' in planned)) return { edits: planned.edits, wanted };
      refusals.push(planned.message);
    }
    return { message: refusals[0]! };
  }

  private there(kind: RequirementKind, name: string): ForeignRequirement | undefined {
    return this.manifest.requirements.find((one) => one.kind === kind && one.name === name);
  }

  private inTheWay(name: string, obstacle: string): { readonly message: string } {
    return { message: `${name} cannot be changed in place: ${obstacle}. Change it by hand.` };
  }

  /** The text that says it, and what will be read back. */
  private said(
    name: string,
    written: string,
    literal: string | null,
  ): { readonly text: string; readonly means: string } | { readonly message: string } {
    const { spelling } = this.shape;
    const isLiteral = written === 'shared' && spelling.shared === null;
    const asked = isLiteral ? literal : written;
    if (asked === null)
      return { message: `Nothing is agreed on for ${name}, so the file cannot take it.` };
    const text = spelt(spelling, name, asked);
    const means = asked === 'workspace' && spelling.workspace === null ? '*' : asked;
    return text === null
      ? { message: `The file's way of writing ranges has no text for ${asked}.` }
      : { text, means };
  }

  /** Adds `name: range` to the table of a block. */
  private addEntry(
    block: RequirementShape,
    index: number,
    name: string,
    range: string,
  ): { readonly edits: readonly TextEdit[] } | { readonly message: string } {
    const { syntax } = this.shape;
    const [container] = found(block.at, this.root) ?? [];
    if (syntax.entry === null)
      return { message: 'In this syntax an entry can be added to lists alone.' };
    const others = this.manifest.requirements.filter(({ place }) => place.block === index);
    const [value, isQuoted] = this.valueLike(block, others, range);
    if (value === null)
      return {
        message: `The values beside it are tables, and it is not known what one has to hold.`,
      };
    if (syntax === TOML_SYNTAX) {
      const path = container === undefined ? block.at.names : tomlPath(container);
      if (path === null)
        return { message: `The place for ${name} cannot be told from ${block.at.text}.` };
      const source = isQuoted ? JSON.stringify(value) : value;
      return { edits: planAddTomlEntry(this.text, path, name, source) ?? [] };
    }
    if (container === undefined) return this.addTable(block, name, value, isQuoted);
    const obstacle = obstacleOn(this.root, container);
    if (obstacle !== null) return this.inTheWay(name, obstacle);
    const row = this.row(container)!;
    const source = syntax.entry(name, value, isQuoted);
    const node = sourceAt(this.root, container);
    const keys = node?.kind === 'table' ? [...node.entries.keys()] : [];
    const edits = planInsert(row, placeFor(keys, name), source, false);
    return edits === null
      ? { message: `There is no place for ${name} in ${block.at.text}.` }
      : { edits };
  }

  /** The form of a new value, after those beside it: a text, or a table with the range where theirs have it. */
  private valueLike(
    { range: query }: RequirementShape,
    others: readonly ForeignRequirement[],
    range: string,
  ): readonly [string | null, boolean] {
    const areTables =
      others.length > 0 &&
      others.every(({ place }) => place.range?.length !== place.container.length + 1);
    if (!areTables) return [range, true];
    const [name, ...deeper] = query?.names ?? [];
    const { entry } = this.shape.syntax;
    if (name === undefined || deeper.length > 0 || entry === null) return [null, false];
    return [`{ ${entry(name, range, true)} }`, false];
  }

  /** A block that is not there yet: its table is added to the one above it. */
  private addTable(
    block: RequirementShape,
    name: string,
    value: string,
    isQuoted: boolean,
  ): { readonly edits: readonly TextEdit[] } | { readonly message: string } {
    const path = block.at.names;
    const { syntax } = this.shape;
    const parentPath = path?.slice(0, -1) ?? [];
    const parent = path === null ? null : sourceAt(this.root, parentPath);
    const refusal = { message: `The file has no ${block.at.text}. Add it by hand, empty.` };
    if (
      path === null ||
      parent?.kind !== 'table' ||
      parent.obstacle !== null ||
      syntax.entry === null
    )
      return refusal;
    const row = this.row(parentPath)!;
    const last = row.parts.length - 1;
    const unit = indentUnit(this.text);
    const isBlock = syntax.separator === '' && !/[[{]/.test(this.text[parent.span[0]] ?? '');
    const at = row.parts[last]?.[0] ?? 0;
    const indent = ' '.repeat(at - (this.text.lastIndexOf('\n', at - 1) + 1));
    const newline = newlineOf(this.text);
    const inner = syntax.entry(name, value, isQuoted);
    const table = isBlock
      ? syntax.entry(path.at(-1)!, '', false).trimEnd() + `${newline}${indent}${unit}${inner}`
      : syntax.entry(path.at(-1)!, `{ ${inner} }`, false);
    const edits = planInsert(row, last, table, false);
    return edits === null ? refusal : { edits };
  }

  /** Adds an item to the list of a block, written as its neighbour is. */
  private addItem(
    block: RequirementShape,
    index: number,
    name: string,
    range: string,
  ): { readonly edits: readonly TextEdit[] } | { readonly message: string } {
    const others = this.manifest.requirements.filter(({ place }) => place.block === index);
    const parts = block.package.length === 1 ? [name] : name.split(block.join);
    if (parts.length !== block.package.length)
      return {
        message: `The name ${name} does not have the ${block.package.length} parts, joined by "${block.join}", that names have here.`,
      };
    const model = this.model(others);
    if (model === null)
      return {
        message: `There is no requirement of this kind yet whose form a new one could take. Add the first by hand.`,
      };
    const { place } = model;
    const source = this.cloned(model, parts, range);
    if ('message' in source) return source;
    const row = this.row(place.container);
    const here = others.filter(
      (one) => one.place.container.join('\n') === place.container.join('\n'),
    );
    const near = placeFor(
      here.map((one) => one.name),
      name,
    );
    const neighbour = near < 0 ? here[0]! : here[near]!;
    if (row === null) return { message: `There is no place for ${name}.` };
    const at = this.indexIn(place.container, neighbour.place.step);
    const edits = planInsert(row, near < 0 ? at - 1 : at, source.text, true);
    return edits === null ? { message: `There is no place for ${name}.` } : { edits };
  }

  /** The requirement whose item has the least in it beside name and range. */
  private model(others: readonly ForeignRequirement[]): ForeignRequirement | null {
    const usable = others.filter(
      ({ place, when }) =>
        // An entry for some targets alone would make the new one for those alone, too.
        when.length === 0 &&
        place.range !== null &&
        [place.range, ...place.names].every((path) => obstacleOn(this.root, path) === null),
    );
    const size = ({ span }: ForeignRequirement): number => span[1] - span[0];
    return [...usable].sort((a, b) => size(a) - size(b))[0] ?? null;
  }

  private cloned(
    { place, span }: ForeignRequirement,
    parts: readonly string[],
    range: string,
  ): { readonly text: string } | { readonly message: string } {
    const said = [
      ...place.names.map((path, i) => [path, parts[i]!] as const),
      [place.range!, range] as const,
    ];
    const edits: TextEdit[] = [];
    for (const [path, value] of said) {
      const scalar = sourceAt(this.root, path) as SourceScalar;
      const source = this.shape.syntax.respell(this.text, scalar, value);
      if (source === null) return { message: `The file has no way to write "${value}".` };
      edits.push(replace([scalar.span[0] - span[0], scalar.span[1] - span[0]], source));
    }
    return { text: applyEdits(this.text.slice(...span), edits) };
  }

  private row(container: SourcePath): Row | null {
    const node = sourceAt(this.root, container);
    if (node === null || node.kind === 'scalar') return null;
    const parts =
      node.kind === 'table'
        ? [...node.entries.values()].map(({ span }) => span)
        : node.items.map(({ span }) => span);
    return { text: this.text, syntax: this.shape.syntax, whole: node.span, parts };
  }

  private indexIn(container: SourcePath, step: string | number): number {
    if (typeof step === 'number') return step;
    const node = sourceAt(this.root, container);
    return node?.kind === 'table' ? [...node.entries.keys()].indexOf(step) : -1;
  }

  /** Where the value begins that is written as lines below its key, behind the colon; null: it is not so written. */
  private colonBefore({ text, whole, syntax }: Row, container: SourcePath): number | null {
    if (syntax.bullet === '' || /[[{]/.test(text[whole[0]] ?? '')) return null;
    const parent = sourceAt(this.root, container.slice(0, -1));
    const entry =
      parent?.kind === 'table' ? parent.entries.get(String(container.at(-1))) : undefined;
    return entry === undefined ? null : text.indexOf(':', entry.keySpan[1]) + 1;
  }
}

/** The index after which a name belongs; -1: before all others. In an order of their own: after the last. */
function placeFor(names: readonly string[], name: string): number {
  const isSorted = names.every((one, i) => i === 0 || names[i - 1]! < one);
  return isSorted ? names.findLastIndex((one) => one < name) : names.length - 1;
}

function tomlPath(path: SourcePath): readonly string[] | null {
  return path.every((step) => typeof step === 'string') ? (path as readonly string[]) : null;
}

/** The indentation of lines, taken from the first that has one. */
function indentUnit(text: string): string {
  return /^( +|\t)\S/m.exec(text)?.[1] ?? '  ';
}

function replace([start, end]: Span, text: string): TextEdit {
  return { offset: start, length: end - start, text };
}
