import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import express from 'express';
import { Catalogue, registryApp, type PackageDocument } from '@deep-ledger/registry';

type Sketch = Readonly<Record<string, Readonly<Record<string, Readonly<Record<string, string>>>>>>;

/** The integrity of every release, where a test asks for no other. */
export const INTEGRITY = `sha512-${'A'.repeat(86)}==`;

/** Of a release's archive. */
export type IntegrityOf = (name: string, version: string) => string;

/** Documents told briefly: package, version, needs. */
export function documents(
  sketch: Sketch,
  integrity: IntegrityOf = () => INTEGRITY,
): readonly PackageDocument[] {
  return Object.entries(sketch).map(([name, releases]) => ({
    name,
    summary: `about ${name}`,
    releases: Object.entries(releases).map(([version, needs], i) => ({
      version,
      published: `2024-01-0${i + 1}T00:00:00Z`,
      licence: 'MIT',
      needs,
      optional: {},
      peers: {},
      platform: {},
      targets: ['*'],
      deprecated: null,
      withdrawn: false,
      archive: {
        path: `/archives/${name}/${version}`,
        integrity: integrity(name, version),
        bytes: 10,
      },
    })),
  }));
}

/** The registry stand-in on a port of its own, to be stopped, spoilt and changed by tests. */
export class TestRegistry {
  private catalogue = new Catalogue([]);
  private server: Server | null = null;
  private port = 0;
  /** When set, every answer is this text. */
  nonsense: string | null = null;
  /** Texts that are answered, as JSON, in place of what is there; by path. */
  readonly lies = new Map<string, string>();
  /** Wanted of everybody who asks; null: none. */
  token: string | null = null;
  /** Done before an answer to a path. */
  before: ((path: string) => Promise<void>) | null = null;
  readonly asked: string[] = [];

  static async with(sketch: Sketch, integrity?: IntegrityOf): Promise<TestRegistry> {
    const registry = new TestRegistry();
    registry.serve(sketch, integrity);
    await registry.start();
    return registry;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  serve(sketch: Sketch, integrity?: IntegrityOf): void {
    this.catalogue = new Catalogue(documents(sketch, integrity), this.catalogue);
  }

  async start(): Promise<void> {
    const app = express();
    app.use(async (request, response, next) => {
      this.asked.push(request.path);
      await this.before?.(request.path);
      const isLetIn =
        this.token === null || request.headers.authorization === `Bearer ${this.token}`;
      const lie = this.lies.get(request.path);
      if (!isLetIn) response.status(401).end();
      else if (this.nonsense !== null) response.type('text').send(this.nonsense);
      else if (lie !== undefined) response.type('application/json').send(lie);
      else registryApp(this.catalogue)(request, response, next);
    });
    this.server = await new Promise<Server>((resolve) => {
      const server = app.listen(this.port, '127.0.0.1', () => resolve(server));
    });
    this.port = (this.server.address() as AddressInfo).port;
  }

  async stop(): Promise<void> {
    const { server } = this;
    this.server = null;
    if (server === null) return;
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
  }
}
