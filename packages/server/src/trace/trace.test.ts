import { afterAll, beforeAll, expect, test } from 'vitest';
import { TestWorkspace } from '../test/test-workspace.js';

const FILES = {
  'ledger.toml':
    'format = 1\nname = "deep"\nprojects = ["apps/*"]\nregistry = "main"\n[platform]\nruntime = "20.0.0"\n',
  'apps/web/ledger.project.toml': 'name = "web"\n[needs]\nkit = "workspace"\nwire = "^1.0.0"\n',
  'apps/kit/ledger.project.toml':
    'name = "kit"\n[needs]\njson = "~1.0.0"\n[needs.dev]\nwire = "^1.0.0"\n',
};
const REGISTRY = {
  wire: { '1.0.0': { json: '^1.1.0', text: '^1.0.0' } },
  text: { '1.0.0': {} },
  json: { '1.0.0': {}, '1.1.0': {} },
  late: { '1.0.0': {} },
} as const;

let workspace: TestWorkspace;

beforeAll(async () => {
  workspace = await TestWorkspace.open(FILES, REGISTRY);
  await workspace.post([], 'Lock');
});
afterAll(() => workspace.stop());

const at = (path: string): string => workspace.at(path);

const read = <T>(path: string, status?: number): Promise<T> => workspace.get<T>(path, status);

interface TraceBody {
  ends: string[];
  chains: string;
  projects: number;
  nodes: { id: string }[];
  cycles: string[][];
}
interface ChainsBody {
  total: string | null;
  hasMore: boolean;
  chains: { steps: { id: string; written: string | null; link: string | null }[] }[];
}

const sentences = ({ chains }: ChainsBody): string[] =>
  chains.map(({ steps }) =>
    steps.map(({ id, written }) => `${written ?? ''} ${id}`.trim()).join(' > '),
  );

test('links that are struck out take with them what nothing else brings', async () => {
  const without = (links: readonly object[], status = 200) =>
    workspace.server.http.post(at('/trace/without')).send({ links }).expect(status);
  const link = { from: 'wire 1.0.0', to: 'json 1.1.0' };
  expect((await without([link])).body).toMatchObject({ copies: ['json 1.1.0'] });
  const fromWeb = { from: 'apps/web', to: 'wire 1.0.0' };
  expect((await without([fromWeb])).body).toMatchObject({ copies: [], bytes: 0 });
  const both = await without([fromWeb, { from: 'apps/kit', to: 'wire 1.0.0' }]);
  expect((both.body as { copies: string[] }).copies).toEqual([
    'json 1.1.0',
    'text 1.0.0',
    'wire 1.0.0',
  ]);
  expect((await without([{ from: 'apps/kit', to: 'text 1.0.0' }], 404)).body).toMatchObject({
    code: 'NOTHING_TO_TRACE',
  });
  await without([{ from: 'apps/kit' }], 400);
});

test('what if tells who would newly require what', async () => {
  const edits = [
    {
      kind: 'add-requirement',
      package: 'late',
      range: '^1.0.0',
      as: 'runtime',
      projects: ['apps/kit'],
    },
  ];
  const { body } = await workspace.server.http.post(at('/what-if')).send({ edits }).expect(200);
  expect(body).toMatchObject({ gained: [{ from: 'apps/kit', to: 'late 1.0.0' }], lost: [] });
  const without = [{ kind: 'remove-requirement', package: 'json', projects: ['apps/kit'] }];
  const answer = await workspace.server.http.post(at('/what-if')).send({ edits: without });
  expect(answer.body).toMatchObject({
    gained: [],
    lost: [{ from: 'apps/kit', to: 'json 1.0.0' }],
  });
});

test('who brings a package in, over all its copies', async () => {
  const trace = await read<TraceBody>('/trace?package=json');
  expect(trace.ends).toEqual(['json 1.0.0', 'json 1.1.0']);
  expect(trace.projects).toBe(2);
  expect(trace.chains).toBe('5');
  expect(trace.nodes.map(({ id }) => id).sort()).toEqual([
    'apps/kit',
    'apps/web',
    'json 1.0.0',
    'json 1.1.0',
    'wire 1.0.0',
  ]);
});

