/** Numbers that look random and are the same for the same seed. */
export interface Random {
  /** 0 up to, not including, 1. */
  readonly next: () => number;
  /** 0 up to, not including, the limit. */
  readonly below: (limit: number) => number;
  readonly chance: (probability: number) => boolean;
}

/** Source: T. Ettinger, mulberry32, 2017 (public domain): 32 bits of state, fit for test data. */
export function seededRandom(seed: number): Random {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 0x1_0000_0000;
  };
  return {
    next,
    below: (limit) => Math.floor(next() * limit),
    chance: (probability) => next() < probability,
  };
}
