import type { Edit } from '../api/client';

export interface Option {
  readonly value: string;
  readonly text: string;
}

/** What a text has to be; checked while it is typed, by the same rules as the server's. */
export type Check = 'package' | 'version' | 'range' | 'requirement-range' | 'schedule' | 'days';

/** One thing that a form asks for. Several values are for `projects` and `packages` alone. */
export type FormField = {
  readonly name: string;
  readonly label: string;
  readonly hint?: string;
  readonly initial?: string;
} & (
  | {
      readonly type: 'text' | 'date';
      readonly suggestions?: readonly string[];
      readonly isCode?: boolean;
      readonly check?: Check;
      /** Names of packages that are there; any other is asked of the registries while it is typed. */
      readonly known?: readonly string[];
      /** May it be left empty? */
      readonly isOptional?: boolean;
    }
  | { readonly type: 'choice'; readonly options: readonly Option[] }
  | {
      readonly type: 'many';
      readonly options: readonly Option[];
      /** May none be chosen? */
      readonly isOptional?: boolean;
      readonly initialChosen?: readonly string[];
    }
);

export interface FormValues {
  text(name: string): string;
  many(name: string): readonly string[];
}

/** What asks for an edit, and makes it. */
export interface EditForm {
  readonly title: string;
  readonly about: string;
  readonly fields: readonly FormField[];
  /** The name of the draft that is begun where none is in hand. */
  readonly draftName: (values: FormValues) => string;
  readonly make: (values: FormValues) => readonly Edit[];
}
