/** Where releases stand along a line of length 1: the further a step, the longer its stretch. */
export interface RailScale {
  /** Position of each release, from 0 to 1, ascending. */
  readonly positions: readonly number[];
  /** Index of the first release of each major but the first. */
  readonly majors: readonly number[];
  /** Where majors part: midway between the last release of one and the first of the next. */
  readonly divides: readonly number[];
}

const WEIGHTS = { major: 8, minor: 3, patch: 1 } as const;

/** @param versions ascending SemVer versions */
export function railScale(versions: readonly string[]): RailScale {
  const parts = versions.map((version) =>
    version.split('+')[0]!.split('-')[0]!.split('.').map(Number),
  );
  const majors: number[] = [];
  let at = 0;
  const raw = parts.map((part, i) => {
    const before = parts[i - 1];
    if (before === undefined) return 0;
    if (part[0] !== before[0]) {
      majors.push(i);
      at += WEIGHTS.major;
    } else at += part[1] === before[1] ? WEIGHTS.patch : WEIGHTS.minor;
    return at;
  });
  const positions = raw.map((value) => (at === 0 ? 0.5 : value / at));
  return { positions, majors, divides: majors.map((i) => (positions[i - 1]! + positions[i]!) / 2) };
}

/** A thing with a middle and a width that must not lie on its neighbours. */
export interface Placed {
  readonly x: number;
  readonly width: number;
}

/**
 * Moves things apart along a line, within [0, length], as little as two walks from its ends need; their order stays.
 * Things that do not all fit are spread evenly.
 */
export function spreadApart(things: readonly Placed[], length: number): readonly number[] {
  const gap = 1;
  const needed = things.reduce((sum, { width }) => sum + width + gap, -gap);
  if (things.length > 0 && needed > length) {
    return things.map((_, i) => ((i + 0.5) / things.length) * length);
  }
  const xs = things.map(({ x }) => x);
  let edge = 0;
  things.forEach(({ width }, i) => {
    xs[i] = Math.max(xs[i]!, edge + width / 2);
    edge = xs[i]! + width / 2 + gap;
  });
  let end = length;
  for (let i = things.length - 1; i >= 0; i--) {
    const { width } = things[i]!;
    xs[i] = Math.min(xs[i]!, end - width / 2);
    end = xs[i]! - width / 2 - gap;
  }
  return xs;
}
