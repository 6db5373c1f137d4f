import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { REGISTRY } from '../test/small-world.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { seen, type SeenDraft } from '../test/seen-draft.js';

const FILES = {
  'ledger.toml':
    'format = 1\nname = "wide"\nprojects = ["apps/*"]\nregistry = "main"\n[platform]\nruntime = "20.0.0"\n',
  'ledger.shared.toml': `format = 1
[shared]
log = "^1.0.0"
[pins]
json = "1.0.0"
[[exceptions]]
project = "web"
package = "log"
range = "^2.0.0"
reason = "new lines"
owner = "web crew"
until = 2025-06-11
[[exceptions]]
project = "kit"
package = "log"
range = "^2.0.0"
reason = "left over"
owner = "nobody"
until = 2025-05-30
[[otherwise]]
of = "log"
package = "json"
range = "*"
reason = "any will do"
owner = "web crew"
until = 2025-07-01
`,
  'apps/web/ledger.project.toml':
    'name = "web"\n[needs]\nlog = "^2.0.0"\nkit = "workspace"\nwire = "^1.0.0"   # keep\n',
  'apps/kit/ledger.project.toml': 'name = "kit"\n[needs]\nlog = "shared"\nwire = "^1.0.0"\n',
  'apps/desk/ledger.project.toml': 'name = "desk"\n[needs]\nwire = "~1.0.0"\n',
};

let workspace: TestWorkspace;

beforeAll(async () => {
  workspace = await TestWorkspace.open(FILES, {
    ...REGISTRY,
    wire: { '1.0.0': {}, '1.1.0': {} },
  });
  await workspace.post([], 'Lock');
});
afterAll(() => workspace.stop());

const at = (path: string): string => workspace.at(path);

test('what is shared is listed with its use, and exceptions with the days that are left', async () => {
  const { body } = await workspace.server.http.get(at('/shared')).expect(200);
  expect(body).toMatchObject({
    shared: [
      {
        package: 'log',
        range: '^1.0.0',
        usedBy: 2,
        takes: 1,
        off: 0,
        exceptions: 1,
        newest: '2.1.0',
        place: { file: 'ledger.shared.toml', line: 3 },
      },
    ],
    pins: [{ package: 'json', version: '1.0.0', usedBy: 0, demands: 1 }],
    exceptions: [
      { project: 'kit', folder: 'apps/kit', daysLeft: -2, isUsed: false },
      { project: 'web', folder: 'apps/web', daysLeft: 10, isUsed: true },
    ],
    otherwise: [
      { of: 'log', package: 'json', range: '*', asks: ['^1.0.0'], daysLeft: 30, owner: 'web crew' },
    ],
    policy: { copies: 'any', peers: 'report', minimumAgeDays: 0, licences: [] },
    platform: [{ name: 'runtime', version: '20.0.0' }],
  });
});

test('a project’s page says what each requirement alone brings', async () => {
  const { body } = await workspace.server.http
    .get(at('/project'))
    .query({ folder: 'apps/web' })
    .expect(200);
  expect(body).toMatchObject({
    name: 'web',
    file: 'apps/web/ledger.project.toml',
    copies: 4,
    requirements: [
      {
        name: 'log',
        copy: '2.1.0',
        standing: 'excepted',
        agreed: '^1.0.0',
        exception: { until: '2025-06-11' },
        bringsAlone: [
          { name: 'log', version: '2.1.0' },
          { name: 'json', version: '1.0.0' },
        ],
        bytesAlone: 20,
      },
      { name: 'kit', project: { folder: 'apps/kit', name: 'kit' }, copy: null, bringsAlone: [] },
      { name: 'wire', copy: '1.0.0', behind: { step: 'minor', newest: '1.1.0', releases: 1 } },
    ],
    requiredBy: [],
  });
  const { body: kit } = await workspace.server.http
    .get(at('/project'))
    .query({ folder: 'apps/kit' });
  expect(kit).toMatchObject({ requiredBy: [{ folder: 'apps/web', name: 'web' }] });
  const { body: none } = await workspace.server.http
    .get(at('/project'))
    .query({ folder: 'apps/no' });
  expect(none).toMatchObject({ status: 404, code: 'PROJECT_UNKNOWN' });
});

test('the model holds the files, the documents as they came, and the day', async () => {
  const { body } = await workspace.server.http.get(at('/model')).expect(200);
  const model = body as {
    today: string;
    files: { path: string; text: string }[];
    packages: { name: string; releases: object[] }[];
  };
  expect(model.today).toBe('2025-06-01');
  expect(model.packages.map(({ name, releases }) => [name, releases.length])).toEqual([
    ['json', 2],
    ['log', 4],
    ['wire', 2],
  ]);
  expect(model.files.map(({ path }) => path)).toContain('apps/web/ledger.project.toml');
  expect(model.files.find(({ path }) => path === 'ledger.toml')!.text).toBe(FILES['ledger.toml']);
});

describe('moving in', () => {
  test('proposes a range for each package, and writes what is chosen in place', async () => {
    const { body } = await workspace.server.http.get(at('/centralise')).expect(200);
    expect(body).toMatchObject({
      lines: [
        {
          package: 'wire',
          agreed: null,
          choices: [
            { range: '^1.0.0', takes: ['apps/kit', 'apps/web'], isStill: true },
            { range: '~1.0.0', takes: ['apps/desk'] },
          ],
        },
      ],
    });
    const created = await workspace.server.http.post(at('/drafts')).send({}).expect(201);
    const { id } = created.body as { id: string };
    const moved = await workspace.server.http
      .post(at(`/drafts/${id}/centralise`))
      .send({ lines: [{ package: 'wire', range: '^1.0.0' }], sets: [] })
      .expect(200);
    expect(moved.body).toMatchObject({
      evaluation: {
        kind: 'answered',
        consequences: { manifests: 4, change: { entered: [], left: [], moved: [], reanswered: 0 } },
      },
    });
    const draft = moved.body as SeenDraft & { message: string };
    await workspace.server.http
      .post(at(`/drafts/${id}/post`))
      .send({ ...seen(draft), message: draft.message })
      .expect(201);
    expect(await workspace.repository.file('apps/web/ledger.project.toml')).toBe(
      FILES['apps/web/ledger.project.toml'].replace('wire = "^1.0.0"', 'wire = "shared"'),
    );
    const after = await workspace.server.http.get(at('/centralise')).expect(200);
    expect(after.body).toMatchObject({ lines: [] });
  });
});
