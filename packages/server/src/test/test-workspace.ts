import { seen, type SeenDraft } from './seen-draft.js';
import { TestRegistry, type IntegrityOf } from './test-registry.js';
import { TestRepository, type Files } from './test-repository.js';
import { TestServer } from './test-server.js';

/** A repository of the test's own, opened as a workspace of a server of its own. */
export class TestWorkspace {
  private constructor(
    readonly server: TestServer,
    readonly registry: TestRegistry,
    readonly repository: TestRepository,
    readonly slug: string,
    private readonly ownsServer: boolean,
  ) {}

  /** @param beside the server of another, where both are to be open */
  static async open(
    files: Files,
    packages: Parameters<typeof TestRegistry.with>[0],
    beside?: TestServer,
    integrity?: IntegrityOf,
  ): Promise<TestWorkspace> {
    const server = beside ?? (await TestServer.start());
    const registry = await TestRegistry.with(packages, integrity);
    const repository = await TestRepository.with(files);
    const { body } = await server.http
      .post('/api/workspaces')
      .send({ address: repository.address, registry: registry.url })
      .expect(201);
    const { slug } = body as { slug: string };
    return new TestWorkspace(server, registry, repository, slug, beside === undefined);
  }

  /** The address of something of the workspace. */
  at(path: string): string {
    return `/api/workspaces/${this.slug}${path}`;
  }

  async get<T>(path: string, status = 200): Promise<T> {
    const { body } = await this.server.http.get(this.at(path)).expect(status);
    return body as T;
  }

  /** A draft of its own with these edits. */
  async drafted<T extends SeenDraft>(edits: readonly object[]): Promise<T & { id: string }> {
    const { http } = this.server;
    const { body } = await http.post(this.at('/drafts')).send({}).expect(201);
    const { id } = body as { id: string };
    const added = await http
      .post(this.at(`/drafts/${id}/edits`))
      .send({ edits })
      .expect(200);
    return added.body as T & { id: string };
  }

  /** Posts edits as a draft of their own; none bring the lockfile up alone. */
  async post(edits: readonly object[], message: string): Promise<void> {
    const http = this.server.http;
    const created = await http.post(this.at('/drafts')).send({}).expect(201);
    let draft = created.body as SeenDraft & { id: string };
    const { id } = draft;
    if (edits.length > 0) {
      const added = await http.post(this.at(`/drafts/${id}/edits`)).send({ edits });
      if (!added.ok) throw new Error(JSON.stringify(added.body));
      draft = added.body as typeof draft;
    }
    await http
      .post(this.at(`/drafts/${id}/post`))
      .send({ ...seen(draft), message })
      .expect(201);
  }

  async stop(): Promise<void> {
    if (this.ownsServer) await this.server.stop();
    await this.registry.stop();
    await this.repository.remove();
  }
}
