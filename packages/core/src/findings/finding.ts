import type { Edit } from '../edit/index.js';
import type { Place } from '../text/index.js';
import type { Grounds } from './grounds.js';

/** In the order in which they are listed. */
export const FINDING_KINDS = [
  'unreadable',
  'tampered',
  'other-registry',
  'withdrawn',
  'unlocked',
  'orphaned',
  'platform',
  'unmet-peer',
  'licence',
  'terms',
  'out-of-line',
  'scattered',
  'lockstep-broken',
  'lapsed-exception',
  'several-copies',
  'cycle',
  'confusable',
  'undeclared',
  'unused',
  'redundant',
  'deprecated',
  'too-new',
  'loose',
  'idle-shared',
  'behind',
] as const;
export type FindingKind = (typeof FINDING_KINDS)[number];

/** Error: what is installed is not what was agreed, or cannot be. Warning: it should be put right. Note: worth a look one day. */
export const SEVERITIES = ['error', 'warning', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** Ten of one severity count as much as one of the next. */
export const SEVERITY_POINTS: Readonly<Record<Severity, number>> = {
  error: 100,
  warning: 10,
  note: 1,
};

/** What bears a finding out, and can be opened. */
export type Evidence =
  | { readonly kind: 'place'; readonly says: string; readonly place: Place }
  /** From a project's folder to name and version of a copy. */
  | { readonly kind: 'chain'; readonly says: string; readonly chain: readonly string[] }
  /** All that is asked of a package. */
  | { readonly kind: 'demands'; readonly says: string; readonly package: string };

/** Edits that are to clear a finding. */
export interface Remedy {
  readonly says: string;
  readonly edits: readonly Edit[];
  /** It changes what the team allows or believes, which nobody should decide for it. */
  readonly isDecision: boolean;
}

/** A fact that wants attention. */
export interface Finding {
  /** Kind and subjects; the same as long as the same thing is wrong. */
  readonly id: string;
  readonly kind: FindingKind;
  readonly severity: Severity;
  /** What is wrong with what, in one sentence. */
  readonly says: string;
  /** A project's folder. */
  readonly project: string | null;
  readonly package: string | null;
  /** Of a copy. */
  readonly version: string | null;
  /** What else it is about: a lockstep set, a line of the shared file, a message of the lockfile's check. */
  readonly mark: readonly string[];
  readonly evidence: readonly Evidence[];
  /** The best first. */
  readonly remedies: readonly Remedy[];
}

/** What a kind of finding is raised from, one kind a file. */
export interface FindingRule {
  readonly kind: FindingKind;
  readonly severity: Severity;
  readonly raise: (grounds: Grounds) => readonly FindingDraft[];
}

/** Words set apart by blanks; one that has a blank of its own stands in double quotes, as a JSON string. */
export function findingName(...words: readonly string[]): string {
  return words.map((word) => (/^[^\s"]+$/.test(word) ? word : JSON.stringify(word))).join(' ');
}

/** A finding without what its rule says for it. */
export type FindingDraft = Pick<Finding, 'says' | 'evidence'> &
  Partial<Pick<Finding, 'project' | 'package' | 'version' | 'remedies' | 'severity'>> & {
    /** Tells findings of one kind apart where project, package and version do not. */
    readonly mark?: readonly string[];
  };

export function findingOf(rule: FindingRule, draft: FindingDraft): Finding {
  const { project = null, package: name = null, version = null, mark = [] } = draft;
  const subjects = [project, name, version, ...mark].filter((one) => one !== null);
  return {
    id: findingName(rule.kind, ...subjects),
    kind: rule.kind,
    severity: draft.severity ?? rule.severity,
    says: draft.says,
    project,
    package: name,
    version,
    mark,
    evidence: draft.evidence,
    remedies: draft.remedies ?? [],
  };
}

/** A remedy that follows from what the workspace has agreed on. */
export function remedy(says: string, ...edits: readonly Edit[]): Remedy {
  return { says, edits, isDecision: false };
}

/** A remedy that somebody has to decide on. */
export function decision(says: string, ...edits: readonly Edit[]): Remedy {
  return { says, edits, isDecision: true };
}
