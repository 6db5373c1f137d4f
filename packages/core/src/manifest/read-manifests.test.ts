import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { lineStarts, positionAt } from '../text/index.js';
import { manifestProblemMessage, type ManifestProblem } from './manifest-problem.js';
import { readProjectManifest } from './project-manifest.js';
import { policyOf, readRootManifest } from './root-manifest.js';
import { readSharedManifest } from './shared-manifest.js';

const ROOT = 'format = 1\nname = "w"\nprojects = ["*"]\nregistry = "main"\n';
const SHARED = 'format = 1\n';
const PROJECT = 'name = "p"\n';

/** Each problem as `CODE line:column`. */
function placed(text: string, problems: readonly ManifestProblem[]): readonly string[] {
  const starts = lineStarts(text);
  return problems.map((problem) => {
    const { line, column } = positionAt(starts, problem.span[0]);
    expect(manifestProblemMessage(problem)).toMatch(/[.?]$/);
    return `${problem.code} ${line}:${column}`;
  });
}

describe('ledger.toml', () => {
  test('is read whole', () => {
    const text = `${ROOT}[platform]
runtime = "20.11.0"
targets = ["linux-x64"]
[policy]
copies = "one-per-major"
peers = "strict"
prereleases = "never"
minimum-age-days = 3
[policy.package.firnstore]
copies = "one"
`;
    const { root, problems } = readRootManifest(text);
    expect(placed(text, problems)).toEqual([]);
    expect(root).toMatchObject({
      name: 'w',
      registries: [{ name: 'main', patterns: ['*'] }],
      targets: ['linux-x64'],
    });
    expect(root!.platform.get('runtime')).toMatchObject({ major: 20, minor: 11 });
    expect(root!.policy).toMatchObject({
      copies: 'one-per-major',
      peers: 'strict',
      minimumAgeDays: 3,
    });
    expect(policyOf(root!.policy, 'firnstore')).toEqual({
      copies: 'one',
      prereleases: 'never',
      minimumAgeDays: 3,
    });
    expect(policyOf(root!.policy, 'other').copies).toBe('one-per-major');
  });

  test.each([
    ['name = ', ['SYNTAX 1:8']],
    ['format = 1\nname = "w"\nname = "v"\n', ['SYNTAX 3:1']],
    ['', ['KEY_MISSING 1:1', 'KEY_MISSING 1:1', 'KEY_MISSING 1:1', 'KEY_MISSING 1:1']],
    [ROOT.replace('format = 1', 'format = 2'), ['FORMAT_UNKNOWN 1:10']],
    [ROOT.replace('"w"', '"Big W"'), ['NAME_INVALID 2:8']],
    [`${ROOT}platfrom = 1\n`, ['UNKNOWN_KEY 5:1']],
    [ROOT.replace('["*"]', '"*"'), ['WRONG_TYPE 3:12']],
    [ROOT.replace('["*"]', '["a", 1]'), ['WRONG_TYPE 3:18']],
    [`${ROOT}[platform]\nruntime = "20"\n`, ['VERSION_INVALID 6:12']],
    [`${ROOT}[platform]\nruntime = 20\n`, ['WRONG_TYPE 6:11']],
    [`${ROOT}[policy]\ncopies = "two"\n`, ['VALUE_UNKNOWN 6:10']],
    [`${ROOT}[policy]\nminimum-age-days = -1\n`, ['NUMBER_OUT_OF_BOUNDS 6:20']],
    [`${ROOT}[policy.package.x]\npeers = "strict"\n`, ['UNKNOWN_KEY 6:1']],
  ])('says where and what is wrong in %j', (text, expected) => {
    expect(placed(text, readRootManifest(text).problems)).toEqual(expected);
  });
});

