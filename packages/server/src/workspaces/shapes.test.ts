import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { TestRegistry } from '../test/test-registry.js';
import { TestRepository } from '../test/test-repository.js';
import { TestWorkspace } from '../test/test-workspace.js';

const SHAPES = `format = 1

[[manifest]]
files = ["*/gate.yaml"]
syntax = "yaml"
[[manifest.requirements]]
at = "$.libraries"

[[manifest]]
files = ["*/crew.json"]
syntax = "json"
[[manifest.requirements]]
at = "$.uses[*]"
package = "$.id"
range = "$.wanted"

[[manifest]]
files = ["*/berth.xml"]
syntax = "xml"
[[manifest.requirements]]
at = "$.berth[0].lib[*]"
package = "$['@id']"
range = "$['@wanted']"

[[manifest]]
files = ["*/uses.txt"]
syntax = "lines"
pattern = '^use (?P<package>\\S+) at (?P<range>\\S+)$'
`;

const FILES = {
  'ledger.toml': 'format = 1\nname = "ferry"\nprojects = []\nregistry = "main"\n',
  'ledger.shapes.toml': SHAPES,
  'ticket/gate.yaml': '# tickets\nlibraries:\n  json: ^1.0.0\n  log: ^1.0.0   # old lines\n',
  'roster/crew.json':
    '{\n  // who sails\n  "uses": [\n    { "id": "log", "wanted": "~1.1.0" }\n  ]\n}\n',
  'berths/berth.xml': '<berth>\n  <lib id="log" wanted="^1.0.0"/>\n</berth>\n',
  'board/uses.txt': '# what the board uses\nuse log at 1.1.0\n',
};

const REGISTRY = {
  log: { '1.0.0': {}, '1.1.0': {}, '2.0.0': {} },
  json: { '1.0.0': {} },
};

let world: TestWorkspace;
beforeAll(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
});
afterAll(() => world.stop());

test('a registry that speaks otherwise is asked as its shape says', async () => {
  const release = (version: string) => ({
    v: version,
    file: { url: `/f/${version}`, sum: 'ab'.repeat(32) },
  });
  const files = {
    ...FILES,
    'ledger.shapes.toml': `${SHAPES}
[registry.main]
document = "/p/{+name}"
releases = "$.all[*]"
version = "$.v"
archive = { url = "$.file.url", integrity = "$.file.sum" }
`,
  };
  const other = await TestRegistry.with({});
  other.lies.set('/p/log', JSON.stringify({ all: ['1.0.0', '1.1.0', 'main'].map(release) }));
  other.lies.set('/p/json', JSON.stringify({ all: [release('1.0.0')] }));
  const repository = await TestRepository.with(files);
  const { body } = await world.server.http
    .post('/api/workspaces')
    .send({ address: repository.address, registry: other.url })
    .expect(201);
  const { slug } = body as { slug: string };
  const draft = await world.server.http.post(`/api/workspaces/${slug}/drafts`).send({}).expect(201);
  const { evaluation } = draft.body as {
    evaluation: { consequences: { change: { entered: { name: string; version: string }[] } } };
  };
  expect(evaluation.consequences.change.entered).toEqual([
    { name: 'json', version: '1.0.0' },
    { name: 'log', version: '1.1.0' },
  ]);
  expect(other.asked.filter((path) => path.startsWith('/changes'))).toEqual([]);
  await other.stop();
  await repository.remove();
});

describe('a repository in layouts of its own', () => {
  test('is opened, and its projects stand where their files are', async () => {
    const { projects } = await world.get<{ projects: number }>('');
    expect(projects).toBe(4);
    const panel = await world.get<{
      requirements: { project: string; written: string; place: object }[];
    }>('/packages/log');
    expect(
      panel.requirements.map(({ project, written, place }) => ({ project, written, place })),
    ).toEqual([
      {
        project: 'berths',
        written: '^1.0.0',
        place: { file: 'berths/berth.xml', line: 2, column: 3 },
      },
      { project: 'board', written: '1.1.0', place: { file: 'board/uses.txt', line: 2, column: 1 } },
      {
        project: 'roster',
        written: '~1.1.0',
        place: { file: 'roster/crew.json', line: 4, column: 5 },
      },
      {
        project: 'ticket',
        written: '^1.0.0',
        place: { file: 'ticket/gate.yaml', line: 4, column: 3 },
      },
    ]);
  });

  test('one post levels a package across YAML, JSON, XML and lines: four values change', async () => {
    const edit = {
      kind: 'level',
      package: 'log',
      range: '^2.0.0',
      projects: ['berths', 'board', 'roster', 'ticket'],
    };
    await world.post([edit], 'level log');
    const diff = await world.repository.git(
      'show',
      '--format=',
      '--unified=0',
      'main',
      '--',
      ':!ledger.*',
    );
    const changed = diff.split('\n').filter((line) => /^[-+](?![-+])/.test(line));
    expect(changed).toEqual([
      '-  <lib id="log" wanted="^1.0.0"/>',
      '+  <lib id="log" wanted="^2.0.0"/>',
      '-use log at 1.1.0',
      '+use log at ^2.0.0',
      '-    { "id": "log", "wanted": "~1.1.0" }',
      '+    { "id": "log", "wanted": "^2.0.0" }',
      '-  log: ^1.0.0   # old lines',
      '+  log: ^2.0.0   # old lines',
    ]);
    const { lock } = await world.get<{ lock: { state: string } }>('');
    expect(lock.state).toBe('consistent');
  });

  test('a commit from outside that touches a foreign manifest alone is in the journal', async () => {
    const text = FILES['ticket/gate.yaml']
      .replace('log: ^1.0.0', 'log: ^2.0.0')
      .replace('json: ^1.0.0', 'json: 1.0.0');
    await world.repository.commit({ 'ticket/gate.yaml': text }, 'json by hand');
    await world.server.http.post(world.at('/refresh')).expect(200);
    const { entries } = await world.get<{ entries: { subject: string; manifests: number }[] }>(
      '/journal',
    );
    expect(entries[0]).toMatchObject({ subject: 'json by hand', manifests: 1 });
    await world.repository.commit(
      { 'ticket/gate.yaml': text.replace('json: 1.0.0', 'json: ^1.0.0') },
      'and back',
    );
    await world.server.http.post(world.at('/refresh')).expect(200);
  });

  test('the post is taken back as any other', async () => {
    const commit = (await world.repository.git('rev-parse', 'main~2')).trim();
    const { body } = await world.server.http
      .post(world.at(`/journal/${commit}/reversal`))
      .expect(201);
    const { id } = body as { id: string };
    const { evaluation } = await world.get<{
      evaluation: { kind: string; files: { path: string }[] };
    }>(`/drafts/${id}`);
    expect(evaluation.kind).toBe('answered');
    expect(evaluation.files.map(({ path }) => path)).toEqual([
      'berths/berth.xml',
      'board/uses.txt',
      'ledger.shared.toml',
      'roster/crew.json',
      'ticket/gate.yaml',
      'ledger.lock',
    ]);
  });
});
