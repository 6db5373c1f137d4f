import type { Clearing, Consequences, FindingsChange, TriedRemedy } from '../draft/index.js';
import type { Edit, Move } from '../edit/index.js';
import type { Cause, Figures, Finding } from '../findings/index.js';
import type { NamedLink } from '../graph/index.js';
import type { NeedlessCopy, StatedDemand } from '../resolve/index.js';
import type { Batch, UpgradeFilter, UpgradeKind, UpgradeTrial } from '../upgrade/index.js';
import type { PlacedProblem } from '../workspace/index.js';

/** What is worked out about a workspace at a commit. Long work where the workspace is large. */
export type WorkspaceQuestion =
  | { readonly kind: 'draft'; readonly edits: readonly Edit[] }
  /** What a draft without an answer could be helped by. */
  | { readonly kind: 'suggested-fixes'; readonly edits: readonly Edit[] }
  | { readonly kind: 'findings' }
  /** The best remedies, tried out. */
  | { readonly kind: 'remedies' }
  /** Why a package has the copies it has. */
  | { readonly kind: 'several'; readonly package: string }
  /** `ticked`: names of findings whose first remedy a person has decided on. */
  | { readonly kind: 'clearing'; readonly ticked: readonly string[] }
  /** Each by itself, on the whole workspace. */
  | { readonly kind: 'upgrade-trials'; readonly upgrades: readonly (readonly Move[])[] }
  /** The most that can be taken together. */
  | {
      readonly kind: 'upgrade-batch';
      readonly take: UpgradeKind;
      readonly olderThanDays: number;
      readonly filter: UpgradeFilter;
    };

export type QuestionOf<K extends WorkspaceQuestion['kind']> = Extract<
  WorkspaceQuestion,
  { kind: K }
>;

/** Plain data: an answer passes between threads and is kept in the database. */
export interface Answers {
  readonly draft: DraftAnswer;
  readonly 'suggested-fixes': readonly CauseFixes[];
  readonly findings: FoundFindings;
  readonly remedies: readonly TriedRemedy[];
  readonly several: WhySeveral;
  readonly clearing: Clearing;
  readonly 'upgrade-trials': readonly UpgradeTrial[];
  readonly 'upgrade-batch': Batch;
}

/** A file as a draft leaves it. */
export interface ChangedFile {
  readonly path: string;
  readonly after: string;
}

export type DraftOutcome<File = ChangedFile> =
  | {
      readonly kind: 'answered';
      readonly changes: readonly File[];
      readonly consequences: Consequences;
      /** Who would newly require what, and no longer; only so many as can be drawn. */
      readonly gained: readonly NamedLink[];
      readonly lost: readonly NamedLink[];
      /** Bytes of the copies that come, less those that go. */
      readonly bytes: number;
    }
  | {
      readonly kind: 'unanswered';
      readonly changes: readonly File[];
      /** Sentences for each requirement that has no answer. */
      readonly explanations: readonly (readonly string[])[];
    }
  | {
      readonly kind: 'unreadable';
      readonly changes: readonly File[];
      readonly problems: readonly PlacedProblem[];
    }
  /** Some edits no longer apply; one entry for each edit. */
  | { readonly kind: 'inapplicable'; readonly problems: readonly (string | null)[] };

export type DraftAnswer =
  /** Packages of which nothing is known yet have to be loaded first. */
  | { readonly kind: 'ask'; readonly names: readonly string[] }
  | {
      readonly kind: 'settled';
      readonly outcome: DraftOutcome;
      /** Index of the edit that leaves the draft without an answer; null: none does, or that was not looked for. */
      readonly endOfAnswer: number | null;
      /** Findings that it clears and raises; null: it has no answer. */
      readonly findings: FindingsChange | null;
    };

/** Why a package has the copies it has. */
export interface WhySeveral {
  /** With fewer it cannot do, as demands stand. */
  readonly least: number;
  /** Demands that prove it. */
  readonly forcedBy: readonly StatedDemand[];
  readonly needless: readonly NeedlessCopy[];
}

/** What requirements without an answer could be helped by. */
export interface CauseFixes {
  /** The requirements, as the first sentence of their explanation names them. */
  readonly about: readonly string[];
  readonly ways: readonly { readonly sentence: string; readonly edits: readonly Edit[] }[];
}

export interface FoundFindings {
  readonly findings: readonly Finding[];
  readonly causes: readonly Cause[];
  /** Without those that are muted. */
  readonly figures: Figures;
  /** Files of source, and references in them that cannot be seen; null: source was not scanned. */
  readonly scanned: { readonly files: number; readonly unseen: number } | null;
}
