import { describe, expect, test } from 'vitest';
import type { Edit } from '../edit/index.js';
import {
  causesOf,
  findAll,
  FINDING_KINDS,
  mutesOf,
  rankRemedies,
  type Finding,
  type FindingKind,
} from '../findings/index.js';
import { printLock } from '../lock/index.js';
import { needlessCopies, resolve, type Resolution } from '../resolve/index.js';
import { filesOf, recordsOf, ROOT, type RegistrySketch } from '../resolve/world.arbitrary.js';
import { gatherUse, SourceScanner } from '../scan/index.js';
import { SPELLINGS } from '../workspace/spellings.arbitrary.js';
import { LOCK_FILE, readWorkspace, type WorkspaceFiles } from '../workspace/index.js';
import { clearEverything } from './clear-everything.js';
import { draftBase, type DraftBase } from './draft-base.js';
import { evaluateDraft } from './evaluate-draft.js';
import { findingsAfter, findingsChange, standOfBase, type Known } from './stand-of-draft.js';

const DAY = '2025-01-01';

const TERMS = { id: 'maps-2', title: 'Terms for maps', url: 'https://maps.example/terms' };

const REGISTRY: RegistrySketch = {
  log: {
    '1.0.0': {},
    '1.2.0': { published: '2024-03-01T00:00:00Z' },
    '2.0.0': { published: '2024-06-01T00:00:00Z' },
  },
  json: { '1.0.0': {}, '1.1.0': {} },
  boot: { '1.0.0': { needs: { json: '~1.0.0' } } },
  host: { '1.0.0': { peers: { json: { range: '^1.1.0', optional: false } } } },
  old: {
    '1.0.0': { deprecated: 'use 1.1' },
    '1.1.0': { licence: 'MIT' },
  },
  taken: { '1.0.0': { withdrawn: true }, '1.0.1': {} },
  native: {
    '1.0.0': { platform: { runtime: '>=18' } },
    '1.1.0': { platform: { runtime: '>=18' } },
  },
  maps: { '1.0.0': { terms: TERMS } },
  viral: { '1.0.0': { licence: 'MIT' }, '1.1.0': { licence: 'AGPL-3.0-only' } },
  freshh: { '1.0.0': {} },
  fresh: { '1.0.0': {}, '1.1.0': { published: '2024-12-28T00:00:00Z' } },
};

/** What a workspace is made of, told briefly. */
interface Sketch {
  readonly projects: Readonly<Record<string, Readonly<Record<string, string>>>>;
  readonly others?: Readonly<Record<string, string>>;
  /** Source files, by path. */
  readonly source?: Readonly<Record<string, string>>;
  /** What the lockfile was resolved from, where that is not the same. */
  readonly lockedFrom?: Omit<Sketch, 'lockedFrom'>;
  readonly lockedWith?: RegistrySketch;
  /** What the lockfile held on to when it was resolved. */
  readonly held?: Omit<Sketch, 'held'>;
  readonly lock?: (text: string) => string;
  readonly today?: string;
  /** How its files are written down; as ours when absent. */
  readonly spell?: (files: WorkspaceFiles) => WorkspaceFiles;
}

function filesFor({ projects, others, spell = asItIs }: Sketch): WorkspaceFiles {
  return spell(filesOf(projects, others));
}

function asItIs(files: WorkspaceFiles): WorkspaceFiles {
  return files;
}

function resolutionFor(sketch: Sketch): Resolution {
  const { workspace } = readWorkspace(filesFor(sketch.lockedFrom ?? sketch));
  const outcome = resolve({
    workspace: workspace!,
    records: recordsOf(sketch.lockedWith ?? REGISTRY),
    asOf: sketch.today ?? DAY,
    before: sketch.held === undefined ? null : resolutionFor(sketch.held),
  });
  if (outcome.kind !== 'answered') throw new Error(JSON.stringify(outcome));
  return outcome.resolution;
}

function lockFor(sketch: Sketch): string {
  const text = printLock(resolutionFor(sketch));
  return sketch.lock?.(text) ?? text;
}

