import { join } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import { execa } from 'execa';
import { SETTINGS, type Settings } from '../settings.js';

/** No prompts, no other transports than those people use, and the same language on every machine. */
export const ENV = {
  GIT_TERMINAL_PROMPT: '0',
  GIT_ALLOW_PROTOCOL: 'file:git:http:https:ssh',
  GIT_SSH_COMMAND: 'ssh -o BatchMode=yes',
  LC_ALL: 'C',
};

/** The bare clones, one for each workspace by its id, and `git` run in them. Nothing ever has a work tree. */
@Injectable()
export class GitClones {
  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  /** Where a workspace's clone lies. */
  folder(id: string): string {
    return join(this.settings.dataFolder, 'git', `${id}.git`);
  }

  /** Runs git in a clone. */
  run(
    id: string,
    args: readonly string[],
    options: {
      env?: Record<string, string>;
      input?: string;
      timeoutMs?: number;
      stripFinalNewline?: boolean;
    } = {},
  ) {
    return execa('git', args, {
      cwd: this.folder(id),
      env: { ...ENV, ...options.env },
      maxBuffer: 1 << 30,
      timeout: options.timeoutMs ?? 0,
      stripFinalNewline: options.stripFinalNewline ?? true,
      ...(options.input === undefined ? { stdin: 'ignore' } : { input: options.input }),
    });
  }
}
