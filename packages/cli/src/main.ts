import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { text } from 'node:stream/consumers';
import { Argument, Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import type { RequirementKind, UpgradeKind } from '@deep-ledger/core';
import type { AddOptions, RemoveOptions } from './add-command.js';
import type { BisectOptions } from './bisect-command.js';
import type { BringInOptions } from './bring-in-command.js';
import type { CheckOptions } from './check-command.js';
import { SHELLS } from './shells.js';
import { EXIT } from './exit-codes.js';
import type { FindingsOptions } from './findings-command.js';
import type { InitOptions } from './init-command.js';
import type { LockOptions } from './lock-command.js';
import type { MergeOptions } from './merge-command.js';
import type { MergeDriverOptions } from './merge-driver-command.js';
import type { MergeToolOptions } from './merge-tool-command.js';
import { toldWords } from './told-errors.js';
import { quietWhenNobodyReads, terminalOutput } from './output.js';
import type { NewerOptions } from './newer-command.js';
import type { SearchOptions } from './search-command.js';
import type { ReportOptions } from './report-command.js';
import type { InstallOptions } from './install-command.js';
import type { FetchOptions } from './fetch-command.js';
import type { CacheOptions, CleanOptions } from './cache-command.js';
import type { SetupOptions } from './setup-command.js';
import type { TraceOptions } from './trace-command.js';
import type { UpgradeOptions } from './upgrade-command.js';

const output = terminalOutput();
quietWhenNobodyReads();

const EXITS = `
Exit codes: 0 the lockfile is consistent, or both say the same, or nothing is wrong; 1 it is stale, they differ, both
sides changed one thing, there are findings, or nothing answers the manifests; 2 something cannot be read (a
file, the registry, the command itself).`;

const program = new Command('deep-ledger')
  .description('The lockfile of a workspace, on a work tree.')
  .option('-V, --version', 'output the version number')
  .on('option:version', () => {
    output.say(ownVersion());
    throw new CommanderError(0, 'commander.version', '');
  })
  .exitOverride()
  .showHelpAfterError('Run deep-ledger --help for the commands.')
  .addHelpText('after', EXITS);

const today = new Date().toISOString().slice(0, 10);

function command(usage: string, description: string, ...examples: readonly string[]): Command {
  const made = program.command(usage).description(description);
  if (examples.length > 0)
    made.addHelpText(
      'after',
      `\nExamples:\n${examples.map((one) => `  deep-ledger ${one}`).join('\n')}`,
    );
  return made;
}

const withTree = (made: Command): Command =>
  made.option('--in <dir>', 'folder of the work tree', '.');
/** Places of registries; each further one is added to those before. */
const registryOption = (): Option =>
  new Option(
    '--registry <place>',
    'where the registry is: an address, or a folder of its documents; NAME=PLACE where there are several',
  ).argParser((place: string, before: readonly string[] = []) => [...before, place]);
const acceptOption = (): Option =>
  new Option('--accept <id...>', 'terms that you accept for the team');
const withRegistry = (made: Command): Command =>
  made
    .addOption(registryOption())
    .option('--offline', 'ask no registry; take the documents that were fetched before')
    .option('--as-of <day>', 'last day whose releases count, YYYY-MM-DD', readDay, today);

withRegistry(
  withTree(
    command(
      'lock',
      'Resolve the workspace and write ledger.lock. What it has stays where it still answers.',
      'lock --registry http://127.0.0.1:4601',
      'lock --registry ./documents --refresh scree-log --dry-run',
    ),
  ),
)
  .option('--refresh [name...]', 'lift what the lockfile has, of these packages or of all')
  .option('--dry-run', 'write nothing')
  .option(
    '--take-integrity <name...>',
    "take the registry's integrity of these packages where the lockfile has another",
  )
  .option('--from-nothing', 'throw away what the lockfile has, also where it cannot be read')
  .option('--json', 'print the whole answer as JSON (docs/schemas/answer.schema.json)')
  .option('--needless', 'with --json: look for copies that could go without any other change')
  .action(async (options: LockOptions) => {
    const { lockCommand } = await import('./lock-command.js');
    process.exitCode = await lockCommand(options, output);
  });

// Written out, so that the core is not loaded for commands that do not need it.
const STEPS: readonly UpgradeKind[] = ['patch', 'minor', 'major'];
const KINDS: readonly RequirementKind[] = ['runtime', 'dev', 'peer', 'optional'];
const kindOption = (flags: string, description: string): Option =>
  new Option(flags, description).choices(STEPS);
const olderThanOption = (): Option =>
  new Option('--older-than <days>', 'only releases that are at least so old')
    .argParser(readCount)
    .default(0);

withTree(
  command(
    'init',
    'Begin a workspace, or with --project a project in it. What is there already is left alone.',
    'init --name brindlepeak --projects "apps/*" "libs/*"',
    'init --project apps/kiosk',
  ),
)
  .option('--project <dir>', 'folder of a project, from the work tree')
  .option('--name <name>', "of the workspace or project; the folder's when absent")
  .option('--projects <pattern...>', "patterns of the projects' folders", ['*'])
  .option('--registry-name <name>', 'what ledger.toml calls the registry', 'main')
  .action(async (options: InitOptions) => {
    const { initCommand } = await import('./init-command.js');
    process.exitCode = await initCommand(options, output);
  });

withRegistry(
  withTree(
    command(
      'search <word...>',
      'Look for packages by words of name or summary, in all registries of the workspace.',
      'search logging --registry http://127.0.0.1:4601',
    ),
  ),
)
  .option('--json', 'print them as JSON')
  .action(async (words: readonly string[], options: SearchOptions) => {
    const { searchCommand } = await import('./search-command.js');
    process.exitCode = await searchCommand(words, options, output);
  });

withRegistry(
  withTree(
    command(
      'show <package>',
      'Tell of a package: its releases, which of them can be used, and who requires it.',
      'show scree-log',
    ),
  ),
)
  .option('--json', 'print it as JSON')
  .action(async (name: string, options: SearchOptions) => {
    const { showCommand } = await import('./search-command.js');
    process.exitCode = await showCommand(name, options, output);
  });

withRegistry(
  withTree(
    command(
      'newer [package...]',
      'List what is newer than what is in use, with the newest patch, minor and major release that can be taken.',
      'newer --registry http://127.0.0.1:4601',
      'newer scree-log --fail-on minor',
    ),
  ),
)
  .option('--all', 'also packages that no project requires itself')
  .addOption(olderThanOption())
  .addOption(kindOption('--fail-on <step>', 'such a step, or a smaller one, ends with 1'))
  .option('--json', 'print it as JSON')
  .action(async (names: readonly string[], options: NewerOptions) => {
    const { newerCommand } = await import('./newer-command.js');
    process.exitCode = await newerCommand(names, options, output);
  });

withRegistry(
  withTree(
    command(
      'upgrade [package...]',
      'Take newer releases and lock. Of all, the most that can be taken together; of those that are named (NAME or NAME@RANGE), all or nothing.',
      'upgrade --take patch',
      'upgrade scree-log tarn-json@^1.4.0 --dry-run',
      'upgrade --pick "moraine-*"',
    ),
  ),
)
  .addOption(kindOption('--take <step>', 'how large a step may be').default('minor'))
  .option('--all', 'also packages that no project requires itself')
  .option('--pick', 'choose from a list on the terminal')
  .addOption(acceptOption())
  .addOption(olderThanOption())
  .option('--dry-run', 'write nothing')
  .action(async (wanted: readonly string[], options: UpgradeOptions) => {
    const { upgradeCommand } = await import('./upgrade-command.js');
    process.exitCode = await upgradeCommand(wanted, options, output);
  });

const withArchives = (made: Command): Command =>
  withRegistry(withTree(made))
    .option('--target <target>', 'for this target in place of the machine’s own')
    .option('--no-dev', 'without what is required for development')
    .option('--cache <dir>', 'folder of the cache; else DEEP_LEDGER_CACHE, else the user’s')
    .option('--from <dir>', 'archives out of a folder that fetch --into has filled');
const withInstalling = (made: Command): Command =>
  withArchives(made)
    .option('--project <project...>', 'for these alone, by name or folder, and what they require')
    .option('--refetch', 'fetch archives again that are there');

withInstalling(
  command(
    'install',
    'Lay out what the lockfile says, each copy with what it is answered; the lockfile never changes.',
    'install',
    'install --no-dev --offline',
    'install --check',
  ),
)
  .option('--check', 'say what is not laid out as the lockfile has it, and change nothing')
  .option('--json', 'the faults of --check as JSON')
  .action(async (options: InstallOptions) => {
    const { installCommand } = await import('./install-command.js');
    process.exitCode = await installCommand(options, output);
  });

withInstalling(
  command(
    'fetch',
    'Fetch the archives of the lockfile into the cache, or into a folder that is carried elsewhere.',
    'fetch',
    'fetch --into /media/stick/archives',
  ),
)
  .option('--into <dir>', 'write the archives there')
  .action(async (options: FetchOptions) => {
    const { fetchCommand } = await import('./fetch-command.js');
    process.exitCode = await fetchCommand(options, output);
  });

withArchives(
  command(
    'bisect <command...>',
    'Find which of the changes between two lockfiles makes a command fail. Each trial is a lockfile of its own, laid out in a scratch tree.',
    'bisect --works HEAD~20 -- node apps/kiosk/start.js',
    'bisect --works 2026-03-01 --fails HEAD --says "no such lift" --at apps/kiosk -- ./run-tests',
  ),
)
  .requiredOption(
    '--works <what>',
    'a commit, a day (YYYY-MM-DD) or a lockfile with which it works',
  )
  .option('--fails <what>', 'one with which it fails', 'HEAD')
  .option('--at <dir>', 'where the command runs, from the root', '.')
  .option('--limit <seconds>', 'so long one trial may take; longer is failing', readCount, 600)
  .option('--says <text>', 'only what prints this counts as failing')
  .option('--keep', 'leave the scratch tree')
  .option('--json', 'as JSON')
  .action(async (words: readonly string[], options: BisectOptions) => {
    const { bisectCommand } = await import('./bisect-command.js');
    process.exitCode = await bisectCommand(words, options, output);
  });

const cache = command('cache', 'The archives that are kept on this machine.');
const cacheCommand = (usage: string, description: string): Command =>
  withTree(cache.command(usage).description(description)).option(
    '--cache <dir>',
    'folder of the cache; else DEEP_LEDGER_CACHE, else the user’s',
  );
cacheCommand('where', 'Say where it is.').action(async (options: CacheOptions) => {
  const { cacheWhere } = await import('./cache-command.js');
  process.exitCode = cacheWhere(options, output);
});
cacheCommand('list [pattern]', 'What is there, and whether this lockfile uses it.')
  .option('--json', 'as JSON')
  .action(async (pattern: string | undefined, options: CacheOptions) => {
    const { cacheList } = await import('./cache-command.js');
    process.exitCode = await cacheList(pattern, options, output);
  });
cacheCommand('verify', 'Hash everything again; what does not hold is removed.').action(
  async (options: CacheOptions) => {
    const { cacheVerify } = await import('./cache-command.js');
    process.exitCode = await cacheVerify(options, output);
  },
);
cacheCommand('clean [pattern]', 'Remove archives; on a terminal it asks first.')
  .addOption(
    new Option('--unused-for <days>', 'those that nobody used for so long').argParser(readCount),
  )
  .option('--yes', 'do not ask')
  .action(async (pattern: string | undefined, options: CleanOptions) => {
    const { cacheClean } = await import('./cache-command.js');
    process.exitCode = await cacheClean(pattern, options, output);
  });

withRegistry(
  withTree(
    command(
      'add <package...>',
      'Add packages (NAME or NAME@RANGE) to projects and lock, or change nothing.',
      'add belay-retry --to kiosk gate',
      'add belay-retry@^2.0.0 --to apps/kiosk --shared --dry-run',
    ),
  ),
)
  .requiredOption('--to <project...>', 'projects by name or folder')
  .addOption(
    new Option('--kind <kind>', 'what they require it for').choices(KINDS).default('runtime'),
  )
  .option('--shared', 'agree on the range for the whole workspace')
  .addOption(acceptOption())
  .option('--dry-run', 'write nothing')
  .action(async (wanted: readonly string[], options: AddOptions) => {
    const { addCommand } = await import('./add-command.js');
    process.exitCode = await addCommand(wanted, options, output);
  });

withRegistry(
  withTree(
    command(
      'remove <package...>',
      'Take packages out of projects and lock, or change nothing.',
      'remove belay-retry --from kiosk',
    ),
  ),
)
  .requiredOption('--from <project...>', 'projects by name or folder')
  .option('--dry-run', 'write nothing')
  .action(async (names: readonly string[], options: RemoveOptions) => {
    const { removeCommand } = await import('./add-command.js');
    process.exitCode = await removeCommand(names, options, output);
  });

withTree(
  command(
    'bring-in',
    'Look at a repository in layouts of its own, and propose the shapes by which it can be read.',
    'bring-in --in ../ferries',
    'bring-in --write --name ferries',
  ),
)
  .option('--write', `write ledger.toml and ledger.shapes.toml; without it they are shown`)
  .option('--name <name>', "of the workspace; the folder's when absent")
  .option('--registry-name <name>', 'what ledger.toml calls the registry', 'main')
  .action(async (options: BringInOptions) => {
    const { bringInCommand } = await import('./bring-in-command.js');
    process.exitCode = await bringInCommand(options, output);
  });

withTree(
  command(
    'check',
    'Say whether ledger.lock answers the manifests, and list what it does not. Asks no registry unless one is named.',
    'check',
    'check --commit main --json',
    'check --registry http://127.0.0.1:4601',
  ),
)
  .addOption(new Option('--staged', 'what is staged').conflicts(['commit', 'pushed']))
  .addOption(new Option('--commit <commit>', 'a commit').conflicts(['staged', 'pushed']))
  .addOption(
    new Option('--pushed', 'the commits that a push hook is told on standard input').conflicts([
      'staged',
      'commit',
    ]),
  )
  .addOption(
    new Option(
      '--registry [place]',
      'also say whether locking again would change anything; without a place, where the registries are known to be',
    ).argParser((place: string, before: true | readonly string[] = []) => [
      ...(before === true ? [] : before),
      place,
    ]),
  )
  .option('--as-of <day>', 'with --registry: last day whose releases count', readDay, today)
  .option('--offline', 'with --registry: take the documents that were fetched before')
  .option('--json', 'print the state and its reasons as JSON')
  .action(async (options: CheckOptions) => {
    const { checkCommand } = await import('./check-command.js');
    process.exitCode = await checkCommand(options, () => text(process.stdin), output);
  });

command(
  'compare <before> <after>',
  'Say how two lockfiles differ, and why. Each is a file, or a commit or a day (YYYY-MM-DD) that has one.',
  'compare old/ledger.lock ledger.lock',
  'compare HEAD~2 HEAD',
)
  .option('--json', 'print it as JSON (docs/schemas/comparison.schema.json)')
  .action(async (before: string, after: string, options: { json?: true }) => {
    const { compareCommand } = await import('./compare-command.js');
    process.exitCode = await compareCommand([before, after], options, output);
  });

withTree(
  command(
    'trace <package>',
    'Say by which chains a package, or one copy of it (name@version), comes in.',
    'trace tarn-json',
    'trace tarn-json@1.3.1 --from apps/pass-office --count 5',
  ),
)
  .option('--from <folder>', "only chains that begin in this project's folder")
  .option('--count <number>', 'so many chains, shortest first', readCount, 20)
  .option('--json', 'print them as JSON')
  .action(async (subject: string, options: TraceOptions) => {
    const { traceCommand } = await import('./trace-command.js');
    process.exitCode = await traceCommand(subject, options, output);
  });

withRegistry(
  withTree(
    command(
      'findings',
      'List what is wrong, the worst first.',
      'findings --registry http://127.0.0.1:4601',
      'findings --registry ./documents --sarif --fail-on error',
    ),
  ),
)
  .addOption(
    new Option('--fail-on <severity>', 'findings of this severity and above end with 1')
      .choices(['error', 'warning', 'note'])
      .default('error'),
  )
  .option('--no-scan', 'leave source alone')
  .option('--json', 'print them as JSON')
  .addOption(new Option('--sarif', 'print them as SARIF 2.1.0').conflicts('json'))
  .action(async (options: FindingsOptions) => {
    const { findingsCommand } = await import('./findings-command.js');
    process.exitCode = await findingsCommand(options, ownVersion(), output);
  });

withRegistry(
  command(
    'merge',
    'Merge the manifests of three work trees requirement by requirement, and lock the result.',
  ),
)
  .requiredOption('--base <dir>', 'the work tree that both sides come from')
  .requiredOption('--ours <dir>', 'one side')
  .requiredOption('--theirs <dir>', 'the other side')
  .requiredOption('--out <dir>', 'the work tree that gets the result')
  .addOption(
    new Option('--take <side>', 'decide every conflict so').choices(['ours', 'theirs', 'base']),
  )
  .option('--json', 'print it as JSON (docs/schemas/merge.schema.json)')
  .action(async (options: MergeOptions) => {
    const { mergeCommand } = await import('./merge-command.js');
    process.exitCode = await mergeCommand(options, output);
  });

withTree(
  command(
    'report',
    'Report which lockfile stands on this machine. The token is read from DEEP_LEDGER_TOKEN.',
    'report --to http://127.0.0.1:4600 --workspace brindlepeak --kind build --name "nightly"',
  ),
)
  .requiredOption('--to <address>', 'address of the server')
  .requiredOption('--workspace <name>', "the workspace's name there")
  .addOption(
    new Option('--kind <kind>', 'who reports').choices(['machine', 'build']).default('machine'),
  )
  .option('--name <name>', "the machine's or build run's name; the host's name where there is none")
  .option('--installed <file>', 'the lockfile from which packages were installed last')
  .action(async (options: ReportOptions) => {
    const { reportCommand } = await import('./report-command.js');
    process.exitCode = await reportCommand(options, process.env['DEEP_LEDGER_TOKEN'], output);
  });

withTree(
  command(
    'setup-git',
    'Configure this clone: merge driver, mergetool, and checks before a commit and a push.',
    'setup-git --registry http://127.0.0.1:4601',
  ),
)
  .addOption(registryOption())
  .option('--no-hooks', 'leave hooks alone')
  .action(async (options: SetupOptions) => {
    const launcher = join(dirname(ownPackage()), '../../bin/deep-ledger');
    const { setupCommand } = await import('./setup-command.js');
    process.exitCode = await setupCommand(options, launcher, output);
  });

withRegistry(
  command('merge-driver <base> <ours> <theirs> <path>', 'Called by git, for one file.'),
).action(
  async (base: string, ours: string, theirs: string, path: string, options: MergeDriverOptions) => {
    const { mergeDriverCommand } = await import('./merge-driver-command.js');
    process.exitCode = await mergeDriverCommand([base, ours, theirs, path], options, output);
  },
);

withRegistry(command('merge-tool <base> <ours> <theirs> <merged>', 'Called by git mergetool.'))
  .addOption(
    new Option('--take <side>', 'decide every conflict so').choices(['ours', 'theirs', 'base']),
  )
  .action(
    async (
      base: string,
      ours: string,
      theirs: string,
      merged: string,
      options: MergeToolOptions,
    ) => {
      const { mergeToolCommand } = await import('./merge-tool-command.js');
      process.exitCode = await mergeToolCommand([base, ours, theirs, merged], options, output);
    },
  );

command(
  'completion',
  'Print a script that completes commands and options.',
  'completion bash > ~/.local/share/bash-completion/completions/deep-ledger',
)
  .addArgument(new Argument('<shell>', 'the shell').choices(SHELLS))
  .action(async (shell: (typeof SHELLS)[number]) => {
    const { completionScript } = await import('./completion-command.js');
    output.say(completionScript(program, shell));
  });

void program.parseAsync().catch((error: unknown) => {
  output.progress(null);
  const told = toldWords(error);
  if (error instanceof CommanderError)
    process.exitCode = error.exitCode === 0 ? EXIT.ok : EXIT.unreadable;
  else if (told !== null) {
    output.complain(told);
    process.exitCode = EXIT.unreadable;
  } else throw error;
});

/** Where it lies is not where this file lies once that is part of a bundle. */
function ownPackage(): string {
  return createRequire(import.meta.url).resolve('@deep-ledger/cli/package.json');
}

function ownVersion(): string {
  const { version } = JSON.parse(readFileSync(ownPackage(), 'utf8')) as { version: string };
  return version;
}

function readDay(value: string): string {
  const isDay = /^\d{4}-\d{2}-\d{2}$/.test(value) && !Number.isNaN(Date.parse(value));
  if (!isDay) throw new InvalidArgumentError('A day is expected, as in 2026-11-16.');
  return value;
}

function readCount(value: string): number {
  const count = Number(value);
  if (!Number.isInteger(count) || count < 1)
    throw new InvalidArgumentError('A number is expected.');
  return count;
}