function baseOf(sketch: Sketch): DraftBase {
  const files = new Map(filesFor(sketch)).set(LOCK_FILE, lockFor(sketch));
  return draftBase(files, recordsOf(REGISTRY), sketch.today ?? DAY);
}

function knownOf(base: DraftBase, sketch: Sketch): Known {
  const { workspace, lock } = base;
  if (workspace === null) return { use: null, needless: null };
  const scanner = new SourceScanner(workspace.scan);
  const scans = Object.entries(sketch.source ?? {}).map(
    ([path, text]) => [path, scanner.scan(path, text)] as const,
  );
  const use = gatherUse(workspace.projects, new Map(scans));
  const resolution = lock?.resolution ?? null;
  const needless =
    resolution === null
      ? null
      : needlessCopies(base.engine, { workspace, asOf: base.today }, resolution);
  return { use, needless };
}

function found(sketch: Sketch): { base: DraftBase; known: Known; findings: readonly Finding[] } {
  const base = baseOf(sketch);
  const known = knownOf(base, sketch);
  return { base, known, findings: findAll(standOfBase(base, known)) };
}

const ids = (findings: readonly Finding[]): readonly string[] => findings.map(({ id }) => id);

const shared = (text: string): Readonly<Record<string, string>> => ({
  'ledger.shared.toml': `format = 1\n${text}`,
});
const policy = (text: string): Readonly<Record<string, string>> => ({
  'ledger.toml': `${ROOT}[policy]\n${text}\n`,
});
const MUTED_LOG = { 'web/a.ts': 'import "log";', 'kit/a.ts': 'import "log";' };

const accepted = (title: string): string =>
  `[[accepted]]\nid = "maps-2"\ntitle = "${title}"\nurl = "${TERMS.url}"\nby = "Ada Fenn"\non = 2024-12-01\n`;

/** For each kind a world in which it is raised, with its name, and a like one in which it is not. */
interface Case {
  readonly raised: Sketch;
  readonly id: string;
  readonly not: Sketch;
  /** Which remedy clears it; null: none can, and there is none. */
  readonly remedy: number | null;
}

const LAPSED = `[shared]\nlog = "^1.0.0"\n[[exceptions]]\nproject = "web"\npackage = "log"\nrange = "1.0.0"\nreason = "r"\nowner = "o"\nuntil = `;

