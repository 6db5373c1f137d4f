import type { CommitFiguresEntity } from './commit-figures.entity.js';

/** The commit with which a finding appeared. */
export interface Since {
  readonly commit: string;
  readonly subject: string;
  readonly author: string;
  readonly at: Date;
  /** It was there with the oldest commit that is known already. */
  readonly isEarlier: boolean;
}

/**
 * The commit at which each finding appeared and has been there since, up to the newest; none for what the
 * newest did not have on its day.
 * @param points oldest first
 */
export function sinceWhen(points: readonly CommitFiguresEntity[]): ReadonlyMap<string, Since> {
  const since = new Map<string, Since>();
  const newestFirst = [...points].reverse();
  let open = new Set(newestFirst[0]?.findings ?? []);
  newestFirst.forEach(({ commit, subject, author, at, findings }, i) => {
    const there = new Set(findings);
    open = new Set([...open].filter((id) => there.has(id)));
    const isEarlier = i === newestFirst.length - 1;
    for (const id of open) since.set(id, { commit, subject, author, at, isEarlier });
  });
  return since;
}