describe('ledger.project.toml', () => {
  test('gives requirements of all kinds, in any TOML form', () => {
    const text = `${PROJECT}needs.dev.a = "^1.0.0"
[needs]
b = 'shared'
c = { range = "~2.0.0", when = ["linux-*"] }
[needs.optional]
d = "workspace"
[needs.peer.e]
range = "*"
[use]
implicit = ["f"]
`;
    const { project, problems } = readProjectManifest(text.replace('needs.dev.a = "^1.0.0"\n', ''));
    expect(problems).toEqual([]);
    expect(
      project!.requirements.map(({ kind, name, written, when }) => [kind, name, written, when]),
    ).toEqual([
      ['runtime', 'b', 'shared', []],
      ['runtime', 'c', '~2.0.0', ['linux-*']],
      ['peer', 'e', '*', []],
      ['optional', 'd', 'workspace', []],
    ]);
    expect(project).toMatchObject({ version: null, ships: 'app', implicit: ['f'] });
  });

  test('keeps what it can read beside what it cannot', () => {
    const text = `${PROJECT}[needs]\na = "^1.0.0"\nb = "latest"\nc = "^2.0.0"\n`;
    const { project, problems } = readProjectManifest(text);
    expect(project!.requirements.map(({ name }) => name)).toEqual(['a', 'c']);
    expect(placed(text, problems)).toEqual(['RANGE_INVALID 4:6']);
  });

  test.each([
    ['[needs]\na = "1"\n', ['KEY_MISSING 1:1']],
    [`${PROJECT}ships = "toy"\n`, ['VALUE_UNKNOWN 2:9']],
    [`${PROJECT}version = "one"\n`, ['VERSION_INVALID 2:12']],
    [`${PROJECT}[need]\na = "1"\n`, ['UNKNOWN_KEY 2:2']],
    [`${PROJECT}[needs]\na = ">=1.0.0, <2.0.0"\n`, ['RANGE_INVALID 3:13']],
    [`${PROJECT}[needs]\na = 1\n`, ['WRONG_TYPE 3:5']],
    [`${PROJECT}[needs]\n"-A" = "1"\n`, ['NAME_INVALID 3:1']],
    [`${PROJECT}[needs]\na = { when = ["x"] }\n`, ['KEY_MISSING 3:5']],
    [`${PROJECT}[needs]\na = "1"\n[needs.dev]\na = "1"\n`, ['REQUIRED_TWICE 5:1']],
  ])('says where and what is wrong in %j', (text, expected) => {
    expect(placed(text, readProjectManifest(text).problems)).toEqual(expected);
  });
});

describe('ledger.shared.toml', () => {
  test('is read whole', () => {
    const text = `${SHARED}[shared]
a = "^1.0.0"
[lockstep.set]
range = "4.1.0"
packages = ["b", "c"]
[everywhere]
lint = { range = "^1.0.0", kind = "dev", except = ["apps/x"] }
[pins]
d = "1.3.1"
[[exceptions]]
project = "p"
package = "a"
range = "^0.9.0"
reason = "old"
owner = "crew"
until = 2027-03-31
`;
    const { shared, problems } = readSharedManifest(text);
    expect(problems).toEqual([]);
    expect(shared!.shared.get('a')!.text).toBe('^1.0.0');
    expect(shared!.lockstep).toMatchObject([{ name: 'set', text: '4.1.0', packages: ['b', 'c'] }]);
    expect(shared!.everywhere).toMatchObject([
      { name: 'lint', kind: 'dev', except: [{ text: 'apps/x' }] },
    ]);
    expect(shared!.pins.get('d')!.text).toBe('1.3.1');
    expect(shared!.exceptions).toMatchObject([
      { project: 'p', until: '2027-03-31', owner: 'crew' },
    ]);
  });

  test.each([
    [`${SHARED}[shared]\na = "shared"\n`, ['RANGE_INVALID 3:6']],
    [`${SHARED}[lockstep.s]\npackages = ["a"]\n`, ['KEY_MISSING 2:1']],
    [
      `${SHARED}[shared]\na = "1"\n[lockstep.s]\nrange = "1"\npackages = ["a"]\n`,
      ['AGREED_TWICE 5:9'],
    ],
    [`${SHARED}[pins]\na = "^1.0.0"\n`, ['VERSION_INVALID 3:6']],
    [
      `${SHARED}[[exceptions]]\nproject = "p"\n`,
      [
        'KEY_MISSING 2:1',
        'KEY_MISSING 2:1',
        'KEY_MISSING 2:1',
        'KEY_MISSING 2:1',
        'KEY_MISSING 2:1',
      ],
    ],
    [
      `${SHARED}[[exceptions]]\nproject = "p"\npackage = "a"\nrange = "1"\nreason = "r"\nowner = "o"\nuntil = "soon"\n`,
      ['DATE_INVALID 8:9'],
    ],
  ])('says where and what is wrong in %j', (text, expected) => {
    expect(placed(text, readSharedManifest(text).problems)).toEqual(expected);
  });
});

test('mutated files never crash a reader and never pass in silence when they are no TOML', () => {
  const whole = `${ROOT}[platform]\nruntime = "20.0.0"\n[needs]\na = { range = "^1.0.0", when = ["x"] }\n[[exceptions]]\nuntil = 2027-03-31\n`;
  fc.assert(
    fc.property(fc.nat(whole.length), fc.nat(8), fc.string({ maxLength: 6 }), (at, cut, insert) => {
      const text = whole.slice(0, at) + insert + whole.slice(at + cut);
      for (const read of [readRootManifest, readProjectManifest, readSharedManifest]) {
        const result = read(text);
        const value =
          'root' in result ? result.root : 'project' in result ? result.project : result.shared;
        if (value === null) expect(result.problems.length).toBeGreaterThan(0);
      }
    }),
  );
});

test('values nested without end are refused, not crashed on', () => {
  const { root, problems } = readRootManifest(`a = ${'['.repeat(20_000)}`);
  expect(root).toBeNull();
  expect(problems[0]!.code).toBe('SYNTAX');
});