const CASES: Readonly<Record<FindingKind, Case>> = {
  unreadable: {
    raised: {
      projects: { web: { log: '^1.0.0' } },
      lock: (text) => text.replace('project web', 'projekt web'),
    },
    id: 'unreadable ledger.lock LOCK_UNREADABLE',
    not: { projects: { web: { log: '^1.0.0' } } },
    remedy: 0,
  },
  tampered: {
    raised: {
      projects: { web: { log: '^1.0.0' } },
      lock: (text) => text.replace('sha512-A', 'sha512-B'),
    },
    id: 'tampered log 1.2.0',
    not: { projects: { web: { log: '^1.0.0' } } },
    remedy: 0,
  },
  withdrawn: {
    raised: {
      projects: { web: { taken: '^1.0.0' } },
      lockedWith: { taken: { '1.0.0': {} } },
    },
    id: 'withdrawn taken 1.0.0',
    not: { projects: { web: { taken: '^1.0.0' } } },
    remedy: 0,
  },
  unlocked: {
    raised: {
      projects: { web: { log: '^1.0.0', json: '^1.0.0' } },
      lockedFrom: { projects: { web: { log: '^1.0.0' } } },
    },
    id: 'unlocked REQUIREMENT_ADDED web runtime json',
    not: { projects: { web: { log: '^1.0.0', json: '^1.0.0' } } },
    remedy: 0,
  },
  orphaned: {
    raised: {
      projects: { web: { log: '^1.0.0' } },
      lockedFrom: { projects: { web: { log: '^1.0.0', json: '^1.0.0' } } },
    },
    id: 'orphaned REQUIREMENT_GONE web runtime json',
    not: { projects: { web: { log: '^1.0.0' } } },
    remedy: 0,
  },
  platform: {
    raised: {
      projects: { web: { native: '^1.0.0' } },
      lockedWith: { native: { '1.0.0': {}, '1.2.0': {} } },
      lock: (text) => text.replaceAll('1.2.0', '1.1.0'),
      others: { 'ledger.toml': ROOT.replace('20.0.0', '16.0.0') },
    },
    id: 'platform native 1.1.0',
    not: { projects: { web: { native: '^1.0.0' } } },
    remedy: null,
  },
  'unmet-peer': {
    raised: { projects: { web: { host: '^1.0.0', json: '1.0.0' } } },
    id: 'unmet-peer web host 1.0.0 json web',
    not: { projects: { web: { host: '^1.0.0', json: '^1.1.0' } } },
    remedy: 0,
  },
  licence: {
    raised: {
      projects: { web: { viral: '^1.0.0' } },
      others: policy('licences = ["MIT"]'),
    },
    id: 'licence viral 1.1.0',
    not: { projects: { web: { viral: '~1.0.0' } }, others: policy('licences = ["MIT"]') },
    remedy: 1,
  },
  'out-of-line': {
    raised: {
      projects: { web: { log: '1.0.0' }, kit: { log: 'shared' } },
      others: shared('[shared]\nlog = "^1.0.0"\n'),
    },
    id: 'out-of-line web log',
    not: {
      projects: { web: { log: '^1.0.0' }, kit: { log: 'shared' } },
      others: shared('[shared]\nlog = "^1.0.0"\n'),
    },
    remedy: 0,
  },
  scattered: {
    raised: { projects: { web: { log: '~1.0.0' }, kit: { log: '^1.0.0' } } },
    id: 'scattered log',
    not: { projects: { web: { log: '^1.0.0' }, kit: { log: '^1.0.0' } } },
    remedy: 0,
  },
  terms: {
    raised: { projects: { web: { maps: '^1.0.0' } } },
    id: 'terms maps 1.0.0',
    not: {
      projects: { web: { maps: '^1.0.0' } },
      others: shared(accepted(TERMS.title)),
    },
    remedy: 1,
  },
  'lockstep-broken': {
    raised: {
      projects: { web: { log: 'shared', boot: '^1.0.0' } },
      others: shared('[lockstep.core]\nrange = "1.0.0"\npackages = ["log", "boot"]\n'),
    },
    id: 'lockstep-broken core',
    not: {
      projects: { web: { log: 'shared', boot: 'shared' } },
      others: shared('[lockstep.core]\nrange = "1.0.0"\npackages = ["log", "boot"]\n'),
    },
    remedy: 0,
  },
  'lapsed-exception': {
    raised: { projects: { web: { log: '1.0.0' } }, others: shared(`${LAPSED}2024-12-31\n`) },
    id: 'lapsed-exception web log',
    not: { projects: { web: { log: '1.0.0' } }, others: shared(`${LAPSED}2025-01-01\n`) },
    remedy: 0,
  },
  'several-copies': {
    raised: {
      projects: { web: { json: '^1.0.0' }, kit: { json: '1.1.0' }, hut: { json: '~1.0.0' } },
      others: shared('[shared]\njson = "^1.0.0"\n'),
    },
    id: 'several-copies json',
    not: { projects: { web: { json: '^1.0.0' }, kit: { json: '1.1.0' } } },
    remedy: 0,
  },
  'other-registry': {
    raised: {
      projects: { web: { log: '^1.0.0' } },
      lock: (text) => text.replace('from main', 'from house'),
    },
    id: 'other-registry log 1.2.0 house main',
    not: { projects: { web: { log: '^1.0.0' } } },
    remedy: 0,
  },
  confusable: {
    raised: {
      projects: Object.fromEntries(
        ['a', 'b', 'c', 'd'].map((name) => [
          name,
          name === 'd' ? { freshh: '^1.0.0' } : { fresh: '^1.0.0' },
        ]),
      ),
    },
    id: 'confusable freshh',
    not: {
      projects: Object.fromEntries(
        ['a', 'b', 'c', 'd'].map((name) => [
          name,
          name < 'c' ? { freshh: '^1.0.0' } : { fresh: '^1.0.0' },
        ]),
      ),
    },
    remedy: null,
  },
  cycle: {
    raised: { projects: { web: { kit: 'workspace' }, kit: { web: 'workspace' } } },
    id: 'cycle kit web',
    not: { projects: { web: { kit: 'workspace' }, kit: {} } },
    remedy: 0,
  },
  undeclared: {
    raised: {
      projects: { web: { boot: '^1.0.0' } },
      source: { 'web/a.ts': 'import "boot"; import "json"; import "fs";' },
    },
    id: 'undeclared web json',
    not: {
      projects: { web: { boot: '^1.0.0', json: '*' } },
      source: { 'web/a.ts': 'import "boot"; import "json"' },
    },
    remedy: 0,
  },
  unused: {
    raised: {
      projects: { web: { log: '^1.0.0', json: '^1.0.0' } },
      source: { 'web/a.ts': 'import "log";' },
    },
    id: 'unused web json',
    not: {
      projects: { web: { log: '^1.0.0', json: '^1.0.0' } },
      source: { 'web/a.ts': 'import "log"; require("json/sub");' },
    },
    remedy: 0,
  },
  redundant: {
    raised: {
      projects: { web: { kit: 'workspace', log: '^1.0.0' }, kit: { log: '^1.2.0' } },
      source: { 'web/a.ts': 'import "kit";', 'kit/a.ts': 'import "log"' },
    },
    id: 'redundant web log',
    not: {
      projects: { web: { kit: 'workspace', log: '^1.0.0' }, kit: { log: '^1.0.0' } },
      source: { 'web/a.ts': 'import "kit"; import "log"', 'kit/a.ts': 'import "log"' },
    },
    remedy: 0,
  },
  deprecated: {
    raised: {
      projects: { web: { old: '^1.0.0' } },
      lockedWith: { old: { '1.0.0': {} } },
    },
    id: 'deprecated old 1.0.0',
    not: { projects: { web: { old: '^1.0.0' } } },
    remedy: 0,
  },
  'too-new': {
    raised: {
      projects: { web: { fresh: '^1.0.0' } },
      others: policy('minimum-age-days = 30'),
      lockedFrom: { projects: { web: { fresh: '^1.0.0' } } },
    },
    id: 'too-new fresh 1.1.0',
    not: { projects: { web: { fresh: '^1.0.0' } }, others: policy('minimum-age-days = 30') },
    remedy: 0,
  },
  loose: {
    raised: { projects: { web: { log: '>=1.0.0' } } },
    id: 'loose web log',
    not: { projects: { web: { log: '>=1.0.0 <3.0.0' } } },
    remedy: 0,
  },
  'idle-shared': {
    raised: { projects: { web: {} }, others: shared('[shared]\nlog = "^1.0.0"\n') },
    id: 'idle-shared log shared',
    not: { projects: { web: { log: 'shared' } }, others: shared('[shared]\nlog = "^1.0.0"\n') },
    remedy: 0,
  },
  behind: {
    raised: { projects: { web: { log: '~1.0.0' } } },
    id: 'behind log minor',
    not: { projects: { web: { log: '~1.2.0' } } },
    remedy: 0,
  },
};

