import { UPGRADE_KINDS, upgradeRows, type UpgradeKind, type UpgradeRow } from '@deep-ledger/core';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { loadBase, type BaseOptions } from './load-base.js';
import type { Output } from './output.js';
import { tableWords } from './table-words.js';
import { unusableBase } from './unusable-base.js';

export interface NewerOptions extends BaseOptions {
  /** Also packages that no project requires itself. */
  readonly all?: true;
  /** Days that a release must be old. */
  readonly olderThan: number;
  /** Offers of this step and of smaller ones end with exit code 1. */
  readonly failOn?: UpgradeKind;
  readonly json?: true;
}

/** Lists what is newer than what is in use. @param names of packages or sets; none: all @returns the exit code */
export async function newerCommand(
  names: readonly string[],
  options: NewerOptions,
  output: Output,
): Promise<number> {
  output.progress('reading manifests and registry');
  const base = await loadBase(options, output);
  output.progress(null);
  if (unusableBase(base, output)) return EXIT.unreadable;
  const known = upgradeRows(base, options.olderThan);
  const unknown = names.filter(
    (name) => base.lock?.resolution?.copies.every((one) => one.name !== name) ?? true,
  );
  for (const name of unknown)
    if (!known.some((row) => row.name === name))
      output.complain(`The lockfile has no copy of ${name}.`);
  const rows = known.filter(({ name, packages, isDirect }) =>
    names.length === 0
      ? isDirect || options.all === true
      : names.includes(name) || packages.some((one) => names.includes(one)),
  );
  if (options.json) output.say(JSON.stringify({ format: 1, packages: rows }));
  else tell(rows, output);
  const steps =
    options.failOn === undefined
      ? []
      : UPGRADE_KINDS.slice(0, UPGRADE_KINDS.indexOf(options.failOn) + 1);
  const isFound = rows.some(({ offers }) => offers.some(({ kind }) => steps.includes(kind)));
  return isFound ? EXIT.stale : EXIT.ok;
}

function tell(rows: readonly UpgradeRow[], output: Output): void {
  if (rows.length === 0) return output.say('Nothing newer is there.');
  const lines = rows.map((row) => [
    row.name,
    row.from,
    ...UPGRADE_KINDS.map((kind) => row.offers.find((one) => one.kind === kind)?.to ?? '-'),
    marksOf(row),
  ]);
  for (const line of tableWords([['package', 'in use', ...UPGRADE_KINDS, ''], ...lines]))
    output.say(line);
  const offered = rows.filter(({ offers }) => offers.length > 0).length;
  output.say(
    `${count(rows.length, 'package')} ${rows.length === 1 ? 'has' : 'have'} something newer; ${offered} can be tried.`,
  );
}

/** What is special: a set's members, a pin, why the newest cannot be taken. */
function marksOf({
  isSet,
  packages,
  pin,
  isExcepted,
  deprecated,
  newer,
  offers,
}: UpgradeRow): string {
  const newest = newer.at(-1);
  const kept = offers.some(({ to }) => to === newest?.version) ? null : newest?.why;
  return [
    ...(isSet ? [`set of ${packages.join(', ')}`] : []),
    ...(pin === null ? [] : [`pinned to ${pin}`]),
    ...(isExcepted ? ['has an exception'] : []),
    ...(deprecated === null ? [] : [`in use is deprecated: ${deprecated}`]),
    ...(kept == null || pin !== null ? [] : [`${newest!.version} ${kept}`]),
  ].join('; ');
}
