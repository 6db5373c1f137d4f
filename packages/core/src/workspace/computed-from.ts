/** A result with all that it was computed from. */
export interface ComputedFrom<Result> {
  readonly from: readonly unknown[];
  readonly result: Result;
}

/** A result from before where it was computed from the very same things; otherwise a new one. O(things). */
export function computedFrom<Result>(
  from: readonly unknown[],
  before: ComputedFrom<Result> | null | undefined,
  compute: () => Result,
): ComputedFrom<Result> {
  const isSame =
    before?.from.length === from.length && before.from.every((one, i) => one === from[i]);
  return isSame ? before : { from, result: compute() };
}
