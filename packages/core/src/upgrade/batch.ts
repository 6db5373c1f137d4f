import type { Move } from '../edit/index.js';
import { largestPart, type PartTrial } from './largest-part.js';
import type { Offer, UpgradeKind, UpgradeRow } from './offers.js';
import { UPGRADE_KINDS } from './offers.js';
import type { UpgradePrice, UpgradeTrials, WatchedTrial } from './upgrade-trials.js';

/** An offer that cannot be taken with the others. */
export interface LeftOut {
  readonly offer: Offer;
  /** What stood against it when it was last tried, by itself or beside others that are taken, each a sentence. */
  readonly against: readonly string[];
}

/** Upgrades that can be taken together. */
export interface Batch {
  readonly offers: readonly Offer[];
  readonly left: readonly LeftOut[];
  /** Of all together; null: nothing is taken. */
  readonly price: UpgradePrice | null;
}

/** For each row the offers up to a kind of step, the largest step first. */
export function offersUpTo(
  rows: readonly UpgradeRow[],
  most: UpgradeKind,
): readonly (readonly Offer[])[] {
  const kinds = UPGRADE_KINDS.slice(0, UPGRADE_KINDS.indexOf(most) + 1);
  return rows
    .map(({ offers }) => offers.filter(({ kind }) => kinds.includes(kind)).reverse())
    .filter((offers) => offers.length > 0);
}

/**
 * The largest part of some upgrades that can be taken together: of each the first offer; where that is left out, the first of
 * its others that can be taken beside the rest.
 * @param choices for each row at least one offer
 * @param best hears of each better part as it is found
 * @param tryAlone what becomes of one offer by itself, where that is known already
 * Cost: see `largestPart`, and for each left out as many trials as it has smaller offers.
 */
export function upgradeBatch(
  trials: UpgradeTrials,
  choices: readonly (readonly Offer[])[],
  best: (offers: readonly Offer[]) => void = () => undefined,
  tryAlone: (moves: readonly Move[]) => WatchedTrial = (moves) => trials.try(moves),
): Batch {
  const first = choices.map(([offer]) => offer!);
  const movesOf = (offers: readonly Offer[]) => offers.flatMap(({ moves }) => moves);
  const pick = (part: readonly number[]): readonly Offer[] => part.map((i) => first[i]!);
  const outcome = ({ against, touched }: WatchedTrial): PartTrial => ({
    isGood: against.length === 0,
    touched,
  });
  const tried: { readonly numbers: readonly number[]; readonly against: readonly string[] }[] = [];
  const part = largestPart(
    first.length,
    (numbers) => {
      const trial = trials.try(movesOf(pick(numbers)));
      tried.push({ numbers, against: trial.against });
      return outcome(trial);
    },
    (numbers) => best(pick(numbers)),
    (one) => {
      const trial = tryAlone(first[one]!.moves);
      tried.push({ numbers: [one], against: trial.against });
      return outcome(trial);
    },
  );
  const taken = new Set(part);
  const reasonFor = (i: number): readonly string[] =>
    tried.findLast(
      ({ numbers }) => numbers.includes(i) && numbers.every((one) => one === i || taken.has(one)),
    )!.against;
  let offers = pick(part);
  const left: LeftOut[] = [];
  for (const [i, offer] of first.entries()) {
    if (taken.has(i)) continue;
    const smaller = choices[i]!.slice(1).find(
      (one) => trials.try(movesOf([...offers, one])).against.length === 0,
    );
    if (smaller !== undefined) {
      offers = [...offers, smaller];
      best(offers);
    }
    left.push({ offer, against: reasonFor(i) });
  }
  const price = offers.length === 0 ? null : trials.try(movesOf(offers)).price;
  return { offers: [...offers].sort((a, b) => (a.name < b.name ? -1 : 1)), left, price };
}
