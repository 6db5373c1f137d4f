import { REQUIREMENT_KINDS, type RequirementKind } from '../../manifest/index.js';

/** What answers a requirement. */
export type Answer =
  | { readonly kind: 'copy'; readonly version: string }
  | { readonly kind: 'project'; readonly folder: string }
  | { readonly kind: 'skipped'; readonly reason: string };

/** The reasons of skips. That of the workspace's targets holds whatever the registry has. */
export const FOR_NO_TARGET = 'for none of our targets';
export const NOT_IN_REGISTRY = 'not in the registry';
export const NONE_USABLE = 'no usable release in range';
/** There are usable releases, but no answer that has one of them heeds the policy on copies or on peers. */
export const KEPT_OUT = 'kept out by the policy';

export interface AnsweredRequirement {
  readonly kind: RequirementKind;
  readonly name: string;
  /** As the manifest or the release has it. */
  readonly written: string;
  /** The range that it stood for; null where a project answers. */
  readonly range: string | null;
  readonly when: readonly string[];
  readonly answer: Answer;
}

/** What a project gets beside its own requirements, because copies below it ask for a peer that nothing provides. */
export interface SuppliedPeer {
  readonly name: string;
  /** The ranges that are asked for, sorted; the version meets as many as can be met together. */
  readonly ranges: readonly string[];
  /** Null: no usable release is in any of them. */
  readonly version: string | null;
}

export interface ProjectAnswers {
  readonly folder: string;
  readonly name: string;
  readonly version: string | null;
  readonly requirements: readonly AnsweredRequirement[];
  /** Sorted by name. */
  readonly supplied: readonly SuppliedPeer[];
}

/** What a copy asks of whoever requires it: to have this package beside it, in this range. */
export interface CopyPeer {
  readonly name: string;
  readonly range: string;
  readonly isOptional: boolean;
}

/** One release as it stands in the lockfile. */
export interface Copy {
  readonly name: string;
  readonly version: string;
  readonly registry: string;
  readonly archive: string;
  /** W3C Subresource Integrity. */
  readonly integrity: string;
  readonly targets: readonly string[];
  readonly deprecated: string | null;
  readonly requirements: readonly AnsweredRequirement[];
  /** Sorted by name. */
  readonly peers: readonly CopyPeer[];
}

/**
 * The answers to all requirements of a workspace: what the lockfile says. Projects are sorted by
 * folder, copies by name and version, requirements by kind and name.
 */
export interface Resolution {
  readonly projects: readonly ProjectAnswers[];
  readonly copies: readonly Copy[];
}

export function copyKey(copy: { readonly name: string; readonly version: string }): string {
  return `${copy.name} ${copy.version}`;
}

export function byKindAndName(
  a: { readonly kind: RequirementKind; readonly name: string },
  b: { readonly kind: RequirementKind; readonly name: string },
): number {
  if (a.kind !== b.kind)
    return REQUIREMENT_KINDS.indexOf(a.kind) - REQUIREMENT_KINDS.indexOf(b.kind);
  return a.name < b.name ? -1 : a.name > b.name ? 1 : 0;
}
