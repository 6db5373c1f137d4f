/** A commit with the names of the findings that it had on its day. */
export interface FindingsAt {
  readonly findings: readonly string[];
}

/** The commit with which a finding appeared. */
export interface Since<Point> {
  readonly point: Point;
  /** It was there with the oldest commit that is known already. */
  readonly isEarlier: boolean;
}

/**
 * The commit at which each finding appeared and has been there since, up to the newest; none for what the
 * newest did not have on its day.
 * @param points oldest first
 * Cost: O(findings of all points).
 */
export function sinceWhen<Point extends FindingsAt>(
  points: readonly Point[],
): ReadonlyMap<string, Since<Point>> {
  const since = new Map<string, Since<Point>>();
  const newestFirst = [...points].reverse();
  let open = new Set(newestFirst[0]?.findings ?? []);
  newestFirst.forEach((point, i) => {
    const there = new Set(point.findings);
    open = new Set([...open].filter((id) => there.has(id)));
    const isEarlier = i === newestFirst.length - 1;
    for (const id of open) since.set(id, { point, isEarlier });
  });
  return since;
}
