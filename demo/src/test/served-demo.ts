import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { execa } from 'execa';
import { readLock, type Resolution } from '@deep-ledger/core';
import { Catalogue, registryApp } from '@deep-ledger/registry';
import { builtDemo } from './built-demo.js';

export const COMMAND = fileURLToPath(new URL('../../../bin/deep-ledger', import.meta.url));

/** The demo's registry on a port of its own, and a clone of its repository. */
export class ServedDemo {
  private constructor(
    readonly folder: string,
    private readonly registry: Server,
  ) {}

  static async start(): Promise<ServedDemo> {
    const { documents, repository } = await builtDemo();
    const folder = await mkdtemp(join(tmpdir(), 'served-demo-'));
    const registry = await new Promise<Server>((resolve) => {
      const server = registryApp(new Catalogue(documents)).listen(0, '127.0.0.1', () =>
        resolve(server),
      );
    });
    const demo = new ServedDemo(folder, registry);
    await execa('git', ['clone', '-q', '-b', 'main', repository, demo.clone]);
    return demo;
  }

  get clone(): string {
    return join(this.folder, 'clone');
  }

  async lock(): Promise<Resolution> {
    const reading = readLock(await readFile(join(this.clone, 'ledger.lock'), 'utf8'));
    if (reading.kind !== 'read') throw new Error(reading.kind);
    return reading.resolution;
  }

  /** Runs the command in the clone, however it ends. */
  ledger(...[command, ...args]: readonly string[]) {
    const { port } = this.registry.address() as AddressInfo;
    return execa(COMMAND, [command!, '--registry', `http://127.0.0.1:${port}`, ...args], {
      cwd: this.clone,
      env: { DEEP_LEDGER_CACHE: join(this.folder, 'cache'), TMPDIR: this.folder },
      reject: false,
    });
  }

  async git(...args: readonly string[]): Promise<string> {
    const who = ['-c', 'user.name=gate crew', '-c', 'user.email=gate@brindlepeak.example'];
    return (await execa('git', [...who, ...args], { cwd: this.clone })).stdout;
  }

  async stop(): Promise<void> {
    this.registry.closeAllConnections();
    this.registry.close();
    await rm(this.folder, { recursive: true, force: true });
  }
}
