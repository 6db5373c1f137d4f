import { composed, isNameInAnyForm, nearestWord, type Span } from '../text/index.js';
import { parseRange, parseVersion, type Version, type VersionProblem } from '../version/index.js';
import type { ManifestProblem } from './manifest-problem.js';
import type { TomlEntry, TomlNode, TomlScalar, TomlTable } from './toml-document.js';

const FOUND: Readonly<Record<TomlNode['kind'], string>> = {
  table: 'a table',
  array: 'an array',
  string: 'a string',
  integer: 'a number',
  float: 'a number',
  boolean: 'true or false',
  date: 'a date',
};

/** Reads the known keys of one table and collects what is wrong with it. */
export class TableReader {
  constructor(
    readonly table: TomlTable,
    readonly problems: ManifestProblem[],
    private readonly missingAt: Span = table.span,
  ) {}

  /** Reports every key that is none of these. */
  allow(known: readonly string[]): void {
    for (const { key, keySpan } of this.table.entries.values()) {
      if (!known.includes(key)) {
        this.problems.push({
          code: 'UNKNOWN_KEY',
          key,
          meant: nearestWord(key, known),
          known,
          span: keySpan,
        });
      }
    }
  }

  /** The entry of this kind, or null when it is absent; a value of another kind is reported. */
  private entry(key: string, kind: TomlNode['kind'], expected: string): TomlEntry | null {
    const entry = this.table.entries.get(key);
    if (entry === undefined) return null;
    if (entry.value.kind === kind) return entry;
    this.wrongType(key, expected, entry.value);
    return null;
  }

  wrongType(key: string, expected: string, value: TomlNode): void {
    this.problems.push({
      code: 'WRONG_TYPE',
      key,
      expected,
      found: FOUND[value.kind],
      span: value.span,
    });
  }

  missing(key: string, example: string): void {
    this.problems.push({ code: 'KEY_MISSING', key, example, span: this.missingAt });
  }

  string(key: string): TomlScalar | null {
    return (this.entry(key, 'string', 'a string')?.value as TomlScalar | undefined) ?? null;
  }

  requiredString(key: string, example: string): TomlScalar | null {
    if (!this.table.entries.has(key)) this.missing(key, example);
    return this.string(key);
  }

  choice<T extends string>(key: string, allowed: readonly T[], otherwise: T): T {
    const node = this.string(key);
    if (node === null) return otherwise;
    const found = node.value as string;
    const chosen = allowed.find((value) => value === found);
    if (chosen === undefined)
      this.problems.push({ code: 'VALUE_UNKNOWN', key, found, allowed, span: node.span });
    return chosen ?? otherwise;
  }

  wholeNumber(key: string, otherwise: number): number {
    const node = this.entry(key, 'integer', 'a whole number')?.value as TomlScalar | undefined;
    if (node === undefined) return otherwise;
    const found = Number(node.value);
    if (found >= 0) return found;
    this.problems.push({ code: 'NUMBER_OUT_OF_BOUNDS', key, found, span: node.span });
    return otherwise;
  }

  /** The strings of an array, with their places. */
  strings(key: string): readonly { readonly text: string; readonly span: Span }[] {
    const array = this.entry(key, 'array', 'an array of strings')?.value;
    if (array?.kind !== 'array') return [];
    return array.items.flatMap((item) => {
      if (item.kind === 'string') return [{ text: item.value as string, span: item.span }];
      this.wrongType(key, 'an array of strings', item);
      return [];
    });
  }

  tableAt(key: string): TableReader | null {
    const value = this.entry(key, 'table', 'a table')?.value;
    return value?.kind === 'table' ? new TableReader(value, this.problems) : null;
  }

  /** The tables of an array of tables. */
  tablesAt(key: string): readonly TableReader[] {
    const array = this.entry(key, 'array', 'an array of tables')?.value;
    if (array?.kind !== 'array') return [];
    return array.items.flatMap((item) => {
      if (item.kind === 'table') return [new TableReader(item, this.problems)];
      this.wrongType(key, 'an array of tables', item);
      return [];
    });
  }

  /** Checks the one format number known so far. */
  format(): void {
    if (!this.table.entries.has('format')) return this.missing('format', '`format = 1`');
    const node = this.entry('format', 'integer', 'a whole number')?.value as TomlScalar | undefined;
    if (node !== undefined && Number(node.value) !== 1) {
      this.problems.push({ code: 'FORMAT_UNKNOWN', found: String(node.value), span: node.span });
    }
  }

  /** @returns the name as it is compared */
  name(what: string, text: string, span: Span): string | null {
    const name = composed(text);
    if (isNameInAnyForm(name)) return name;
    this.problems.push({ code: 'NAME_INVALID', what, found: text, span });
    return null;
  }

  /**
   * Is a text a range over versions of some scheme? Which one, and which prereleases it admits, is known where the
   * registries and the policy are.
   */
  range(key: string, node: TomlScalar): boolean {
    const text = node.value as string;
    const parsed = parseRange(text, 'always');
    if (parsed.ok || parseRange(text, 'dotted always').ok) return true;
    this.problems.push({
      code: 'RANGE_INVALID',
      key,
      cause: parsed.problem,
      span: within(node, parsed.problem),
    });
    return false;
  }

  /** @param isDotted whether a version of either scheme will do; else it is one of SemVer */
  version(key: string, node: TomlScalar, isDotted = false): Version | null {
    const text = node.value as string;
    const parsed = parseVersion(text);
    if (parsed.ok) return parsed.value;
    const dotted = isDotted ? parseVersion(text, 'dotted') : parsed;
    if (dotted.ok) return dotted.value;
    this.problems.push({
      code: 'VERSION_INVALID',
      key,
      cause: parsed.problem,
      span: within(node, parsed.problem),
    });
    return null;
  }
}

/** Where a problem inside a string's content stands in the file; the whole string if it holds escapes. */
function within(node: TomlScalar, { span }: VersionProblem): Span {
  const [start, end] = node.span;
  const isPlain = end - start - 2 === (node.value as string).length;
  return isPlain ? [start + 1 + span[0], start + 1 + span[1]] : node.span;
}
