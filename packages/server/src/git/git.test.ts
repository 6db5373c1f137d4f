import { chmod, mkdir, readFile, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { execa } from 'execa';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { SilentHost } from '../test/silent-host.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestServer } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { GitClones } from './git-clones.js';
import { GitService } from './git.service.js';

const HOST_MS = 2_000;

let server: TestServer;
let world: TestWorkspace;

beforeAll(async () => {
  server = await TestServer.start({ hostMs: HOST_MS });
});
afterAll(() => server.stop());
beforeEach(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY, server);
});
afterEach(async () => {
  vi.restoreAllMocks();
  await server.http.delete(world.at(''));
  await world.stop();
});

describe('a repository whose host takes calls and says nothing', () => {
  let host: SilentHost;
  beforeEach(async () => {
    host = await SilentHost.listening();
  });
  afterEach(() => host.stop());

  test('holds up no reader; git and its helper end; after some calls the host is left alone', async () => {
    const before = await world.get<{ head: { commit: string } }>('');
    await server.query(
      `UPDATE workspace SET address = 'git://${host.place}/x.git' WHERE slug = '${world.slug}'`,
    );
    const looking = server.http.post(world.at('/refresh'));
    const looked = looking.then(({ status, body }) => ({ status, body: body as object }));
    await vi.waitFor(() => expect(host.open).toBe(1));
    for (const path of ['', '/alignment', '/journal', '/findings/count'])
      await server.http.get(world.at(path)).expect(200);
    expect(await world.get('')).toMatchObject({ head: before.head });
    // All of that was answered while the host still said nothing.
    expect(host.open).toBe(1);
    expect(await looked).toMatchObject({
      status: 422,
      body: {
        code: 'REPOSITORY_UNREADABLE',
        detail: expect.stringContaining('no answer within 2 seconds') as string,
      },
    });
    await vi.waitFor(() => expect(host.open).toBe(0));
    // Who insisted was told; everybody else still reads.
    await server.http.get(world.at('/alignment')).expect(200);
    await server.http.post(world.at('/refresh')).expect(422);
    const calls = host.called;
    const { body } = await server.http.post(world.at('/refresh')).expect(422);
    expect((body as { detail: string }).detail).toContain('left alone');
    expect(host.called).toBe(calls);
  });

  test('takes no place from another workspace', async () => {
    const other = await TestWorkspace.open(FILES, REGISTRY, server);
    await server.query(
      `UPDATE workspace SET address = 'git://${host.place}/x.git' WHERE slug = '${world.slug}'`,
    );
    const looked = [1, 2, 3].map(() => server.http.post(world.at('/refresh')).then(() => null));
    await vi.waitFor(() => expect(host.open).toBeGreaterThan(0));
    await other.repository.commit({ 'README.md': 'changed\n' }, 'Elsewhere');
    const { body } = await server.http.post(other.at('/refresh')).expect(200);
    expect(body).toMatchObject({ head: { subject: 'Elsewhere' } });
    expect(host.open).toBeGreaterThan(0);
    await Promise.all(looked);
    await other.stop();
  });

  test('a push that nobody answers is given up; what came of it is said, and the draft stays', async () => {
    const created = await server.http.post(world.at('/drafts')).send({}).expect(201);
    const { id } = created.body as { id: string };
    const edits = [{ kind: 'pin', package: 'json', version: '1.0.0' }];
    const { body } = await server.http
      .post(world.at(`/drafts/${id}/edits`))
      .send({ edits })
      .expect(200);
    const draft = body as {
      base: string;
      revision: number;
      evaluation: { consequences: { sum: string } };
    };
    const git = server.nest.get(GitService);
    const moveBranch = git.moveBranch.bind(git);
    vi.spyOn(git, 'moveBranch').mockImplementation((repository, ...rest) =>
      moveBranch({ ...repository, address: `git://${host.place}/x.git` }, ...rest),
    );
    const { base, revision, evaluation } = draft;
    const posted = server.http
      .post(world.at(`/drafts/${id}/post`))
      .send({ base, revision, sum: evaluation.consequences.sum, message: 'Pin json' });
    const answered = posted.then((answer) => answer);
    await vi.waitFor(() => expect(host.open).toBe(1));
    await server.http.get(world.at('/journal')).expect(200);
    await server.http.get(world.at('/posts')).expect(200);
    expect(host.open).toBe(1);
    const answer = await answered;
    expect(answer.status).toBe(504);
    expect(answer.body).toMatchObject({ code: 'POST_UNCERTAIN' });
    await vi.waitFor(() => expect(host.open).toBe(0));
    expect(await world.get('/posts')).toEqual([]);
    await world.get(`/drafts/${id}`);
  });
});

