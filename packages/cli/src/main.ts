#!/usr/bin/env node
import { Command, CommanderError } from 'commander';
import { RegistryError } from '@deep-ledger/core';
import { checkCommand } from './check-command.js';
import { EXIT } from './exit-codes.js';
import { lockCommand, type Output } from './lock-command.js';
import { UnreadableFile } from './unreadable-file.js';

const output: Output = {
  say: (line) => void process.stdout.write(`${line}\n`),
  complain: (line) => void process.stderr.write(`${line}\n`),
};

const EXITS = `
Exit codes: 0 the lockfile is true; 1 it is stale, or nothing answers the manifests;
2 something cannot be read (a file, the registry, the command itself).`;

const program = new Command('deep-ledger')
  .description('The lockfile of a workspace, on a work tree.')
  .exitOverride()
  .showHelpAfterError('Run deep-ledger --help for the commands.')
  .addHelpText('after', EXITS);

program
  .command('lock')
  .description(
    'Resolve the workspace and write ledger.lock. What it has stays where it still answers.',
  )
  .option('--in <dir>', 'folder of the work tree', '.')
  .requiredOption('--registry <place>', 'address of the registry, or a folder of its documents')
  .action(async (options: { in: string; registry: string }) => {
    const today = new Date().toISOString().slice(0, 10);
    process.exitCode = await lockCommand({ ...options, today }, output);
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
