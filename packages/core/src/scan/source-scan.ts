/** How a source file refers to something outside of it. */
export const REFERENCE_FORMS = [
  'import',
  'export',
  'import()',
  'require',
  'resolve',
  'import type',
  'augmentation',
  'comment',
  'pattern',
] as const;
export type ReferenceForm = (typeof REFERENCE_FORMS)[number];

/** One place in a source file that refers to a package. */
export interface SourceReference {
  readonly package: string;
  /** As it is written: the package, perhaps with a path in it. */
  readonly specifier: string;
  readonly form: ReferenceForm;
  /** Counted from 1. */
  readonly line: number;
  readonly column: number;
  /** Only types are taken from it, nothing that runs. */
  readonly isTypeOnly: boolean;
  /** False: read from a comment, by a pattern, or through a name that may mean something else. */
  readonly isSure: boolean;
}

/** What a scan came upon and could not read. */
export interface UnseenReference {
  readonly line: number;
  /** `computed`: a name that is put together when it runs; `syntax`: a part that is no TypeScript or JavaScript. */
  readonly what: 'computed' | 'syntax';
  /** The text in question, cut to one line. */
  readonly text: string;
}

/** What one source file refers to. Plain data: it is kept as JSON, by the file's content. */
export interface SourceScan {
  readonly references: readonly SourceReference[];
  readonly unseen: readonly UnseenReference[];
}

export const NOTHING_SEEN: SourceScan = { references: [], unseen: [] };

/** Larger files were made by a machine. */
export const MOST_SOURCE_BYTES = 1 << 20;

/** What is said of a file that is not read because of its size. */
export const TOO_LARGE: SourceScan = {
  references: [],
  unseen: [{ line: 1, what: 'syntax', text: 'The file is larger than 1 MB and was not read' }],
};