test('a lockstep set whose range leaves its packages at several versions is out of step', () => {
  const sketch: Sketch = {
    projects: { web: { log: 'shared', json: 'shared' } },
    others: shared('[lockstep.core]\nrange = "^1.0.0"\npackages = ["log", "json"]\n'),
  };
  const { base, findings, known } = found(sketch);
  const finding = findings.find(({ id }) => id === 'lockstep-broken core')!;
  expect(finding.says).toBe(
    'The lockstep set core is agreed at ^1.0.0, which leaves its packages at 1.1.0 and 1.2.0',
  );
  expect(finding.remedies.map(({ says }) => says)).toEqual(['agree on 1.0.0 for all of core']);
  const evaluation = evaluateDraft(base, finding.remedies[0]!.edits);
  const after = findingsAfter(base, evaluation, known)!;
  expect(ids(findingsChange(findings, after).cleared)).toContain(finding.id);
});

test('a requirement for development that nothing imports is perhaps unused, and left unless it is ticked', () => {
  const sketch: Sketch = {
    projects: { web: { log: '^1.0.0' } },
    others: {
      'web/ledger.project.toml':
        'name = "web"\n[needs]\nlog = "^1.0.0"\n[needs.dev]\njson = "^1.0.0"\n',
    },
    source: { 'web/a.ts': 'import "log"' },
  };
  const { base, findings, known } = found(sketch);
  const finding = findings.find(({ kind }) => kind === 'unused')!;
  expect(finding).toMatchObject({ id: 'unused web json', severity: 'note' });
  expect(finding.says).toMatch(/^json is perhaps unused/);
  const plain = clearEverything(base, known);
  expect(plain.edits.some((edit) => edit.kind === 'remove-requirement')).toBe(false);
  expect(plain.left.find((one) => one.finding.id === finding.id)?.why.kind).toBe('perhaps');
  const ticked = clearEverything(base, known, undefined, new Set([finding.id]));
  expect(ids(ticked.cleared)).toContain(finding.id);
});

