import {
  checkLock,
  printLock,
  refusedOwnRanges,
  ROOT_FILE,
  type OwnRange,
  type Workspace,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import type { Checked } from './check-against-registry.js';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { commitNamed, filesOfTree, stagedFiles } from './git/git-files.js';
import { lockSum } from './lock-sum.js';
import { usableWorkspace } from './usable-workspace.js';
import type { Output } from './output.js';
import { readWorkTree } from './work-tree.js';

export interface CheckOptions {
  /** Folder of the work tree. */
  readonly in: string;
  /** What is staged in place of the work tree. */
  readonly staged?: true;
  /** A commit in place of the work tree. */
  readonly commit?: string;
  /** The commits that git is about to push, told on standard input as to its hook. */
  readonly pushed?: true;
  readonly json?: true;
  /** Also ask whether locking again would change anything: places of registries as elsewhere, `true` for those that are known. */
  readonly registry?: true | readonly string[];
  readonly offline?: true;
  /** YYYY-MM-DD: with a registry, the last day whose releases count. */
  readonly asOf: string;
}

const HOW_TO_REPAIR =
  'Run deep-ledger lock --registry PLACE, add ledger.lock, and try again. git commit or push with --no-verify leaves the check out.';

/** One thing that was looked at. */
interface Looked {
  readonly what: string;
  readonly files: WorkspaceFiles;
}

/** Says whether lockfiles answer their manifests; asks a registry only where one is named. @returns the worst exit code */
export async function checkCommand(
  options: CheckOptions,
  stdin: () => Promise<string>,
  output: Output,
): Promise<number> {
  let worst: number = EXIT.ok;
  for await (const { what, files } of toLookAt(options, stdin, output))
    worst = Math.max(worst, await check(what, files, options, output));
  return worst;
}

async function* toLookAt(
  { in: folder, staged, commit, pushed }: CheckOptions,
  stdin: () => Promise<string>,
  output: Output,
): AsyncGenerator<Looked> {
  if (staged === true) yield { what: 'what is staged', files: await stagedFiles(folder) };
  else if (commit !== undefined) {
    const oid = await commitNamed(folder, commit);
    yield { what: `commit ${oid.slice(0, 8)}`, files: await filesOfTree(folder, oid) };
  } else if (pushed === true) {
    for (const oid of pushedTips(await stdin())) {
      const files = await filesOfTree(folder, oid);
      // A branch may hold no workspace at all, as one for a site does.
      if (files.has(ROOT_FILE)) yield { what: `commit ${oid.slice(0, 8)}`, files };
    }
  } else yield { what: '', files: await readWorkTree(folder, output.complain) };
}

/** @param text lines of local ref, local commit, remote ref, remote commit; zeros where a branch is deleted */
function pushedTips(text: string): readonly string[] {
  const tips = text.split('\n').flatMap((line) => line.split(' ')[1] ?? []);
  return [...new Set(tips)].filter((oid) => !/^0+$/.test(oid));
}

async function check(
  what: string,
  files: WorkspaceFiles,
  options: CheckOptions,
  output: Output,
): Promise<number> {
  const { json } = options;
  const workspace = usableWorkspace(files, output);
  if (workspace === null) return EXIT.unreadable;
  const { state, reasons, resolution, disputed } = await stateOf(
    workspace,
    files,
    options,
    output.complain,
  );
  const refused = refusedOwnRanges(workspace, options.asOf);
  const sum = state === 'consistent' && resolution !== null ? lockSum(printLock(resolution)) : null;
  if (json)
    output.say(
      JSON.stringify({
        format: 1,
        state,
        sum,
        reasons,
        ...(disputed.length === 0 ? {} : { disputed }),
        ...(refused.length === 0 ? {} : { ownRanges: refused.map(ownRangeJson) }),
        ...(what === '' ? {} : { what }),
      }),
    );
  else {
    for (const { message, place } of reasons)
      output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
    for (const { name, version, locked, offered } of disputed)
      output.complain(
        `${name} ${version}: the lockfile has ${locked}, the registry says ${offered}. Find out which is right.`,
      );
  }
  for (const { requirement, agreed } of refused) {
    const { file, line, project, name, written } = requirement;
    if (!json)
      output.complain(
        `${file}:${line}: ${project} writes ${written} of its own for ${name}, on which ${agreed} is agreed; own-ranges refuses that. Write "shared", or have an exception granted.`,
      );
  }
  const of = what === '' ? '' : ` of ${what}`;
  if (sum !== null && resolution !== null) {
    if (!json)
      output.say(
        `The lockfile${of} is consistent: ${count(resolution.copies.length, 'copy', 'copies')}, sum ${sum.slice(0, 8)}.`,
      );
    return disputed.length + refused.length === 0 ? EXIT.ok : EXIT.stale;
  }
  if (!json) {
    output.complain(`The lockfile${of} is ${state}.`);
    if (options.staged === true || options.pushed === true) output.complain(HOW_TO_REPAIR);
  }
  return state === 'broken' ? EXIT.unreadable : EXIT.stale;
}

function ownRangeJson({ requirement: { project, name, written, file, line }, agreed }: OwnRange) {
  return { project, package: name, range: written, agreed, file, line };
}

async function stateOf(
  workspace: Workspace,
  files: WorkspaceFiles,
  { registry, offline, asOf }: CheckOptions,
  tell: (sentence: string) => void,
): Promise<Checked> {
  const state = checkLock(workspace, files, undefined, asOf);
  if (registry === undefined || state.state !== 'consistent') return { ...state, disputed: [] };
  const { checkAgainstRegistry } = await import('./check-against-registry.js');
  const asked = { registry: registry === true ? [] : registry, offline: offline === true, asOf };
  return checkAgainstRegistry(state, workspace, files, asked, tell);
}
