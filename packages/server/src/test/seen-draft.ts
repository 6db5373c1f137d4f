/** A draft as the server answers it, as far as tests look at it. */
export interface SeenDraft {
  readonly base: string;
  readonly revision: number;
  readonly evaluation: { readonly consequences?: { readonly sum: string } | null };
}

/** What a page says of a draft that it shows when somebody posts or approves it. */
export function seen({ base, revision, evaluation }: SeenDraft): {
  readonly base: string;
  readonly revision: number;
  readonly sum: string;
} {
  return { base, revision, sum: evaluation.consequences?.sum ?? '0'.repeat(64) };
}
