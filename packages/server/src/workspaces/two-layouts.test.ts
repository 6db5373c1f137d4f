import { afterAll, beforeAll, expect, test } from 'vitest';
import { TestWorkspace } from '../test/test-workspace.js';
import { until } from '../test/until.js';

const PACKAGES = {
  log: { '1.0.0': {}, '1.1.0': {}, '2.0.0': { json: '^1.0.0' }, '2.1.0': { json: '^1.0.0' } },
  json: { '1.0.0': {}, '1.1.0': {} },
  moss: { '1.0.0': { log: '^1.0.0' } },
};

const OTHERS = {
  'ledger.shared.toml': 'format = 1\n[shared]\nlog = "^1.0.0"\n',
  'apps/web/src/a.ts': 'import "log";\nimport "moss";\n',
  'apps/kit/src/a.ts': 'import "log";\nimport("json");\n',
};
const OURS = {
  ...OTHERS,
  'ledger.toml': 'format = 1\nname = "wide"\nprojects = ["apps/*"]\nregistry = "main"\n',
  'apps/web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "^2.0.0"\njson = "^1.0.0"\n',
  'apps/kit/ledger.project.toml': 'name = "kit"\n[needs]\nlog = "shared"\n',
};
const FOREIGN = {
  ...OTHERS,
  'ledger.toml': 'format = 1\nname = "wide"\nprojects = []\nregistry = "main"\n',
  'ledger.shapes.toml': `format = 1
[[manifest]]
files = ["*/*/parts.yaml"]
syntax = "yaml"
name = "$.name"
[[manifest.requirements]]
at = "$.runtime"
[manifest.spelling]
shared = "@agreed"
`,
  'apps/web/parts.yaml': 'name: web\nruntime:\n  log: "^2.0.0"\n  json: "^1.0.0"\n',
  'apps/kit/parts.yaml': 'name: kit\nruntime:\n  log: "@agreed"\n',
};

/** One workspace in our own files, the other in a layout of its own. */
let ours: TestWorkspace;
let foreign: TestWorkspace;

beforeAll(async () => {
  ours = await TestWorkspace.open(OURS, PACKAGES);
  foreign = await TestWorkspace.open(FOREIGN, PACKAGES, ours.server);
  for (const world of [ours, foreign]) {
    await world.post([], 'Lock');
    await world.post(
      [
        {
          kind: 'add-requirement',
          package: 'moss',
          range: '^1.0.0',
          as: 'runtime',
          projects: ['apps/web'],
        },
      ],
      'Moss for web',
    );
    await world.post([{ kind: 'set-shared', package: 'log', range: '^2.0.0' }], 'Log 2 for all');
  }
});
afterAll(async () => {
  await foreign.stop();
  await ours.stop();
});

/** Of what the two differ in: which file a manifest is and where in it something stands, commits, and when things were done. */
const OF_FILES = new Set([
  ...[
    'line',
    'column',
    'span',
    'path',
    'place',
    'places',
    'file',
    'files',
    'inserted',
    'deleted',
    'patch',
  ],
  ...['commit', 'parent', 'parents', 'base', 'head', 'from', 'to', 'id', 'slug', 'at', 'age'],
  // A shapes file stands beside the manifests of one.
  'manifests',
  ...[
    'postedAt',
    'updatedAt',
    'modelKey',
    'key',
    'sum',
    'version',
    'day',
    'time',
    'readAt',
    'since',
  ],
]);

function bare(value: unknown, key = ''): unknown {
  if (OF_FILES.has(key)) return null;
  if (typeof value === 'string')
    return value.replaceAll('/parts.yaml', '/ledger.project.toml').replace(/(\.toml):\d+/g, '$1');
  // A use that no scan sees can be written down in our own manifests alone.
  if (Array.isArray(value))
    return value
      .filter((one) => !JSON.stringify(one).includes('believe-use'))
      .map((one) => bare(one));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, bare(one, name)]));
}

/** The page once no work goes on that adds to it. */
function settled(world: TestWorkspace, path: string): Promise<object> {
  return until(async () => {
    const page = await world.get<{ job?: object | null }>(path);
    if (page.job != null) throw new Error(`${path} is still being worked on`);
    return page;
  });
}

async function expectSame(path: string, what: RegExp): Promise<void> {
  const [own, other] = await Promise.all([ours, foreign].map((world) => settled(world, path)));
  expect(JSON.stringify(own)).toMatch(what);
  expect(bare(other)).toEqual(bare(own));
}

const PAGES: readonly (readonly [path: string, what: RegExp])[] = [
  ['/alignment', /"name":"log"/],
  ['/packages/log', /"name":"log"/],
  ['/project?folder=apps/web', /moss/],
  ['/shared', /\^2\.0\.0/],
  ['/scan', /"packages":2/],
  ['/findings', /json/],
  ['/findings/clearing', /remove-requirement|edits/],
  ['/trace?package=json', /json/],
  ['/trace/copies/log', /log/],
  ['/trace/weights', /moss/],
  ['/lock', /consistent/],
  ['/drift/over-time', /\d/],
  ['/journal', /Moss for web/],
];

test.each(PAGES)('%s is the same for manifests in a layout of their own', async (path, what) => {
  await expectSame(path, what);
});

test('what a commit changed, and what takes it back, are the same', async () => {
  interface Journal {
    readonly entries: readonly { readonly commit: string; readonly subject: string }[];
  }
  const outcomes = await Promise.all(
    [ours, foreign].map(async (world) => {
      const { entries } = await world.get<Journal>('/journal');
      const moss = entries.find(({ subject }) => subject === 'Moss for web')!;
      const from = entries[entries.indexOf(moss) + 1]!;
      const comparison = await world.get<object>(
        `/comparison?from=${from.commit}&to=${moss.commit}`,
      );
      const { body } = await world.server.http
        .post(world.at(`/journal/${moss.commit}/reversal`))
        .expect(201);
      return { comparison, draft: (body as { edits: object; evaluation: object }).evaluation };
    }),
  );
  expect(JSON.stringify(outcomes[0])).toMatch(/moss/);
  expect(bare(outcomes[1])).toEqual(bare(outcomes[0]));
});
