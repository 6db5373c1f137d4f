import { afterAll, beforeAll, expect, test } from 'vitest';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestWorkspace } from '../test/test-workspace.js';

const LONG = Array.from({ length: 1000 }, (_, i) => `line ${i + 1}\n`).join('');

let world: TestWorkspace;

beforeAll(async () => {
  world = await TestWorkspace.open({ ...FILES, 'notes/long list.txt': LONG }, REGISTRY);
});
afterAll(() => world.stop());

const file = (query: Readonly<Record<string, string>>, status = 200): Promise<object> =>
  world.get(`/file?${new URLSearchParams(query).toString()}`, status);

test('a file is read at the head, or as it stood at a commit', async () => {
  const before = await file({ path: 'ledger.shared.toml' });
  expect(before).toMatchObject({ firstLine: 1, totalLines: 3 });
  const { commit, lines } = before as { commit: string; lines: string[] };
  expect(lines[2]).toBe('log = "^1.0.0"   # agreed in May');
  await world.post([{ kind: 'set-shared', package: 'log', range: '^2.0.0' }], 'Raise log');
  expect((await file({ path: 'ledger.shared.toml' })) as { lines: string[] }).toMatchObject({
    lines: expect.arrayContaining(['log = "^2.0.0"   # agreed in May']) as string[],
  });
  expect(await file({ path: 'ledger.shared.toml', at: commit })).toEqual(before);
});

test('of a long file the lines around the one that is asked for', async () => {
  const part = (await file({ path: 'notes/long list.txt', line: '500' })) as {
    firstLine: number;
    lines: string[];
    totalLines: number;
  };
  expect(part).toMatchObject({ firstLine: 300, totalLines: 1000 });
  expect(part.lines).toHaveLength(401);
  expect(part.lines[500 - part.firstLine]).toBe('line 500');
  expect(await file({ path: 'notes/long list.txt', line: '9999' })).toMatchObject({
    firstLine: 800,
  });
});

test.each([
  [{ path: 'nowhere.txt' }, 404, 'FILE_UNKNOWN'],
  [{ path: '../../etc/passwd' }, 404, 'FILE_UNKNOWN'],
  [{ path: 'apps' }, 404, 'FILE_UNKNOWN'],
  [{ path: 'README.md', at: 'no-such-branch' }, 404, 'POINT_UNKNOWN'],
  [{ path: 'README.md', at: '--output=x' }, 400, 'REQUEST_INVALID'],
  [{ path: 'README.md', line: 'two' }, 400, 'REQUEST_INVALID'],
])('refuses %j', async (query, status, code) => {
  expect(await file(query, status)).toMatchObject({ code });
});