test('what is behind names only releases that policy, platform and age let in', () => {
  const registry: RegistrySketch = {
    log: {
      '1.0.0': {},
      '1.1.0': {},
      '1.2.0': { platform: { runtime: '>=22' } },
      '1.3.0': { published: '2024-12-30T00:00:00Z' },
      '1.4.0': { deprecated: 'no' },
      '1.5.0': { withdrawn: true },
      '2.0.0': { licence: 5 },
    },
  };
  const files = filesOf(
    { web: { log: '1.0.0' } },
    { 'ledger.toml': `${ROOT}[policy]\nminimum-age-days = 14\n` },
  );
  const records = recordsOf(registry);
  const lock = resolve({
    workspace: readWorkspace(files).workspace!,
    records,
    asOf: DAY,
    before: null,
  });
  if (lock.kind !== 'answered') throw new Error(lock.kind);
  const base = draftBase(new Map(files).set(LOCK_FILE, printLock(lock.resolution)), records, DAY);
  const behind = findAll(standOfBase(base, { use: null, needless: null })).filter(
    ({ kind }) => kind === 'behind',
  );
  expect(behind.map(({ id }) => id)).toEqual(['behind log minor']);
  expect(behind[0]!.says).toMatch(/^log 1\.0\.0 is one release behind 1\.1\.0/);
  expect(base.rows[0]!.behind).toEqual({ step: 'minor', newest: '1.1.0', releases: 1 });
});

const IN_SPELLINGS = SPELLINGS.flatMap(([name, spell]) =>
  FINDING_KINDS.map((kind) => [kind, name, spell] as const),
);

