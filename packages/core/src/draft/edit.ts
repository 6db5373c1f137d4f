/** One step of a draft, in the words of the trade. */
export type Edit =
  /** Agree on a range for a package; for a member of a lockstep set, on the set's range. */
  | { readonly kind: 'set-shared'; readonly package: string; readonly range: string }
  /** Let these projects take the shared version, by their folders. */
  | {
      readonly kind: 'take-shared';
      readonly package: string;
      readonly projects: readonly string[];
    };

/** Why an edit cannot be made on these files. */
export type EditProblem =
  | { readonly code: 'EDIT_RANGE_INVALID'; readonly message: string }
  | { readonly code: 'EDIT_NOT_AGREED'; readonly message: string }
  | { readonly code: 'EDIT_PROJECT_UNKNOWN'; readonly message: string }
  | { readonly code: 'EDIT_NOT_REQUIRED'; readonly message: string }
  | { readonly code: 'EDIT_FILE_UNREADABLE'; readonly message: string };
