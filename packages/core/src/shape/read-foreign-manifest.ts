import { firstProblems, type ManifestProblem, type RequirementKind } from '../manifest/index.js';
import { composed, isNameInAnyForm, lineStarts, positionAt, type Span } from '../text/index.js';
import { parseVersion } from '../version/index.js';
import { found, MOST_FOUND, type Query } from './query.js';
import type { ManifestShape, RequirementShape } from './shape.js';
import { writtenOf } from './spelling.js';
import {
  sourceAt,
  type SourceEntry,
  type SourceNode,
  type SourcePath,
  type SourceScalar,
} from './syntax/index.js';

/** A requirement in a foreign manifest. */
export interface ForeignRequirement {
  readonly kind: RequirementKind;
  readonly name: string;
  /** `shared`, `workspace` or a range. Null: something that this tool leaves alone. */
  readonly written: string | null;
  /** As it is written. */
  readonly text: string;
  readonly when: readonly string[];
  readonly span: Span;
  /** From 1. */
  readonly line: number;
  readonly place: RequirementPlace;
}

/** Where a requirement stands, for edits. */
export interface RequirementPlace {
  /** Index among the shape's requirements. */
  readonly block: number;
  /** The table that holds its entry, or the list that holds its item. */
  readonly container: SourcePath;
  /** Key in the table, or index in the list. */
  readonly step: string | number;
  /** The value that says its range; null: there is none. */
  readonly range: SourcePath | null;
  /** The values that, joined, are its name; none where the key is. */
  readonly names: readonly SourcePath[];
}

/** What a foreign manifest says. */
export interface ForeignManifest {
  /** Null: it does not say. */
  readonly name: { readonly text: string; readonly span: Span } | null;
  readonly version: string | null;
  readonly ships: 'app' | 'library';
  readonly requirements: readonly ForeignRequirement[];
}

export interface ForeignReading {
  /** Null: it cannot be read. */
  readonly manifest: ForeignManifest | null;
  readonly problems: readonly ManifestProblem[];
}

/** Reads a foreign manifest by its shape. Parts that cannot be read are reported, the rest stays. O(length + found). */
export function readForeignManifest(text: string, shape: ManifestShape): ForeignReading {
  const parsed = shape.syntax.parse(text);
  if (!parsed.ok) {
    const { message, span } = parsed;
    return { manifest: null, problems: [{ code: 'SYNTAX', message, span }] };
  }
  const reader = new ForeignReader(text, parsed.root, shape);
  return { manifest: reader.manifest(), problems: firstProblems(reader.problems) };
}

class ForeignReader {
  readonly problems: ManifestProblem[] = [];
  private readonly starts: readonly number[];

  constructor(
    text: string,
    private readonly root: SourceNode,
    private readonly shape: ManifestShape,
  ) {
    this.starts = lineStarts(text);
  }

  manifest(): ForeignManifest {
    const { shape } = this;
    const name = this.textAt(shape.name);
    const version = this.textAt(shape.version)?.text ?? null;
    const ships = shape.ships === null ? null : (this.textAt(shape.ships.at)?.text ?? null);
    const requirements = shape.requirements.flatMap((block, i) => this.block(block, i));
    const isLibrary = ships !== null && shape.ships!.library.includes(ships);
    return {
      name: name === null ? null : this.named(name),
      // Other ways of counting versions are no error of the manifest's.
      version: version !== null && parseVersion(version).ok ? version : null,
      ships: isLibrary ? 'library' : 'app',
      requirements: shape.mayRepeat === true ? requirements : this.withoutRepeats(requirements),
    };
  }

  private named({ text, span }: SourceScalar): ForeignManifest['name'] {
    const name = composed(text);
    if (isNameInAnyForm(name)) return { text: name, span };
    this.problems.push({ code: 'NAME_INVALID', what: 'project', found: text, span });
    return null;
  }

  private textAt(query: Query | null): SourceScalar | null {
    if (query === null) return null;
    const [path] = this.find(query, this.root);
    const node = path === undefined ? null : sourceAt(this.root, path);
    return node?.kind === 'scalar' && node.value !== null ? node : null;
  }

