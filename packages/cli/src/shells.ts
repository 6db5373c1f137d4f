/** Shells for which there is a script that completes commands. */
export const SHELLS = ['bash', 'zsh'] as const;
