import {
  printShapes,
  type AdoptForm,
  type ManifestForm,
  type RegistryForm,
  type SharedForm,
  type VersionScheme,
} from '@deep-ledger/core';
import type { BringIn, BroughtIn } from '../api/client';

/** A registry as `ledger.toml` is to have it. */
interface RegistryLine {
  readonly name: string;
  readonly patterns: string[];
  readonly versions: VersionScheme;
}

/** How versions can be written, as a person chooses it. */
export const SCHEMES: readonly { readonly value: VersionScheme; readonly text: string }[] = [
  { value: 'semver', text: 'three numbers: 1.4.0' },
  { value: 'dotted', text: 'one to six: 1.4, 2.0b1' },
];

/** One sort of manifests, as it was proposed or as a person describes it. */
export interface Kind {
  readonly key: string;
  readonly isSkipped: boolean;
  /** Null: a person has described it. */
  readonly isSure: boolean | null;
  /** Values that read as ranges or words for one, and how many there are; null: a person has described it. */
  readonly good: number | null;
  readonly values: number | null;
  readonly why: readonly string[];
  /** A file of it. */
  readonly first: string;
  readonly form: ManifestForm;
}

/** A registry, with what is typed to try it. */
export interface RegistryEntry {
  /** Tells it apart while its name is typed. */
  readonly key: number;
  readonly name: string;
  /** Patterns, parted by blanks. */
  readonly patterns: string;
  readonly versions: VersionScheme;
  readonly address: string;
  /** Not kept when the page is left. */
  readonly token: string;
  /** A package to try it with. */
  readonly test: string;
  /** Where documents are, where it does not speak as ours do. */
  readonly path: string;
  /** Null: it speaks as ours do. */
  readonly shape: RegistryForm | null;
}

/** All that a repository is brought in by, while it is worked out. */
export interface BringInForm {
  readonly name: string;
  readonly kinds: readonly Kind[];
  readonly shared: { readonly form: SharedForm; readonly isSkipped: boolean } | null;
  readonly adopt: { readonly form: AdoptForm; readonly isSkipped: boolean } | null;
  readonly registries: readonly RegistryEntry[];
}

/** What is proposed, as the form to begin with. */
export function formOfProposal({ name, manifests, shared, adopt }: BringIn): BringInForm {
  return {
    name,
    kinds: manifests.map(({ form, first, isSure, evidence }, i) => ({
      key: `proposed ${i}`,
      isSkipped: false,
      isSure,
      good: sum(evidence.map((one) => one.good)),
      values: sum(evidence.map((one) => one.values)),
      why: evidence.map((one) => one.why),
      first,
      form,
    })),
    shared: shared === null ? null : { form: shared.form, isSkipped: false },
    adopt: adopt === null ? null : { form: adopt.form, isSkipped: false },
    registries: [{ ...newRegistry('main', '*'), key: 0 }],
  };
}

function sum(numbers: readonly number[]): number {
  return numbers.reduce((all, one) => all + one, 0);
}

export function newRegistry(name: string, patterns: string): Omit<RegistryEntry, 'key'> {
  return {
    name,
    patterns,
    versions: 'semver',
    address: '',
    token: '',
    test: '',
    path: '',
    shape: null,
  };
}

/** A sort of manifests that a person is about to describe, beginning with one file. */
export function kindOfFile(path: string, key: string): Kind {
  return {
    key,
    isSkipped: false,
    isSure: null,
    good: null,
    values: null,
    why: [],
    first: path,
    form: {
      files: [path],
      syntax: syntaxOf(path),
      pattern: syntaxOf(path) === 'lines' ? '^(?P<package>\\S+)\\s+(?P<range>\\S+)$' : null,
      levels: 0,
      name: null,
      version: null,
      ships: null,
      requirements: [{ at: '$', package: [], join: '', range: null, when: null, kind: 'runtime' }],
      kind: 'runtime',
      spelling: { ranges: 'semver', versions: 'semver', bare: null, shared: null, workspace: null },
    },
  };
}

const BY_ENDING: Readonly<Record<string, ManifestForm['syntax']>> = {
  json: 'json',
  jsonc: 'json',
  yaml: 'yaml',
  yml: 'yaml',
  toml: 'toml',
  xml: 'xml',
};

function syntaxOf(path: string): ManifestForm['syntax'] {
  return BY_ENDING[path.split('.').at(-1)!.toLowerCase()] ?? 'lines';
}

/** The text of `ledger.shapes.toml`. */
export function shapesText({ kinds, shared, adopt, registries }: BringInForm): string {
  return printShapes({
    manifests: kinds.flatMap(({ form, isSkipped }) => (isSkipped ? [] : [form])),
    shared: shared === null || shared.isSkipped ? null : shared.form,
    adopt: adopt === null || adopt.isSkipped ? [] : [adopt.form],
    registries: registries.flatMap(({ name, shape }) =>
      shape === null ? [] : [{ ...shape, registry: name }],
    ),
  });
}

/** Registries that have a name and patterns; while none has, the files are read as if one took all names. */
export function usableRegistries(form: BringInForm): RegistryLine[] {
  const whole = registryLines(form).filter(
    ({ name, patterns }) => name !== '' && patterns.length > 0,
  );
  return whole.length === 0 ? [{ name: 'main', patterns: ['*'], versions: 'semver' }] : whole;
}

/** The registries as `ledger.toml` is to have them. */
export function registryLines({ registries }: BringInForm): RegistryLine[] {
  return registries.map(({ name, patterns, versions }) => ({
    name: name.trim(),
    versions,
    patterns: patterns.split(/\s+/).filter(Boolean),
  }));
}

export type KindFigures = BroughtIn['shapes'][number];

/** What each kind was read to have, in the order of the kinds; null: it is skipped, or cannot be used. */
export function figuresOfKinds(
  { kinds }: BringInForm,
  read: BroughtIn | undefined,
): readonly (KindFigures | null)[] {
  const left = [...(read?.shapes ?? [])];
  return kinds.map(({ form, isSkipped }) => {
    if (isSkipped || left[0]?.patterns.join('\n') !== form.files.join('\n')) return null;
    return left.shift()!;
  });
}

/** What is open on the page: a kind by its key, or the file of agreed or of installed versions. */
export type Opened = string;
export const SHARED = 'shared';
export const ADOPT = 'adopt';

/** What is open, where the address says nothing of it or something that is not there. */
export function openedOf({ kinds, shared, adopt }: BringInForm, asked: string | null): Opened {
  const all = [
    ...kinds.map(({ key }) => key),
    ...(shared === null ? [] : [SHARED]),
    ...(adopt === null ? [] : [ADOPT]),
  ];
  return all.find((key) => key === asked) ?? all[0] ?? SHARED;
}

/** The file that is shown first of what is open; null: there is none. */
export function firstFile({ kinds, shared, adopt }: BringInForm, opened: Opened): string | null {
  if (opened === SHARED) return shared?.form.file ?? null;
  if (opened === ADOPT) return adopt?.form.file ?? null;
  return kinds.find(({ key }) => key === opened)?.first ?? null;
}
