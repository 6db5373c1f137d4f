import { chmod, copyFile, mkdir, readFile, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { execa } from 'execa';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestServer } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { GitClones } from './git-clones.js';
import { GitFiles } from './git-files.js';
import { GitHistory } from './git-history.js';
import { GitService } from './git.service.js';

let server: TestServer;
let world: TestWorkspace;

beforeAll(async () => {
  server = await TestServer.start();
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

/** Commits bytes to main as a file within two folders. @returns the commit */
async function commitBytes(path: string, bytes: Buffer): Promise<string> {
  const cwd = world.repository.address;
  const blob = await execa('git', ['hash-object', '-w', '--stdin'], { cwd, input: bytes });
  const env = { GIT_INDEX_FILE: join(cwd, 'index.of.test') };
  await execa('git', ['read-tree', 'main'], { cwd, env });
  const entry = `100644,${blob.stdout},${path}`;
  await execa('git', ['update-index', '--add', '--cacheinfo', entry], { cwd, env });
  const { stdout: tree } = await execa('git', ['write-tree'], { cwd, env });
  const author = ['-c', 'user.name=gate crew', '-c', 'user.email=gate@brindlepeak.example'];
  const commit = [...author, 'commit-tree', tree, '-p', 'main', '-m', 'Bytes'];
  const { stdout } = await execa('git', commit, { cwd });
  await execa('git', ['update-ref', 'refs/heads/main', stdout], { cwd });
  return stdout;
}

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

test('a workspace is closed while something is still written into its clone', async () => {
  const other = await TestWorkspace.open(FILES, REGISTRY, server);
  const where = `SELECT id FROM workspace WHERE slug = '${other.slug}'`;
  const [row] = (await server.query(where)) as { id: string }[];
  const folder = server.nest.get(GitClones, { strict: false }).folder(row!.id);
  // As git does, from within: it goes on where the folder goes.
  const writing = execa(
    process.execPath,
    [
      '-e',
      `const fs = require('node:fs');
       console.log('began');
       for (let i = 0; ; i++) {
         fs.mkdirSync('objects/' + i, { recursive: true });
         fs.writeFileSync('objects/' + i + '/one', '');
       }`,
    ],
    { cwd: folder, reject: false },
  );
  await new Promise((resolve) => writing.stdout!.once('data', resolve));
  try {
    await server.http.delete(other.at('')).expect(204);
    await expect(stat(folder)).rejects.toThrow(/ENOENT/);
  } finally {
    writing.kill('SIGKILL');
    await writing;
    await other.stop();
  }
});

test('a commit whose files are still on their way is read once they are there', async () => {
  await world.repository.commit({ 'ledger.shared.toml': '# agreed\nformat = 1\n' }, 'Agree');
  const commit = await world.repository.head();
  const entity = await server.nest.get(WorkspaceService, { strict: false }).bySlug(world.slug);
  const folder = server.nest.get(GitClones, { strict: false }).folder(entity.id);
  // As a fetch that goes on has it: commits are written before what is in them.
  const object = join('objects', commit.slice(0, 2), commit.slice(2));
  await mkdir(join(folder, object, '..'), { recursive: true });
  await copyFile(join(world.repository.address, object), join(folder, object));
  const snapshots = server.nest.get(SnapshotService, { strict: false });
  const { files } = await snapshots.material(entity, commit, new AbortController().signal);
  expect(files.get('ledger.shared.toml')).toContain('# agreed');
});

test('who fetches at the same time as others gets what is new as they do', async () => {
  const entity = await server.nest.get(WorkspaceService, { strict: false }).bySlug(world.slug);
  const git = server.nest.get(GitService, { strict: false });
  const history = server.nest.get(GitHistory, { strict: false });
  for (let round = 0; round < 10; round++) {
    await world.repository.commit({ 'README.md': `${round}\n` }, `Round ${round}`);
    await Promise.all([git.fetch(entity), git.fetch(entity), git.fetch(entity)]);
    const head = await history.head(entity.id, 'main');
    expect(head?.commit).toBe(await world.repository.head());
  }
});

describe('files of many commits', () => {
  const kit = 'apps/kit/ledger.project.toml';

  /** A history that has read nothing yet, and whose calls of git are those of nobody else. */
  function historyOfItsOwn() {
    const clones = server.nest.get(GitClones, { strict: false });
    const asked: Parameters<GitClones['ask']>[] = [];
    const ask = (...call: Parameters<GitClones['ask']>) => {
      asked.push(call);
      return clones.ask(...call);
    };
    const counted = Object.create(clones, { ask: { value: ask } }) as GitClones;
    const files = new GitFiles(counted);
    const of = (command: string) => asked.filter(([, [first]]) => first === command);
    return { files, history: new GitHistory(counted, files), of };
  }

  async function fetched() {
    const entity = await server.nest.get(WorkspaceService, { strict: false }).bySlug(world.slug);
    await server.nest.get(GitService, { strict: false }).fetch(entity);
    return entity.id;
  }

  test('are read in one go, each once, and are what each commit has', async () => {
    for (let i = 0; i < 5; i++)
      await world.repository.commit({ [kit]: `${FILES[kit]}# ${i % 3}\n` }, `Change ${i}`);
    const id = await fetched();
    const { files: read, history, of } = historyOfItsOwn();
    const commits = await history.commits(id, await world.repository.head(), 0, 10);
    expect(commits).toHaveLength(6);
    for await (const [{ commit }, files] of read.filesOfEach(id, commits)) {
      expect(files.get(kit)).toBe(await world.repository.git('show', `${commit}:${kit}`));
      expect(files.get('ledger.toml')).toBe(FILES['ledger.toml']);
    }
    expect(of('ls-tree')).toHaveLength(6);
    // Of the newest its shapes are looked for; then four texts of one manifest, and the three other files.
    const reads = of('cat-file').filter(([, [, how]]) => how === '--batch');
    expect(reads).toHaveLength(1);
    expect(reads[0]![2]!.input!.trim().split('\n')).toHaveLength(4 + 3);
  });

  test('in trees of which few can be kept are read of fewer commits at once, and no tree is listed twice', async () => {
    const many = Array.from(
      { length: 60_000 },
      (_, i) => `M 100644 :1 many/${i % 250}/${i}\n`,
    ).join('');
    const commit = (i: number) =>
      `commit refs/heads/main\ncommitter c <c@c.example> ${i} +0000\ndata 1\nx\n${i === 0 ? 'from refs/heads/main^0\n' : ''}M 100644 inline ${kit}\ndata <<END\n${FILES[kit]}# ${i}\nEND\n${i === 0 ? many : ''}\n`;
    const input = `blob\nmark :1\ndata 0\n\n${[0, 1, 2, 3, 4].map(commit).join('')}`;
    await execa('git', ['fast-import', '--quiet'], { cwd: world.repository.address, input });
    const id = await fetched();
    const { files: read, history, of } = historyOfItsOwn();
    const commits = await history.commits(id, await world.repository.head(), 0, 5);
    expect(commits).toHaveLength(5);
    let last = 4;
    for await (const [{ commit: at }, files] of read.filesOfEach(id, commits)) {
      expect(files.get(kit)).toContain(`# ${last--}\n`);
      // As the scan of source asks for it.
      expect(await read.tree(id, at)).toHaveLength(60_005);
    }
    expect(of('ls-tree')).toHaveLength(5);
  });

  test('of which one is no UTF-8 are read up to that one, and it is told', async () => {
    const first = await world.repository.head();
    const bad = await commitBytes(kit, Buffer.from([0x23, 0xff]));
    const id = await fetched();
    const each = historyOfItsOwn().files.filesOfEach(id, [{ commit: first }, { commit: bad }]);
    expect((await each.next()).value![1].get(kit)).toBe(FILES[kit]);
    await expect(each.next()).rejects.toMatchObject({ code: 'FILE_NOT_UTF8' });
  });

  test('come from their own clone alone, whatever a tree names', async () => {
    const files = server.nest.get(GitFiles, { strict: false });
    const other = await TestWorkspace.open(
      { ...FILES, [kit]: 'name = "kit"\n# secret\n' },
      REGISTRY,
      server,
    );
    try {
      await other.get('/alignment');
      const secret = (await other.repository.git('rev-parse', `main:${kit}`)).trim();
      const entity = await server.nest.get(WorkspaceService, { strict: false }).bySlug(world.slug);
      await expect(
        files.readBlobs(entity.id, [{ path: kit, oid: secret, bytes: 20 }]),
      ).rejects.toThrow(/missing/);
    } finally {
      await server.http.delete(other.at(''));
      await other.stop();
    }
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
      detail: 'apps/kit/ledger.project.toml has 2.67 MiB; files of up to 2 MiB are read.',
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
