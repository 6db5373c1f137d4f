import type { Settle } from '@deep-ledger/core';

/** What somebody decided where both sides changed one thing. */
export interface Decision {
  readonly file: string;
  readonly path: readonly string[];
  readonly side: NonNullable<ReturnType<Settle>>;
}

export function settling(decisions: readonly Decision[]): Settle {
  const key = (file: string, path: readonly string[]): string => [file, ...path].join('\0');
  const sides = new Map(decisions.map(({ file, path, side }) => [key(file, path), side]));
  return ({ file, path }) => sides.get(key(file, path)) ?? null;
}
