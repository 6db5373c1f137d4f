import { afterAll, beforeAll, expect, test } from 'vitest';
import { REGISTRY } from '../test/small-world.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { until } from '../test/until.js';

const FILES = {
  'ledger.toml':
    'format = 1\nname = "wide"\nprojects = ["apps/*"]\nregistry = "main"\n[platform]\nruntime = "20.0.0"\n',
  'ledger.shared.toml': 'format = 1\n[shared]\nlog = "^1.0.0"\n',
  'apps/web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "1.0.0"\njson = "^1.0.0"\n',
  'apps/web/src/a.ts': 'import "log";\n',
  'apps/kit/ledger.project.toml': 'name = "kit"\n[needs]\nlog = "shared"\n',
  'apps/kit/src/a.ts': 'import "log";\n',
};

interface FindingsBody {
  commit: string;
  isHistoryKnown: boolean;
  findings: { id: string; muted: unknown; since: { subject: string; isEarlier: boolean } | null }[];
  causes: { key: string; findings: string[] }[];
  remedies: { says: string; clears: string[] }[];
  scanned: { files: number };
}

let workspace: TestWorkspace;

beforeAll(async () => {
  workspace = await TestWorkspace.open(FILES, REGISTRY);
  await workspace.post([], 'Lock');
});
afterAll(() => workspace.stop());

const at = (path: string): string => workspace.at(path);

const post = (edits: readonly object[], message: string): Promise<void> =>
  workspace.post(edits, message);

async function read(): Promise<FindingsBody> {
  return (await workspace.server.http.get(at('/findings')).expect(200)).body as FindingsBody;
}

/** The findings once the history is worked out. */
async function readWithHistory(): Promise<FindingsBody> {
  await until(async () => {
    const { body } = await workspace.server.http.get(at('/overview')).expect(200);
    const { points, total } = body as { points: []; total: number };
    expect(body).toMatchObject({ trouble: null });
    expect(points.length).toBe(total);
  });
  return read();
}

const idsOf = ({ findings }: FindingsBody): string[] => findings.map(({ id }) => id);

test('findings come with causes, remedies that were tried, and what was scanned', async () => {
  const body = await read();
  expect(idsOf(body)).toEqual(
    expect.arrayContaining(['out-of-line apps/web log', 'unused apps/web json']),
  );
  expect(body.scanned.files).toBe(2);
  expect(body.causes.flatMap(({ findings }) => findings).sort()).toEqual(idsOf(body).sort());
  const remedy = body.remedies.find(({ says }) => says === 'take log ^1.0.0 in web')!;
  expect(remedy.clears).toContain('out-of-line apps/web log');
});

test('a commit that changes source alone changes what is unused', async () => {
  await workspace.repository.commit({ 'apps/web/src/b.ts': 'require("json");\n' }, 'Use json');
  await workspace.server.http
    .post(at('/refresh'))
    .expect((response) => expect(response.status).toBeLessThan(300));
  expect(idsOf(await read())).not.toContain('unused apps/web json');
});

test('the scan says what it read in each project, and what it could not', async () => {
  await workspace.repository.commit(
    { 'apps/web/src/c.ts': 'export const a = import(process.argv[2]!);\n' },
    'Load',
  );
  await workspace.server.http.post(at('/refresh'));
  const { body } = await workspace.server.http.get(at('/scan')).expect(200);
  const { projects } = body as { projects: { folder: string; files: number; unseen: object[] }[] };
  expect(projects.map(({ folder, files }) => [folder, files])).toEqual([
    ['apps/kit', 1],
    ['apps/web', 3],
  ]);
  expect(projects[1]!.unseen).toEqual([
    { file: 'apps/web/src/c.ts', line: 1, what: 'computed', text: 'process.argv[2]!' },
  ]);
});

test('a finding says with which commit it came, and the overview has a point for each commit', async () => {
  await workspace.repository.commit(
    { 'apps/kit/ledger.project.toml': 'name = "kit"\n[needs]\nlog = "~1.1.0"\n' },
    'Kit differs',
  );
  await workspace.server.http.post(at('/refresh'));
  const body = await readWithHistory();
  const since = (id: string) => body.findings.find((one) => one.id === id)?.since;
  expect(since('out-of-line apps/kit log')).toMatchObject({
    subject: 'Kit differs',
    isEarlier: false,
  });
  expect(since('out-of-line apps/web log')).toMatchObject({ subject: 'First', isEarlier: true });
  const { body: overview } = await workspace.server.http.get(at('/overview')).expect(200);
  const { points } = overview as { points: { subject: string; outOfLine: number }[] };
  expect(points.map(({ subject }) => subject)).toEqual(['First', 'Lock', 'Kit differs']);
  expect(points.map(({ outOfLine }) => outOfLine)).toEqual([1, 1, 1]);
});

test('a muted finding stays in the list with its reason, and in SARIF as suppressed', async () => {
  const mute = {
    kind: 'mute',
    finding: 'behind log major',
    reason: 'after the season',
    owner: 'web crew',
    until: '2026-01-31',
  };
  await post([mute], 'Mute');
  expect(await workspace.repository.file('ledger.shared.toml')).toContain(
    '[[muted]]\nfinding = "behind log major"',
  );
  const body = await read();
  expect(body.findings.find(({ id }) => id === 'behind log major')?.muted).toEqual({
    reason: 'after the season',
    owner: 'web crew',
    until: '2026-01-31',
  });
  const { text, headers } = await workspace.server.http.get(at('/findings/sarif')).expect(200);
  expect(headers['content-type']).toContain('application/sarif+json');
  expect(text).toContain('after the season');
});

test('a muted finding says since when it is there, like any other', async () => {
  const body = await readWithHistory();
  expect(body.isHistoryKnown).toBe(true);
  const muted = body.findings.find(({ id }) => id === 'behind log major');
  expect(muted?.since).not.toBeNull();
});

test('clearing everything is a draft that clears what it says, and finds nothing a second time', async () => {
  const first = (await workspace.server.http.get(at('/findings/clearing')).expect(200)).body as {
    edits: object[];
    cleared: string[];
  };
  expect(first.cleared).toEqual(
    expect.arrayContaining(['out-of-line apps/web log', 'out-of-line apps/kit log']),
  );
  await post(first.edits, 'Clear everything');
  const now = idsOf(await read());
  for (const id of first.cleared) expect(now).not.toContain(id);
  const again = (await workspace.server.http.get(at('/findings/clearing')).expect(200)).body as {
    edits: object[];
  };
  expect(again.edits).toEqual([]);
});

test('a draft says which findings it clears and raises', async () => {
  const { body } = await workspace.server.http.post(at('/drafts')).send({}).expect(201);
  const { id } = body as { id: string };
  const edits = [{ kind: 'set-range', package: 'log', range: '1.0.0', projects: ['apps/kit'] }];
  const { body: draft } = await workspace.server.http
    .post(at(`/drafts/${id}/edits`))
    .send({ edits });
  const { findings } = (
    draft as { evaluation: { consequences: { findings: { raised: { id: string }[] } } } }
  ).evaluation.consequences;
  expect(findings.raised.map((one) => one.id)).toContain('out-of-line apps/kit log');
});