test('chains are sentences with ranges, shortest first, filtered by kind, project and length', async () => {
  const all = await read<ChainsBody>('/trace/chains?package=json');
  expect(all.total).toBe('5');
  expect(sentences(all)[0]).toBe('apps/kit > ~1.0.0 json 1.0.0');
  const runtime = await read<ChainsBody>('/trace/chains?package=json&kinds=runtime');
  expect(sentences(runtime)).toEqual([
    'apps/kit > ~1.0.0 json 1.0.0',
    'apps/web > workspace apps/kit > ~1.0.0 json 1.0.0',
    'apps/web > ^1.0.0 wire 1.0.0 > ^1.1.0 json 1.1.0',
  ]);
  const from = await read<ChainsBody>('/trace/chains?package=json&kinds=runtime&from=apps/kit');
  expect(sentences(from)).toEqual(['apps/kit > ~1.0.0 json 1.0.0']);
  const short = await read<ChainsBody>('/trace/chains?package=json&kinds=runtime&steps=1');
  expect(short.chains).toHaveLength(1);
  const through = await read<ChainsBody>('/trace/chains?package=json&through=wire%201.0.0');
  expect(through.chains.every(({ steps }) => steps.some(({ id }) => id === 'wire 1.0.0'))).toBe(
    true,
  );
  const paged = await read<ChainsBody>('/trace/chains?package=json&count=2&skip=2');
  expect(sentences(paged)).toEqual(sentences(all).slice(2, 4));
  expect(paged.hasMore).toBe(true);
});

test('what a project brings, and the projects among themselves', async () => {
  const down = await read<TraceBody>('/trace?project=apps/web');
  expect(down.nodes.map(({ id }) => id)).toEqual(
    expect.arrayContaining(['apps/web', 'apps/kit', 'wire 1.0.0', 'text 1.0.0']),
  );
  const projects = await read<TraceBody>('/trace');
  expect(projects.nodes.map(({ id }) => id).sort()).toEqual(['apps/kit', 'apps/web']);
  expect(projects.cycles).toEqual([]);
});

test('what leaves with a copy, and requirements by that weight', async () => {
  const leaving = await read<{ copies: string[]; bytes: number }>(
    '/trace/leaving?node=wire%201.0.0',
  );
  expect(leaving.copies).toEqual(['json 1.1.0', 'text 1.0.0']);
  expect(leaving.bytes).toBeGreaterThan(0);
  const { requirements } = await read<{ requirements: { package: string; copies: number }[] }>(
    '/trace/weights',
  );
  expect(requirements.map((one) => [one.package, one.copies])).toEqual([
    ['json', 1],
    ['wire', 0],
    ['wire', 0],
  ]);
});

test('the copies of a package side by side, with the demands that force them', async () => {
  const several = await read<{
    copies: { version: string; demands: { owner: string; range: string }[] }[];
    least: number;
    forcedBy: { owner: string; range: string }[];
    needless: unknown[];
  }>('/trace/copies/json');
  expect(several.copies.map(({ version }) => version)).toEqual(['1.0.0', '1.1.0']);
  expect(several.copies[0]!.demands).toEqual([{ owner: 'apps/kit', range: '~1.0.0' }]);
  expect(several.least).toBe(2);
  expect(several.forcedBy).toEqual(
    expect.arrayContaining([
      { owner: 'apps/kit', range: '~1.0.0' },
      { owner: 'wire 1.0.0', range: '^1.1.0' },
    ]),
  );
  expect(several.needless).toEqual([]);
});

test('what if: what would leave, what has no answer, what cannot be done, and nothing of it is kept', async () => {
  const whatIf = async (edits: readonly object[]) =>
    (
      await workspace.server.http
        .post(at('/what-if'))
        .send({ edits, suggestedFixes: true })
        .expect(200)
    ).body as {
      evaluation: {
        kind: string;
        explanations: string[][];
        consequences: { copiesBefore: number; copiesAfter: number } | null;
      };
      problems: (string | null)[] | null;
    };
  const less = await whatIf([
    { kind: 'remove-requirement', package: 'wire', projects: ['apps/kit', 'apps/web'] },
  ]);
  expect(less.evaluation.consequences).toMatchObject({ copiesBefore: 4, copiesAfter: 1 });
  const more = await whatIf([
    {
      kind: 'add-requirement',
      package: 'late',
      range: '^1.0.0',
      as: 'runtime',
      projects: ['apps/kit'],
    },
  ]);
  expect(more.evaluation.consequences).toMatchObject({ copiesBefore: 4, copiesAfter: 5 });
  const none = await whatIf([
    { kind: 'set-range', package: 'json', range: '^9.0.0', projects: ['apps/kit'] },
  ]);
  expect(none.evaluation.kind).toBe('unanswered');
  expect(none.evaluation.explanations.flat().join(' ')).toContain('json');
  const not = await whatIf([
    { kind: 'remove-requirement', package: 'text', projects: ['apps/kit'] },
  ]);
  expect(not.problems?.[0]).toContain('does not require text');
  expect(await read<unknown[]>('/drafts')).toEqual([]);
});

test('what is not there is said', async () => {
  expect(await read<{ code: string }>('/trace?package=nowhere', 404)).toMatchObject({
    code: 'NOTHING_TO_TRACE',
  });
  await workspace.server.http.get(at('/trace?package=json&kinds=sideways')).expect(400);
});
