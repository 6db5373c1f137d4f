import { bytes as shownBytes } from '@deep-ledger/core';
import { checkTree, install, InstallTrouble, stateOf } from '@deep-ledger/install';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import {
  archivesHere,
  cacheHere,
  fetchWords,
  installHere,
  keepBound,
  type InstallHereOptions,
} from './install-here.js';
import type { Output } from './output.js';

export interface InstallOptions extends InstallHereOptions {
  /** Say what is not laid out as the lockfile has it, and change nothing. */
  readonly check?: true;
  /** Fetch archives again that the cache has. */
  readonly refetch?: true;
  readonly json?: true;
}

/** Lays out what the lockfile says, and nothing else. @returns the exit code */
export async function installCommand(options: InstallOptions, output: Output): Promise<number> {
  const here = await installHere(options, output);
  if (typeof here === 'number') return here;
  const { workspace, plan, terms } = here;
  if (options.check === true) {
    output.progress('looking at what is laid out');
    const faults = await checkTree(options.in, stateOf(plan, terms));
    output.progress(null);
    if (options.json === true) output.say(JSON.stringify({ faults }, null, 2));
    else
      for (const { kind, where, says } of faults)
        output.say(`${kind}  ${where === null ? '' : `${where}: `}${says}`);
    if (options.json !== true && faults.length === 0)
      output.say(`${count(plan.copies.length, 'copy', 'copies')} as the lockfile has them.`);
    return faults.length === 0 ? EXIT.ok : EXIT.stale;
  }
  const cache = cacheHere(options);
  const from = await archivesHere(options, workspace, output);
  try {
    const done = await install(options.in, cache, plan, terms, from, {
      isAnew: options.refetch === true,
      fetching: (progress) => output.progress(fetchWords(progress)),
      laying: (n, total) => output.progress(`laying out: ${n} of ${total}`),
    });
    output.progress(null);
    if (done.isUnchanged) {
      output.say(
        `${count(done.copies, 'copy', 'copies')} as the lockfile has them; nothing to do.`,
      );
      return EXIT.ok;
    }
    const { fetched } = done;
    for (const { copy, why } of fetched?.skipped ?? [])
      output.say(`skipped  ${copy.name} ${copy.version}, which is optional: ${why}`);
    output.say(
      `${count(done.copies, 'copy', 'copies')} installed for ${count(plan.projects.length, 'project')}: ${done.made} laid out, ${done.removed} removed, ${fetched?.fetched ?? 0} fetched (${shownBytes(fetched?.bytes ?? 0)}).`,
    );
    if ((fetched?.fetched ?? 0) > 0) await keepBound(cache, plan, output);
    return EXIT.ok;
  } catch (error) {
    output.progress(null);
    if (!(error instanceof InstallTrouble)) throw error;
    output.complain(error.message);
    output.complain('What was laid out before is as it was.');
    return EXIT.unreadable;
  }
}
