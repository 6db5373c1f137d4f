#!/usr/bin/env node
import { createRequire } from 'node:module';
import { text } from 'node:stream/consumers';
import { fileURLToPath } from 'node:url';
import { Argument, Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { RegistryError } from '@deep-ledger/core';
import { checkCommand, type CheckOptions } from './check-command.js';
import { compareCommand } from './compare-command.js';
import { completionScript, SHELLS } from './completion-command.js';
import { EXIT } from './exit-codes.js';
import { findingsCommand, type FindingsOptions } from './findings-command.js';
import { GitError } from './git/git.js';
import { lockCommand, type LockOptions } from './lock-command.js';
import { mergeCommand, type MergeOptions } from './merge-command.js';
import { mergeDriverCommand, type MergeDriverOptions } from './merge-driver-command.js';
import { mergeToolCommand, type MergeToolOptions } from './merge-tool-command.js';
import { terminalOutput } from './output.js';
import { reportCommand, type ReportOptions } from './report-command.js';
import { setupCommand, type SetupOptions } from './setup-command.js';
import { traceCommand, type TraceOptions } from './trace-command.js';
import { UnreadableFile } from './unreadable-file.js';

const { version } = createRequire(import.meta.url)('../package.json') as { version: string };
const output = terminalOutput();

const EXITS = `
Exit codes: 0 the lockfile is consistent, or both say the same, or nothing is wrong; 1 it is stale, they differ, both
sides changed one thing, there are findings, or nothing answers the manifests; 2 something cannot be read (a
file, the registry, the command itself).`;

const program = new Command('deep-ledger')
  .description('The lockfile of a workspace, on a work tree.')
  .version(version)
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
const withRegistry = (made: Command): Command =>
  made
    .requiredOption('--registry <place>', 'address of the registry, or a folder of its documents')
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
  .option('--json', 'print the whole answer as JSON (docs/schemas/answer.schema.json)')
  .option('--needless', 'with --json: look for copies that could go without any other change')
  .action(async (options: LockOptions) => {
    process.exitCode = await lockCommand(options, output);
  });

withTree(
  command(
    'check',
    'Say whether ledger.lock answers the manifests, and list what it does not. Asks no registry.',
    'check',
    'check --commit main --json',
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
  .option('--json', 'print the state and its reasons as JSON')
  .action(async (options: CheckOptions) => {
    process.exitCode = await checkCommand(options, () => text(process.stdin), output);
  });

command(
  'compare <before> <after>',
  'Say how two lockfiles differ, and why.',
  'compare old/ledger.lock ledger.lock',
)
  .option('--json', 'print it as JSON (docs/schemas/comparison.schema.json)')
  .action(async (before: string, after: string, options: { json?: true }) => {
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
    process.exitCode = await traceCommand(subject, options, output);
  });

withRegistry(
  withTree(
    command(
      'findings',
      'List what is wrong, the gravest first.',
      'findings --registry http://127.0.0.1:4601',
      'findings --registry ./documents --sarif --fail-on grave',
    ),
  ),
)
  .addOption(
    new Option('--fail-on <weight>', 'findings of this weight and above end with 1')
      .choices(['grave', 'plain', 'light'])
      .default('grave'),
  )
  .option('--no-scan', 'leave source alone')
  .option('--json', 'print them as JSON')
  .addOption(new Option('--sarif', 'print them as SARIF 2.1.0').conflicts('json'))
  .action(async (options: FindingsOptions) => {
    process.exitCode = await findingsCommand(options, version, output);
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
  .option('--json', 'print it as JSON (docs/schemas/merge.schema.json)')
  .action(async (options: MergeOptions) => {
    process.exitCode = await mergeCommand(options, output);
  });

withTree(
  command(
    'report',
    'Tell the roll call which lockfile stands here. The token is read from DEEP_LEDGER_TOKEN.',
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
    process.exitCode = await reportCommand(options, process.env['DEEP_LEDGER_TOKEN'], output);
  });

withTree(
  command(
    'setup-git',
    'Configure this clone: merge driver, mergetool, and checks before a commit and a push.',
    'setup-git --registry http://127.0.0.1:4601',
  ),
)
  .requiredOption('--registry <place>', 'address of the registry, or a folder of its documents')
  .option('--no-hooks', 'leave hooks alone')
  .action(async (options: SetupOptions) => {
    const launcher = fileURLToPath(new URL('../../../bin/deep-ledger', import.meta.url));
    process.exitCode = await setupCommand(options, launcher, output);
  });

withRegistry(
  command('merge-driver <base> <ours> <theirs> <path>', 'Called by git, for one file.'),
).action(
  async (base: string, ours: string, theirs: string, path: string, options: MergeDriverOptions) => {
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
      process.exitCode = await mergeToolCommand([base, ours, theirs, merged], options, output);
    },
  );

command(
  'completion',
  'Print a script that completes commands and options.',
  'completion bash > ~/.local/share/bash-completion/completions/deep-ledger',
)
  .addArgument(new Argument('<shell>', 'the shell').choices(SHELLS))
  .action((shell: (typeof SHELLS)[number]) => output.say(completionScript(program, shell)));

try {
  await program.parseAsync();
} catch (error) {
  output.progress(null);
  if (error instanceof CommanderError)
    process.exitCode = error.exitCode === 0 ? EXIT.ok : EXIT.unreadable;
  else if (
    error instanceof RegistryError ||
    error instanceof UnreadableFile ||
    error instanceof GitError ||
    isSystemError(error)
  ) {
    output.complain(error.message);
    process.exitCode = EXIT.unreadable;
  } else throw error;
}

/** Of the file system: no such folder, no leave to read. */
function isSystemError(error: unknown): error is NodeJS.ErrnoException {
  return error instanceof Error && 'syscall' in error;
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
