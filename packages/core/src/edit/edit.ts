import type {
  AcceptedText,
  ExceptionText,
  MutedText,
  OtherwiseText,
  RequirementKind,
  StandingOrderText,
} from '../manifest/index.js';
import type { Move } from './upgrade-step.js';

/** Settings of [policy] that an edit can change; the first three also for one package. */
export const POLICY_SETTINGS = [
  'copies',
  'prereleases',
  'minimum-age-days',
  'peers',
  'transitive-use',
  'own-ranges',
  'licences',
] as const;
export type PolicySetting = (typeof POLICY_SETTINGS)[number];

/** A unit of a manifest that a reversal puts back. */
export interface PutBack {
  readonly file: string;
  readonly path: readonly string[];
  /** Its value, as `tomlUnits` has it, where nobody has changed it since; null: it is not there. */
  readonly found: string | null;
  /** TOML text that it is to have; null: it goes. */
  readonly source: string | null;
  readonly isBlock: boolean;
}

/** What the lockfile answered to one requirement at an earlier time. */
export interface EarlierAnswer {
  /** A project's folder, or name and version of a copy. */
  readonly owner: string;
  readonly isProject: boolean;
  readonly kind: RequirementKind;
  readonly name: string;
  readonly range: string;
  readonly version: string;
}

/** One step of a draft, in the words of the trade. Projects are named by their folders. */
export type Edit =
  /**
   * Agree on a range for a package, and let these projects take it: one decision. A project that does not require the
   * package any more is left out.
   */
  | {
      readonly kind: 'level';
      readonly package: string;
      readonly range: string;
      readonly projects: readonly string[];
    }
  /** Agree on a range for a package; for a member of a lockstep set, on the set's range. */
  | { readonly kind: 'set-shared'; readonly package: string; readonly range: string }
  /**
   * Move a package, or the members of a lockstep set together, from the release in use to another: ranges that do not admit it
   * are written anew, and whatever the old one answered is answered by it, as far as ranges admit that.
   */
  | { readonly kind: 'upgrade'; readonly moves: readonly Move[] }
  /** Let these projects take the shared version. */
  | {
      readonly kind: 'take-shared';
      readonly package: string;
      readonly projects: readonly string[];
    }
  /** Agree on nothing any more; who takes the shared version writes its range. */
  | { readonly kind: 'retire-shared'; readonly package: string }
  /** Let these projects ask for a range of their own. */
  | {
      readonly kind: 'set-range';
      readonly package: string;
      readonly range: string;
      readonly projects: readonly string[];
    }
  /** `range` may be `shared` or `workspace` as well. */
  | {
      readonly kind: 'add-requirement';
      readonly package: string;
      readonly range: string;
      readonly as: RequirementKind;
      readonly projects: readonly string[];
    }
  | {
      readonly kind: 'remove-requirement';
      readonly package: string;
      readonly projects: readonly string[];
    }
  | {
      readonly kind: 'change-kind';
      readonly package: string;
      readonly as: RequirementKind;
      readonly projects: readonly string[];
    }
  /** A lockstep set with exactly these members; one of the same name is changed. */
  | {
      readonly kind: 'make-set';
      readonly set: string;
      readonly range: string;
      readonly packages: readonly string[];
    }
  /** The members stay agreed on, each by itself. */
  | { readonly kind: 'dissolve-set'; readonly set: string }
  | {
      readonly kind: 'everywhere';
      readonly package: string;
      readonly range: string;
      readonly as: RequirementKind;
      /** Projects that do without it. */
      readonly except: readonly string[];
    }
  | { readonly kind: 'not-everywhere'; readonly package: string }
  | {
      readonly kind: 'pin';
      readonly package: string;
      readonly version: string;
      /** Projects whose own requirements it leaves out; none when absent. */
      readonly except?: readonly string[];
    }
  | { readonly kind: 'unpin'; readonly package: string }
  /** An exception for one project; its requirement gets that range. */
  | ({ readonly kind: 'grant-exception' } & ExceptionText)
  | { readonly kind: 'end-exception'; readonly package: string; readonly project: string }
  /** Answer what releases of a package ask for otherwise than they ask, up to a day. */
  | ({ readonly kind: 'answer-otherwise' } & OtherwiseText)
  | { readonly kind: 'end-otherwise'; readonly of: string; readonly package: string }
  | {
      readonly kind: 'set-policy';
      /** Null: for the workspace. */
      readonly package: string | null;
      readonly setting: PolicySetting;
      /** Days in digits, licences parted by commas. */
      readonly value: string;
    }
  /** Prepare upgrades again and again; an order of the same name is changed. */
  | ({ readonly kind: 'set-standing' } & StandingOrderText)
  | { readonly kind: 'end-standing'; readonly name: string }
  /** What the team's machines offer. */
  | { readonly kind: 'set-platform'; readonly name: string; readonly version: string }
  /** Re-resolve these packages; none: all. */
  | { readonly kind: 'refresh'; readonly packages: readonly string[] }
  /** Bring the lockfile up to the manifests; what it has stays where it can. */
  | { readonly kind: 'bring-up' }
  /** Answer with another release what one copy answers, as far as ranges admit it. */
  | {
      readonly kind: 're-pick';
      readonly package: string;
      readonly from: string;
      readonly to: string;
    }
  /** Let the lockfile have the registry's integrity of a copy, which is another than it has. */
  | {
      readonly kind: 'take-integrity';
      readonly package: string;
      readonly version: string;
      /** What the registry says: another one is not taken. */
      readonly integrity: string;
    }
  /** Believe that a project uses a package that no scan could see. */
  | { readonly kind: 'believe-use'; readonly package: string; readonly project: string }
  /** Leave a finding unsaid up to a day. */
  | ({ readonly kind: 'mute' } & MutedText)
  | { readonly kind: 'unmute'; readonly finding: string }
  /** Accept terms for the team. */
  | ({ readonly kind: 'accept-terms' } & AcceptedText)
  | { readonly kind: 'end-acceptance'; readonly id: string }
  /** Take back a commit: its changes to manifests, and the answers it moved the lockfile from. */
  | {
      readonly kind: 'take-back';
      readonly commit: string;
      readonly title: string;
      readonly units: readonly PutBack[];
      readonly answers: readonly EarlierAnswer[];
    };

export type EditKind = Edit['kind'];

/** Why an edit cannot be made on these files. */
export interface EditProblem {
  readonly code:
    | 'EDIT_RANGE_INVALID'
    | 'EDIT_NAME_INVALID'
    | 'EDIT_VALUE_INVALID'
    | 'EDIT_NOT_AGREED'
    | 'EDIT_PROJECT_UNKNOWN'
    | 'EDIT_NOT_REQUIRED'
    | 'EDIT_ALREADY_THERE'
    | 'EDIT_NOT_THERE'
    | 'EDIT_OVERTAKEN'
    | 'EDIT_FILE_UNREADABLE';
  readonly message: string;
}
