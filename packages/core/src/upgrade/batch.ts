import { largestPart } from './largest-part.js';
import type { Offer, UpgradeKind, UpgradeRow } from './offers.js';
import { UPGRADE_KINDS } from './offers.js';
import type { UpgradePrice, UpgradeTrials } from './upgrade-trials.js';

/** An offer that cannot be taken with the others. */
export interface LeftOut {
  readonly offer: Offer;
  /** What stands against it beside those that are taken, each a sentence. */
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
 * Cost: see `largestPart`, and for each left out as many trials as it has offers.
 */
export function upgradeBatch(
  trials: UpgradeTrials,
  choices: readonly (readonly Offer[])[],
  best: (offers: readonly Offer[]) => void = () => undefined,
): Batch {
  const first = choices.map(([offer]) => offer!);
  const movesOf = (offers: readonly Offer[]) => offers.flatMap(({ moves }) => moves);
  const pick = (part: readonly number[]): readonly Offer[] => part.map((i) => first[i]!);
  const part = largestPart(
    first.length,
    (numbers) => {
      const { against, touched } = trials.try(movesOf(pick(numbers)));
      return { isGood: against.length === 0, touched };
    },
    (numbers) => best(pick(numbers)),
  );
  let offers = pick(part);
  const left: LeftOut[] = [];
  for (const [i, offer] of first.entries()) {
    if (part.includes(i)) continue;
    const { against } = trials.try(movesOf([...offers, offer]));
    const smaller = choices[i]!.slice(1).find(
      (one) => trials.try(movesOf([...offers, one])).against.length === 0,
    );
    if (smaller !== undefined) {
      offers = [...offers, smaller];
      best(offers);
    }
    left.push({ offer, against });
  }
  const price = offers.length === 0 ? null : trials.try(movesOf(offers)).price;
  return { offers: [...offers].sort((a, b) => (a.name < b.name ? -1 : 1)), left, price };
}