describe.each(IN_SPELLINGS)('%s in %s', (kind, _, spell) => {
  const { id, remedy, ...sketches } = CASES[kind];
  const [raised, not] = [sketches.raised, sketches.not].map((one) => ({ ...one, spell })) as [
    Sketch,
    Sketch,
  ];

  test('is raised, with evidence, once', () => {
    const { findings } = found(raised);
    const named = findings.filter((one) => one.kind === kind);
    expect(ids(named)).toContain(id);
    expect(new Set(ids(findings)).size).toBe(findings.length);
    const finding = named.find((one) => one.id === id)!;
    expect(finding.evidence.length).toBeGreaterThan(0);
    expect(finding.says).toMatch(/^[^\n]+[^.\n]$/);
  });

  test('is not raised where nothing of the kind is wrong', () => {
    expect(ids(found(not).findings.filter((one) => one.kind === kind))).not.toContain(id);
  });

  test(
    remedy === null
      ? 'has no remedy that has an answer'
      : 'is cleared by its remedy, and nothing else of the kind comes',
    () => {
      const { base, known, findings } = found(raised);
      const finding = findings.find((one) => one.id === id)!;
      if (remedy === null) {
        for (const { edits } of finding.remedies)
          expect(evaluateDraft(base, edits).kind).toBe('unanswered');
        return;
      }
      const evaluation = evaluateDraft(base, finding.remedies[remedy]!.edits);
      const after = findingsAfter(base, evaluation, known);
      expect(evaluation.kind).toBe('answered');
      const change = findingsChange(findings, after!);
      expect(ids(change.cleared)).toContain(id);
      expect(change.raised.filter((one) => one.kind === kind)).toEqual([]);
    },
  );
});

describe('several copies', () => {
  const HELD: Sketch = {
    projects: { web: { json: '^1.0.0' }, kit: { json: '1.1.0' } },
    // From a time when there was no 1.1.0.
    held: { projects: { web: { json: '^1.0.0' } }, lockedWith: { json: { '1.0.0': {} } } },
  };

  test('are needless where a pick ends them, which touches no manifest', () => {
    const { base, known, findings } = found(HELD);
    const finding = findings.find((one) => one.id === 'several-copies json')!;
    expect(finding).toMatchObject({ severity: 'warning' });
    const [{ edits }] = finding.remedies as [Finding['remedies'][number]];
    expect(edits).toEqual([{ kind: 're-pick', package: 'json', from: '1.0.0', to: '1.1.0' }]);
    const evaluation = evaluateDraft(base, edits);
    if (evaluation.kind !== 'answered') throw new Error(evaluation.kind);
    expect(evaluation.changes.map(({ path }) => path)).toEqual([LOCK_FILE]);
    expect(ids(findingsAfter(base, evaluation, known)!)).not.toContain(finding.id);
  });

  test('are found needless without resolving, too, where another copy meets all demands', () => {
    const { base, known } = found(HELD);
    const findings = findAll(standOfBase(base, { ...known, needless: null }));
    expect(findings.find((one) => one.id === 'several-copies json')?.remedies[0]?.edits).toEqual([
      { kind: 're-pick', package: 'json', from: '1.0.0', to: '1.1.0' },
    ]);
  });

  test('are forced, and light, where demands clash', () => {
    const { findings } = found({ projects: { web: { boot: '*' }, kit: { json: '1.1.0' } } });
    expect(findings.find((one) => one.id === 'several-copies json')).toMatchObject({
      severity: 'note',
      remedies: [],
    });
  });
});

describe('what is answered otherwise', () => {
  const line = (until: string, range = '^1.0.0'): string =>
    shared(
      `[[otherwise]]\nof = "boot"\npackage = "json"\nrange = "${range}"\nreason = "r"\nowner = "o"\nuntil = ${until}\n`,
    )['ledger.shared.toml']!;
  const of = (text: string) =>
    found({ projects: { web: { boot: '*' } }, others: { 'ledger.shared.toml': text } });

  test('is found when its last day is over, and ended by its remedy', () => {
    const { base, known, findings } = of(line('2024-12-31'));
    const lapsed = findings.find(({ kind }) => kind === 'lapsed-exception')!;
    expect(lapsed.id).toBe('lapsed-exception json boot');
    const after = findingsAfter(base, evaluateDraft(base, lapsed.remedies[0]!.edits), known)!;
    expect(ids(after)).not.toContain(lapsed.id);
    expect(ids(of(line('2025-01-01')).findings)).not.toContain(lapsed.id);
  });

  test('is idle where no copy asks for another range', () => {
    const asked = found({ projects: { web: { boot: '*' } } }).base.lock!.resolution!.copies.find(
      ({ name }) => name === 'boot',
    )!.requirements[0]!;
    const idle = ids(of(line('2025-12-31', asked.written)).findings);
    expect(idle).toContain('idle-shared json otherwise boot');
    expect(ids(of(line('2025-12-31', '^1.1.0')).findings)).not.toContain(
      'idle-shared json otherwise boot',
    );
  });
});

