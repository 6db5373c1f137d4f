/** What came of trying a part of the differences. `unclear`: it cannot be tried, or the trial says neither. */
export type Verdict = 'works' | 'fails' | 'unclear';

/** How far a search is. */
export interface SearchProgress {
  /** Trials that were made. */
  readonly made: number;
  /** So many more at most. */
  readonly left: number;
  /** Differences that are still in question. */
  readonly open: number;
}

/** What is searched: differences by their numbers. */
export interface Search {
  /** Of the differences; they are 0, 1 and so on. */
  readonly count: number;
  /** All that comes along with some differences, these included; null: they cannot be tried. */
  readonly closed: (chosen: readonly number[]) => readonly number[] | null;
  /** Tries a closed part. The same is never asked for twice. */
  readonly trial: (closed: readonly number[]) => Promise<Verdict>;
  readonly tell?: (progress: SearchProgress) => void;
}

/**
 * The smallest part of the differences that fails: whatever is left out of it, it does not fail. All of them together fail, none of
 * them does; both have been seen. Halves are tried, as in QuickXplain (Junker 2004): of n differences k are found in at most
 * 2k log2(n/k) + 2k trials where more differences never make it work again; then each is left out once more, with what brings it
 * back, which also holds where they do (the last step of delta debugging, Zeller and Hildebrandt 2002).
 */
export async function findCulprits(search: Search): Promise<readonly number[]> {
  return new Searching(search).run();
}

/** The most trials in which k of n differences are found, both ends and the last step not counted. */
export function mostTrials(n: number, k: number): number {
  return k === 0 ? 0 : Math.ceil(2 * k * Math.log2(n / k) + 2 * k);
}

class Searching {
  private readonly known = new Map<string, Verdict>();
  private made = 0;
  /** Trials that parts which wait for their turn may need. */
  private waiting = 0;

  constructor(private readonly search: Search) {}

  async run(): Promise<readonly number[]> {
    const all = [...Array(this.search.count).keys()];
    return this.least(await this.among([], false, all));
  }

  /**
   * The candidates that must be there, beside others, for it to fail.
   * @param beside differences that are there in any case
   * @param isNew whether any were added to those since they were tried
   */
  private async among(
    beside: readonly number[],
    isNew: boolean,
    candidates: readonly number[],
  ): Promise<readonly number[]> {
    if (isNew && (await this.fails(beside, candidates.length, mostFor(candidates.length))))
      return [];
    if (candidates.length === 1) return candidates;
    const half = candidates.length >> 1;
    const [first, second] = [candidates.slice(0, half), candidates.slice(half)];
    this.waiting += mostFor(first.length);
    const ofSecond = await this.among([...beside, ...first], true, second);
    this.waiting -= mostFor(first.length);
    const ofFirst = await this.among([...beside, ...ofSecond], ofSecond.length > 0, first);
    return [...ofFirst, ...ofSecond];
  }

  /** Leaves out one after another, until none can be left out. */
  private async least(found: readonly number[]): Promise<readonly number[]> {
    let least = this.search.closed(found) ?? found;
    for (let at = 0; at < least.length;) {
      const less = this.without(least, least[at]!);
      const left = (least.length * (least.length + 1)) / 2 - at;
      if (await this.fails(less, least.length, left)) {
        least = less;
        at = 0;
      } else at++;
    }
    return least;
  }

  /** As many of some differences as can be had without one of them. */
  private without(all: readonly number[], out: number): readonly number[] {
    const others = all.filter((one) => one !== out);
    const closed = this.search.closed(others);
    if (closed !== null && closed.length < all.length) return closed;
    // Some of the others bring it back.
    let had: readonly number[] = [];
    for (const one of others) {
      const more = this.search.closed([...had, one]);
      if (more?.every((each) => others.includes(each)) === true) had = more;
    }
    return had;
  }

  private async fails(chosen: readonly number[], open: number, left: number): Promise<boolean> {
    const closed = this.search.closed(chosen);
    if (closed === null || closed.length === 0) return false;
    if (closed.length === this.search.count) return true;
    const key = [...closed].sort((a, b) => a - b).join(' ');
    const known = this.known.get(key);
    if (known !== undefined) return known === 'fails';
    this.search.tell?.({ made: this.made, left: this.waiting + left, open });
    const verdict = await this.search.trial(closed);
    this.made++;
    this.known.set(key, verdict);
    return verdict === 'fails';
  }
}

/** The most trials among so many candidates, this one included. */
function mostFor(candidates: number): number {
  return Math.max(1, 2 * candidates - 1);
}
