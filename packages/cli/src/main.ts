#!/usr/bin/env node
import { Command, CommanderError, InvalidArgumentError } from 'commander';
import { RegistryError } from '@deep-ledger/core';
import { checkCommand } from './check-command.js';
import { EXIT } from './exit-codes.js';
import { compareCommand } from './compare-command.js';
import { lockCommand, type LockOptions, type Output } from './lock-command.js';
import { mergeCommand, type MergeOptions } from './merge-command.js';
import { UnreadableFile } from './unreadable-file.js';

const output: Output = {
  say: (line) => void process.stdout.write(`${line}\n`),
  complain: (line) => void process.stderr.write(`${line}\n`),
};

const EXITS = `
Exit codes: 0 the lockfile is true, or both say the same; 1 it is stale, they differ, both sides changed
one thing, or nothing answers the manifests; 2 something cannot be read (a file, the registry, the command itself).`;

const program = new Command('deep-ledger')
  .description('The lockfile of a workspace, on a work tree.')
  .exitOverride()
  .showHelpAfterError('Run deep-ledger --help for the commands.')
  .addHelpText('after', EXITS);

const REGISTRY = 'address of the registry, or a folder of its documents';
const today = new Date().toISOString().slice(0, 10);

program
  .command('lock')
  .description(
    'Resolve the workspace and write ledger.lock. What it has stays where it still answers.',
  )
  .option('--in <dir>', 'folder of the work tree', '.')
  .requiredOption('--registry <place>', REGISTRY)
  .option('--as-of <day>', 'last day whose releases count, YYYY-MM-DD', readDay, today)
  .option('--refresh [name...]', 'lift what the lockfile has, of these packages or of all')
  .option('--dry-run', 'write nothing')
  .option('--json', 'print the whole answer as JSON (docs/schemas/answer.schema.json)')
  .option('--needless', 'with --json: look for copies that could go without any other change')
  .action(async (options: LockOptions) => {
    process.exitCode = await lockCommand(options, output);
  });

program
  .command('compare <before> <after>')
  .description('Say how two lockfiles differ, and why.')
  .option('--json', 'print it as JSON (docs/schemas/comparison.schema.json)')
  .action(async (before: string, after: string, options: { json?: true }) => {
    process.exitCode = await compareCommand([before, after], options, output);
  });

program
  .command('merge')
  .description(
    'Merge the manifests of three work trees requirement by requirement, and lock the result.',
  )
  .requiredOption('--base <dir>', 'the work tree that both sides come from')
  .requiredOption('--ours <dir>', 'one side')
  .requiredOption('--theirs <dir>', 'the other side')
  .requiredOption('--out <dir>', 'the work tree that gets the result')
  .requiredOption('--registry <place>', REGISTRY)
  .option('--as-of <day>', 'last day whose releases count, YYYY-MM-DD', readDay, today)
  .option('--json', 'print it as JSON (docs/schemas/merge.schema.json)')
  .action(async (options: MergeOptions) => {
    process.exitCode = await mergeCommand(options, output);
  });

program
  .command('check')
  .description(
    'Say whether ledger.lock answers the manifests, and list what it does not. Asks no registry.',
  )
  .option('--in <dir>', 'folder of the work tree', '.')
  .action(async (options: { in: string }) => {
    process.exitCode = await checkCommand(options, output);
  });

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError)
    process.exitCode = error.exitCode === 0 ? EXIT.ok : EXIT.unreadable;
  else if (
    error instanceof RegistryError ||
    error instanceof UnreadableFile ||
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

function readDay(text: string): string {
  const isDay = /^\d{4}-\d{2}-\d{2}$/.test(text) && !Number.isNaN(Date.parse(text));
  if (!isDay) throw new InvalidArgumentError('A day is expected, as in 2026-11-16.');
  return text;
}
