import type { RequirementKind } from '@deep-ledger/core';
import type { Edit, RegistryPackage } from '../api/client';

/** How a range is written around a release. */
export type Manner = 'shared' | 'caret' | 'tilde' | 'exact';

/** What a person is about to add. */
export interface Adding {
  readonly version: string;
  readonly manner: Manner;
  readonly kind: RequirementKind;
  /** Folders of projects. */
  readonly projects: readonly string[];
}

/** How the range can be written: what is agreed on is taken; two projects or more can agree. */
export function mannersFor(
  { agreed }: Pick<RegistryPackage, 'agreed'>,
  version: string,
  projects: number,
): readonly { readonly value: Manner; readonly text: string }[] {
  const own = [
    { value: 'caret' as const, text: `^${version}` },
    { value: 'tilde' as const, text: `~${version}` },
    { value: 'exact' as const, text: version },
  ];
  if (agreed !== null) return [{ value: 'shared', text: `the shared version ${agreed}` }, ...own];
  return projects > 1 ? [{ value: 'shared', text: `agree on ^${version} for all` }, ...own] : own;
}

/** The edits of a draft that add it; none while no project is chosen. */
export function addingEdits(
  { name, agreed }: Pick<RegistryPackage, 'name' | 'agreed'>,
  { version, manner, kind, projects }: Adding,
): Edit[] {
  if (projects.length === 0) return [];
  const range = { shared: 'shared', caret: `^${version}`, tilde: `~${version}`, exact: version }[
    manner
  ];
  return [
    ...(manner === 'shared' && agreed === null
      ? [{ kind: 'set-shared' as const, package: name, range: `^${version}` }]
      : []),
    { kind: 'add-requirement', package: name, range, as: kind, projects: [...projects] },
  ];
}