test('a muted finding is still found, and named as muted through its last day', () => {
  const line = (until: string): Sketch => ({
    projects: { web: { log: '^1.0.0', json: '^1.0.0' } },
    source: { 'web/a.ts': 'import "log";' },
    others: shared(
      `[[muted]]\nfinding = "unused web json"\nreason = "soon"\nowner = "web crew"\nuntil = ${until}\n`,
    ),
  });
  const { base, findings } = found(line('2025-01-01'));
  expect(ids(findings)).toContain('unused web json');
  expect(mutesOf(base.workspace, DAY).get('unused web json')).toMatchObject({ owner: 'web crew' });
  expect(mutesOf(found(line('2024-12-31')).base.workspace, DAY).size).toBe(0);
});

test('muting, unmuting and believing a use are edits in place', () => {
  const { base, known } = found({
    projects: { web: { log: '^1.0.0', json: '^1.0.0' } },
    source: { 'web/a.ts': 'import "log";' },
  });
  const mute: Edit = {
    kind: 'mute',
    finding: 'unused web json',
    reason: 'soon',
    owner: 'web crew',
    until: '2025-06-30',
  };
  const believe: Edit = { kind: 'believe-use', package: 'json', project: 'web' };
  const muted = evaluateDraft(base, [mute]);
  if (muted.kind !== 'answered') throw new Error(muted.kind);
  expect(muted.changes.map(({ path }) => path)).toEqual(['ledger.shared.toml']);
  expect(mutesOf(muted.after.workspace, DAY).get('unused web json')?.until).toBe('2025-06-30');
  const again = evaluateDraft(base, [mute, { kind: 'unmute', finding: 'unused web json' }]);
  expect(again.kind === 'answered' && again.after.workspace.shared.muted).toEqual([]);
  const believed = evaluateDraft(base, [believe]);
  if (believed.kind !== 'answered') throw new Error(believed.kind);
  expect(believed.after.files.get('web/ledger.project.toml')).toContain(
    '[use]\nimplicit = ["json"]',
  );
  expect(ids(findingsAfter(base, believed, known)!)).not.toContain('unused web json');
  const refused = evaluateDraft(base, [{ ...mute, until: 'soon' }]);
  expect(refused.kind === 'inapplicable' && refused.problems[0]?.code).toBe('EDIT_VALUE_INVALID');
});

describe('causes', () => {
  test('gather what one copy brings in, and what is wrong with one package', () => {
    const sketch: Sketch = {
      projects: { web: { log: '1.0.0' }, kit: { log: '2.0.0' }, hut: { log: 'shared' } },
      others: shared('[shared]\nlog = "^1.2.0"\n'),
    };
    const { base, known, findings } = found(sketch);
    const causes = causesOf(standOfBase(base, known), findings);
    const cause = causes.find(({ key }) => key === 'package log')!;
    expect(ids(cause.findings)).toEqual(
      expect.arrayContaining(['out-of-line kit log', 'out-of-line web log', 'several-copies log']),
    );
    expect(causes.flatMap((one) => ids(one.findings)).sort()).toEqual([...ids(findings)].sort());
  });
});

test('remedies with the same edits are one, and what clears most for what it touches is first', () => {
  const { findings } = found({
    projects: { web: { log: '1.0.0' }, kit: { log: '~1.0.0' }, hut: { log: 'shared' } },
    others: shared('[shared]\nlog = "^1.2.0"\n'),
  });
  const ranked = rankRemedies(findings);
  const keys = ranked.map(({ edits }) => JSON.stringify(edits));
  expect(new Set(keys).size).toBe(keys.length);
  expect(ranked[0]!.findings.length).toBeGreaterThanOrEqual(1);
  const worth = ranked.map((one) => one.findings.length / (1 + one.touches));
  expect(worth[0]).toBeGreaterThanOrEqual(worth.at(-1)!);
});

