import {
  filteredRows,
  offersUpTo,
  parseRange,
  rangeContains,
  readingFor,
  upgradeBatch,
  upgradeRows,
  UpgradeTrials,
  type Batch,
  type DraftBase,
  type Edit,
  type Offer,
  type UpgradeKind,
  type UpgradeRow,
} from '@deep-ledger/core';
import { carryOut, type CarryOutOptions } from './carry-out.js';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { loadBase } from './load-base.js';
import type { Output } from './output.js';
import { pickOffers } from './pick-offers.js';
import { splitWanted } from './split-wanted.js';
import { unusableBase } from './unusable-base.js';

export interface UpgradeOptions extends CarryOutOptions {
  readonly take: UpgradeKind;
  readonly all?: true;
  /** Choose from a list on the terminal. */
  readonly pick?: true;
  /** Days that a release must be old. */
  readonly olderThan: number;
}

/**
 * Upgrades packages: the largest part of what is newer that can be taken together, or what is named, which has to be taken
 * whole.
 * @param wanted `NAME` or `NAME@RANGE`; none: all that projects require themselves; where a person chooses, patterns of names
 * @returns the exit code
 */
export async function upgradeCommand(
  wanted: readonly string[],
  options: UpgradeOptions,
  output: Output,
): Promise<number> {
  if (options.pick === true && !(process.stdin.isTTY && process.stdout.isTTY)) {
    output.complain(
      'To choose from a list needs a terminal. Name the packages, or leave --pick out. Nothing was written.',
    );
    return EXIT.unreadable;
  }
  output.progress('reading manifests and registry');
  const base = await loadBase(options, output);
  output.progress(null);
  if (unusableBase(base, output)) return EXIT.unreadable;
  const rows = upgradeRows(base, options.olderThan);
  if (wanted.length > 0 && options.pick !== true) {
    const offers = wanted.map((one) => named(base, rows, one, options.take));
    const wrong = offers.filter((one) => typeof one === 'string');
    for (const message of wrong) output.complain(message);
    if (wrong.length > 0) {
      output.complain('Nothing was written.');
      return EXIT.unreadable;
    }
    return carryOut(base, editsOf(offers as readonly Offer[]), options, output);
  }
  const filter = { isAll: options.all === true || wanted.length > 0, packages: wanted };
  const direct = filteredRows(rows, filter);
  const choices = offersUpTo(direct, options.take);
  if (choices.length === 0) {
    output.say('Nothing newer can be taken.');
    return EXIT.ok;
  }
  output.progress(`trying ${count(choices.length, 'upgrade')}`);
  const batch = upgradeBatch(new UpgradeTrials(base), choices, (best) =>
    output.progress(`${best.length} of ${choices.length} can be taken so far`),
  );
  output.progress(null);
  if (options.pick === true) {
    const picked = await pickOffers(batch);
    if (picked !== null && picked.length > 0)
      return carryOut(base, editsOf(picked), options, output);
    output.complain('Nothing was chosen, and nothing was written.');
    return EXIT.ok;
  }
  const code =
    batch.offers.length === 0
      ? EXIT.ok
      : await carryOut(base, editsOf(batch.offers), options, output);
  tellLeft(batch, output);
  return code;
}

function editsOf(offers: readonly Offer[]): readonly Edit[] {
  return offers.map(({ moves }) => ({ kind: 'upgrade', moves }));
}

function tellLeft({ left, offers }: Batch, output: Output): void {
  for (const { offer, against } of left) {
    const smaller = offers.find(({ name }) => name === offer.name);
    const instead = smaller === undefined ? '' : ` (${smaller.to} is taken)`;
    output.complain(`left out: ${offer.name} ${offer.to}${instead}: ${against.join(' ')}`);
  }
}

/** The offer that a name stands for, or why there is none. */
function named(
  base: DraftBase,
  rows: readonly UpgradeRow[],
  wanted: string,
  take: UpgradeKind,
): Offer | string {
  const { name, range } = splitWanted(wanted);
  const row = rows.find((one) => one.name === name || one.packages.includes(name));
  if (row === undefined) {
    const isThere = base.lock!.resolution!.copies.some((one) => one.name === name);
    return isThere
      ? `Nothing newer than what is in use is there of ${name}.`
      : `The lockfile has no copy of ${name}.`;
  }
  if (range === null) {
    const [largest] = offersUpTo([row], take).flat();
    return largest ?? `No ${take} release of ${name} that is newer can be taken: ${whyNone(row)}`;
  }
  const parsed = parseRange(range, readingFor(base.workspace!.policy, name));
  if (!parsed.ok) return `"${range}" is no range of ${name}.`;
  const releases = base.records.get(row.packages[0]!)?.releases ?? [];
  const version = row.newer.findLast(({ version: text, why }) => {
    const release = releases.find((one) => one.text === text);
    return why === null && release !== undefined && rangeContains(parsed.value, release.version);
  });
  if (version === undefined)
    return `No newer release of ${name} that can be taken lies in ${range}.`;
  const [model] = row.offers;
  const moves = (model?.moves ?? []).map((move) => ({ ...move, to: version.version }));
  return { name: row.name, kind: take, to: version.version, published: version.published, moves };
}

function whyNone({ newer }: UpgradeRow): string {
  const last = newer.at(-1)!;
  return `${last.version} ${last.why ?? `is a ${last.step} step`}.`;
}
