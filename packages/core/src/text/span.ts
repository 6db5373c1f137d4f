/** A stretch of text: offsets of its first UTF-16 unit and of the one after its last. */
export type Span = readonly [start: number, end: number];

/** Where a person finds a thing: a file and a place in it, lines and columns counted from 1. */
export interface Place {
  readonly file: string;
  readonly line: number;
  readonly column: number;
}