describe('what git and its hooks are told', () => {
  test('is nothing of the server’s own surroundings', async () => {
    const hooks = join(world.repository.address, 'hooks');
    await mkdir(hooks, { recursive: true });
    await writeFile(join(hooks, 'pre-receive'), '#!/bin/sh\nenv > "$GIT_DIR/told"\n');
    await chmod(join(hooks, 'pre-receive'), 0o755);
    process.env['DEEP_LEDGER_TOLD'] = 'a secret';
    await world.post([{ kind: 'pin', package: 'json', version: '1.0.0' }], 'Pin json');
    delete process.env['DEEP_LEDGER_TOLD'];
    const told = await readFile(join(world.repository.address, 'told'), 'utf8');
    expect(told).toContain('PATH=');
    expect(told).not.toMatch(/DATABASE_URL|a secret|DEEP_LEDGER/);
  });

  test('clones are for the server’s eyes alone', async () => {
    const [row] = (await server.query(`SELECT id FROM workspace WHERE slug = '${world.slug}'`)) as {
      id: string;
    }[];
    const { mode } = await stat(server.nest.get(GitClones, { strict: false }).folder(row!.id));
    expect(mode & 0o077).toBe(0);
  });
});

describe('much of something', () => {
  test('a hundred branches take as many processes as one', async () => {
    await world.repository.branch('trial', { 'README.md': 'on trial\n' });
    const head = await world.repository.head();
    const lines = Array.from({ length: 100 }, (_, i) => `create refs/heads/b${i} ${head}\n`);
    await execa('git', ['update-ref', '--stdin'], {
      cwd: world.repository.address,
      input: lines.join(''),
    });
    await server.http.post(world.at('/refresh')).expect(200);
    const clones = server.nest.get(GitClones, { strict: false });
    const asked = vi.spyOn(clones, 'ask');
    const branches = await world.get<{ name: string; isMerged: boolean }[]>('/merges/branches');
    expect(branches).toHaveLength(101);
    expect(branches[0]).toMatchObject({ name: 'trial', isMerged: false });
    expect(branches.filter(({ isMerged }) => isMerged)).toHaveLength(100);
    await world.get('/machines');
    await world.get('/drift/over-time');
    expect(asked.mock.calls.length).toBeLessThan(20);
  });

  test('a manifest beyond all measure is refused by its size, before it is read', async () => {
    const large = `${FILES['apps/kit/ledger.project.toml']}${'# long\n'.repeat(400_000)}`;
    await world.repository.commit({ 'apps/kit/ledger.project.toml': large }, 'Long');
    const { body } = await server.http.post(world.at('/refresh')).expect(422);
    expect(body).toMatchObject({
      code: 'FILE_TOO_LARGE',
      detail: 'apps/kit/ledger.project.toml has 2.7 MiB; files of up to 2 MiB are read.',
    });
  });

  test('a file that is shown has a limit too, and a small one beside it is shown', async () => {
    // Past the work tree: machines have their own ideas of what large files are committed as.
    const git = async (args: string[], input: string): Promise<string> =>
      (await execa('git', args, { cwd: world.repository.address, input })).stdout;
    const blob = await git(['hash-object', '-w', '--stdin', '--no-filters'], 'x'.repeat(9 << 20));
    const listed = await git(['ls-tree', 'main'], '');
    const tree = await git(['mktree'], `${listed}\n100644 blob ${blob}\tlarge.txt\n`);
    const author = ['-c', 'user.name=gate crew', '-c', 'user.email=gate@brindlepeak.example'];
    const commit = await git([...author, 'commit-tree', tree, '-p', 'main', '-m', 'Large'], '');
    await git(['update-ref', 'refs/heads/main', commit], '');
    await server.http.post(world.at('/refresh')).expect(200);
    expect(await world.get('/file?path=large.txt', 422)).toMatchObject({ code: 'FILE_TOO_LARGE' });
    await world.get('/file?path=README.md');
  });

  test('a subject with any character is read as it is', async () => {
    const subject = 'One \u001e two \u001f three';
    await world.repository.commit({ 'ledger.shared.toml': 'format = 1\n[shared]\n' }, subject);
    await server.http.post(world.at('/refresh')).expect(200);
    const { entries } = await world.get<{ entries: { subject: string; manifests: number }[] }>(
      '/journal',
    );
    expect(entries.map((one) => [one.subject, one.manifests])).toEqual([
      [subject, 1],
      ['First', 4],
    ]);
  });
});
