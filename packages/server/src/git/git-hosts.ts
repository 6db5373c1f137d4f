import { Injectable } from '@nestjs/common';
import {
  BrokenCircuitError,
  circuitBreaker,
  ConsecutiveBreaker,
  handleType,
  type CircuitBreakerPolicy,
} from 'cockatiel';
import { LRUCache } from 'lru-cache';
import type { Credentials } from '@deep-ledger/registry-client';
import pLimit, { type LimitFunction } from 'p-limit';
import { Problem } from '../problems/problem.js';
import { GitFailed } from './git-clones.js';
import { GitProcesses } from './git-processes.js';
import { GitEnded, type GitAnswer } from './run-git.js';

/** Calls to one host at once: one that says nothing takes no more places than these. */
const AT_ONCE = 4;
/** After so many calls in a row without an answer a host is left alone for a while. */
const SILENT_CALLS = 2;
const REST_MS = 30_000;

interface Host {
  readonly limit: LimitFunction;
  readonly breaker: CircuitBreakerPolicy;
}

export interface HostCall {
  /** The clone it is about; none: where the server runs. */
  readonly cwd?: string;
  readonly limitMs: number;
  readonly signal?: AbortSignal | undefined;
  readonly credentials: Credentials | null;
}

/**
 * Calls of git to where repositories lie. One host that hangs does not hold up another: each has its own number of
 * calls at once, and is left alone for a while once it has let calls run out.
 */
@Injectable()
export class GitHosts {
  private readonly hosts = new LRUCache<string, Host>({ max: 1000 });

  constructor(private readonly processes: GitProcesses) {}

  /** @throws GitFailed, GitEnded, Problem REPOSITORY_UNREADABLE while the host is left alone */
  async call(
    address: string,
    args: readonly string[],
    { credentials, ...call }: HostCall,
  ): Promise<GitAnswer> {
    const { limit, breaker } = this.hostOf(address);
    try {
      const answer = await limit(() =>
        breaker.execute(() =>
          this.processes.run([...helperFor(credentials), ...args], {
            ...call,
            env: surroundings(credentials),
          }),
        ),
      );
      if (answer.exitCode !== 0) throw new GitFailed(args[0]!, answer);
      return answer;
    } catch (error) {
      if (!(error instanceof BrokenCircuitError)) throw error;
      throw new Problem(
        'REPOSITORY_UNREADABLE',
        422,
        'The repository cannot be read',
        `${address} did not answer lately and is left alone for up to ${REST_MS / 1000} seconds. Then it is asked again.`,
      );
    }
  }

  private hostOf(address: string): Host {
    const name = hostName(address);
    const known = this.hosts.get(name);
    if (known !== undefined) return known;
    const host = {
      limit: pLimit(AT_ONCE),
      breaker: circuitBreaker(
        handleType(GitEnded, ({ isStopped }) => !isStopped),
        { halfOpenAfter: REST_MS, breaker: new ConsecutiveBreaker(SILENT_CALLS) },
      ),
    };
    this.hosts.set(name, host);
    return host;
  }
}

/** What answers for an address: its host, or, on this machine, its folder, which may lie on a mount that hangs. */
function hostName(address: string): string {
  if (/^\w+:\/\//.test(address) && URL.canParse(address)) return new URL(address).host || address;
  return /^(?:[\w.-]+@)?([\w.-]+):/.exec(address)?.[1] ?? address;
}

/**
 * Gives credentials to git as its credential protocol has it. They stand in its environment, which other accounts of
 * the machine cannot read, and in no argument, which they can.
 */
function helperFor(credentials: Credentials | null): readonly string[] {
  // Nobody else's helper is asked: it would answer for whoever runs the server.
  const none = ['-c', 'credential.helper='];
  return credentials === null ? none : [...none, '-c', `credential.helper=${HELPER}`];
}

const HELPER =
  '!f() { test "$1" = get && printf "username=%s\\npassword=%s\\n" "$DEEP_LEDGER_USER" "$DEEP_LEDGER_PASSWORD"; }; f';

function surroundings(credentials: Credentials | null): Record<string, string> {
  if (credentials === null) return {};
  return { DEEP_LEDGER_USER: credentials.user, DEEP_LEDGER_PASSWORD: credentials.password };
}
