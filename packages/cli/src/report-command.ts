import { readFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { LOCK_FILE } from '@deep-ledger/core';
import { readState } from '@deep-ledger/install';
import { EXIT } from './exit-codes.js';
import { tryGit } from './git/git.js';
import { lockSum } from './lock-sum.js';
import type { Output } from './output.js';

const TIMEOUT_MS = 10_000;

export interface ReportOptions {
  /** Folder of the work tree. */
  readonly in: string;
  /** Address of the server. */
  readonly to: string;
  /** The workspace's name there. */
  readonly workspace: string;
  readonly kind: 'machine' | 'build';
  readonly name?: string;
  /** The lockfile from which packages were installed last; else what `install` has laid out here counts. */
  readonly installed?: string;
}

/** Tells the server which lockfile stands here. @param token a secret: never said @returns the exit code */
export async function reportCommand(
  options: ReportOptions,
  token: string | undefined,
  output: Output,
): Promise<number> {
  if (token === undefined || token === '') {
    output.complain('No token. Put one that may report into DEEP_LEDGER_TOKEN.');
    return EXIT.unreadable;
  }
  const text = await readFile(join(options.in, LOCK_FILE), 'utf8');
  const installed =
    options.installed === undefined
      ? ((await readState(options.in))?.lockSum ?? null)
      : lockSum(await readFile(options.installed, 'utf8'));
  const branch = await tryGit(options.in, ['symbolic-ref', '--short', '-q', 'HEAD']);
  const commit = await tryGit(options.in, ['rev-parse', '-q', '--verify', 'HEAD']);
  const body = {
    kind: options.kind,
    name: options.name ?? hostname(),
    branch: branch.code === 0 ? branch.out.trim() : null,
    commit: commit.code === 0 ? commit.out.trim() : null,
    lockSum: lockSum(text),
    installedSum: installed,
  };
  const address = `${options.to.replace(/\/+$/, '')}/api/workspaces/${encodeURIComponent(options.workspace)}/reports`;
  const response = await fetch(address, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${token}` },
    body: JSON.stringify(body),
    signal: AbortSignal.timeout(TIMEOUT_MS),
  }).catch((error: unknown) => {
    output.complain(`${options.to} cannot be reached: ${reasonOf(error)}`);
    return null;
  });
  if (response === null) return EXIT.unreadable;
  if (response.ok) {
    output.say(`Reported ${body.name}: lockfile ${body.lockSum.slice(0, 8)}.`);
    return EXIT.ok;
  }
  const problem = (await response.json().catch(() => ({}))) as { detail?: string };
  output.complain(problem.detail ?? `The server answers with status ${response.status}.`);
  return EXIT.unreadable;
}

function reasonOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  return error.cause instanceof Error ? error.cause.message : error.message;
}