describe.each(SPELLINGS)('clearing everything in %s', (_, spell) => {
  const SKETCH: Sketch = {
    spell,
    projects: {
      web: { log: '1.0.0', json: '^1.0.0', boot: '*' },
      kit: { log: '~1.0.0', json: '>=1.0.0' },
      hut: { log: 'shared', old: '^1.0.0' },
    },
    others: shared('[shared]\nlog = "^1.0.0"\nfresh = "^1.0.0"\n'),
    lockedWith: { ...REGISTRY, old: { '1.0.0': {} } },
    source: {
      'web/a.ts': 'import "log"; import "json"; import "boot"',
      'kit/a.ts': 'import "log"; import "json"; import "boot"',
      'hut/a.ts': 'import "log"',
    },
  };

  test('clears all that can be cleared, says why the rest stays, and finds nothing a second time', () => {
    const { base, known, findings } = found(SKETCH);
    const { edits, cleared, left } = clearEverything(base, known);
    const evaluation = evaluateDraft(base, edits);
    if (evaluation.kind !== 'answered') throw new Error(evaluation.kind);
    expect(ids(cleared)).toEqual(
      expect.arrayContaining([
        'out-of-line web log',
        'out-of-line kit log',
        'scattered json',
        'unused hut old',
        'undeclared kit boot',
        'idle-shared fresh shared',
        'deprecated old 1.0.0',
      ]),
    );
    expect(left.map(({ finding, why }) => [finding.id, why.kind])).toEqual(
      expect.arrayContaining([['behind log major', 'major-step']]),
    );
    expect(ids(cleared).length + left.length).toBeGreaterThanOrEqual(findings.length);

    const posted = draftBase(evaluation.after.files, base.records, DAY);
    const again = clearEverything(posted, knownOf(posted, SKETCH));
    expect(again.edits).toEqual([]);
    expect(again.cleared).toEqual([]);
  });

  test('no edit can be left out', () => {
    const { base, known } = found(SKETCH);
    const { edits, cleared } = clearEverything(base, known);
    for (const edit of edits) {
      const evaluation = evaluateDraft(
        base,
        edits.filter((one) => one !== edit),
      );
      const after = findingsAfter(base, evaluation, known);
      const still = new Set(ids(after ?? cleared));
      expect(cleared.some(({ id }) => still.has(id))).toBe(true);
    }
  });

  test('leaves alone what is muted', () => {
    const muted = `[[muted]]\nfinding = "out-of-line web log"\nreason = "r"\nowner = "o"\nuntil = 2025-12-31\n`;
    const { base, known } = found({
      projects: { web: { log: '1.0.0' }, kit: { log: 'shared' } },
      others: shared(`[shared]\nlog = "^1.0.0"\n${muted}`),
      source: MUTED_LOG,
    });
    const { edits, left } = clearEverything(base, known);
    expect(edits.some((edit) => edit.kind === 'take-shared')).toBe(false);
    expect(ids(left.map(({ finding }) => finding))).not.toContain('out-of-line web log');
  });
});

test('a name that is near to several is one finding, which names the one that most projects require', () => {
  const asks = (...names: string[]) => Object.fromEntries(names.map((name) => [name, '^1.0.0']));
  const files = filesOf({
    a: asks('tarns', 'terns'),
    b: asks('tarns', 'terns', 'torns'),
    c: asks('tarns', 'terns', 'torns'),
    d: asks('tarns', 'torns', 'turns'),
  });
  const base = draftBase(files, new Map(), '2025-01-01');
  const found = findAll(standOfBase(base, { use: null, needless: null }));
  expect(
    found.filter(({ kind }) => kind === 'confusable').map(({ id, says }) => [id, says]),
  ).toEqual([
    [
      'confusable turns',
      'turns is one letter away from tarns, which 4 projects require, and from 2 more names; is it meant?',
    ],
  ]);
});