  private find(query: Query, node: SourceNode): readonly SourcePath[] {
    const paths = found(query, node);
    if (paths !== null) return paths;
    const message = `The query ${query.text} finds more than ${MOST_FOUND} values here.`;
    this.problems.push({ code: 'SYNTAX', message, span: node.span });
    return [];
  }

  private block(block: RequirementShape, index: number): readonly ForeignRequirement[] {
    return this.find(block.at, this.root).flatMap((path) => {
      const node = sourceAt(this.root, path)!;
      if (block.package.length > 0) {
        return node.kind === 'list'
          ? node.items.flatMap((item, i) => this.item(block, index, [...path, i], item))
          : this.item(block, index, path, node);
      }
      return node.kind !== 'table'
        ? []
        : [...node.entries.values()].flatMap((entry) => this.entry(block, index, path, entry));
    });
  }

  /** An entry of a table: `scree-log: "^3.0.0"`. */
  private entry(
    block: RequirementShape,
    index: number,
    container: SourcePath,
    { key, keySpan, span, value }: SourceEntry,
  ): readonly ForeignRequirement[] {
    const at = [...container, key];
    const range = value.kind === 'scalar' ? at : this.first(block.range, value, at);
    return this.requirement(block, key, keySpan, span, at, value, {
      block: index,
      container,
      step: key,
      range,
      names: [],
    });
  }

  private item(
    block: RequirementShape,
    index: number,
    path: SourcePath,
    node: SourceNode,
  ): readonly ForeignRequirement[] {
    const names = block.package.map((query) => this.first(query, node, path));
    const parts = names.map((at) => (at === null ? null : this.scalarAt(at)));
    // Another thing than a requirement may stand in the same list.
    if (parts.some((part) => part === null)) return [];
    const name = parts.map((part) => part!.text).join(block.join);
    return this.requirement(block, name, parts[0]!.span, node.span, path, node, {
      block: index,
      container: path.slice(0, -1),
      step: path.at(-1) ?? 0,
      range: node.kind === 'scalar' ? path : this.first(block.range, node, path),
      names: names.map((at) => at!),
    });
  }

  private requirement(
    { kind, when }: RequirementShape,
    said: string,
    nameSpan: Span,
    span: Span,
    path: SourcePath,
    node: SourceNode,
    place: RequirementPlace,
  ): readonly ForeignRequirement[] {
    const name = composed(said);
    if (!isNameInAnyForm(name)) {
      this.problems.push({ code: 'NAME_INVALID', what: 'package', found: said, span: nameSpan });
      return [];
    }
    const value = place.range === null ? null : this.scalarAt(place.range);
    const text = value?.text ?? '';
    const { spelling } = this.shape;
    return [
      {
        kind,
        name,
        written: value === null ? null : writtenOf(spelling, name, text),
        text,
        when: when === null ? [] : this.texts(when, node, path),
        span,
        line: positionAt(this.starts, span[0]).line,
        place,
      },
    ];
  }

  private first(query: Query | null, node: SourceNode, at: SourcePath): SourcePath | null {
    if (query === null) return null;
    for (const path of this.find(query, node)) {
      const whole = [...at, ...path];
      if (this.scalarAt(whole) !== null) return whole;
    }
    return null;
  }

  private scalarAt(path: SourcePath): SourceScalar | null {
    const node = sourceAt(this.root, path);
    return node?.kind === 'scalar' && node.value !== null ? node : null;
  }

  private texts(query: Query, node: SourceNode, at: SourcePath): readonly string[] {
    return this.find(query, node).flatMap((path) => {
      const one = sourceAt(this.root, [...at, ...path])!;
      const scalars = one.kind === 'list' ? one.items : [one];
      return scalars.flatMap((part) => (part.kind === 'scalar' ? [part.text] : []));
    });
  }

  /** A package may be a peer and something else besides; any other two kinds contradict each other. */
  private withoutRepeats(
    requirements: readonly ForeignRequirement[],
  ): readonly ForeignRequirement[] {
    const kinds = new Map<string, RequirementKind>();
    return requirements.filter(({ name, kind, span }) => {
      const key = `${kind === 'peer' ? 'peer ' : ''}${name}`;
      const first = kinds.get(key);
      if (first === undefined) {
        kinds.set(key, kind);
        return true;
      }
      this.problems.push({ code: 'REQUIRED_TWICE', name, kinds: [first, kind], span });
      return false;
    });
  }
}
