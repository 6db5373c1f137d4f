import type { SourceParse, SourceScalar } from './source-tree.js';

/** How one syntax is read, and how its texts are written. */
export interface Syntax {
  /** O(length). */
  readonly parse: (text: string) => SourceParse;
  /**
   * The source of a scalar that says another text, in the quotes that the old one had where that is possible.
   * @returns null where the syntax cannot say it there
   */
  readonly respell: (source: string, old: SourceScalar, text: string) => string | null;
  /** The source of an entry of a table. Null: this syntax has no tables with keys of any kind. */
  readonly entry: ((key: string, value: string, isQuoted: boolean) => string) | null;
  /** What stands between neighbours: a comma, or nothing. */
  readonly separator: ',' | '';
  /** How a comment begins, as far as lines above an entry and ends of lines are concerned. */
  readonly comment: RegExp | null;
  /** The text that an item of a list begins with, where each item has lines of its own. */
  readonly bullet: string;
}
