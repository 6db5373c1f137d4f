import { describe, expect, test } from 'vitest';
import { certify } from './certify/certificate.js';
import { checkCertificates } from './certify/check-certificates.js';
import { Engine } from './engine.js';
import { suggestFixes } from './explain/suggest-fixes.js';
import {
  filesOf,
  recordsOf,
  ROOT,
  workspaceOf,
  type RegistrySketch,
  type World,
} from './world.arbitrary.js';

/*
 * Cases whose outcome was found by reasoning, not by running the resolver.
 */
const asOf = '2025-01-01';
const ONE = '[policy]\ncopies = "one"\n';
const ONE_EACH = '[policy]\ncopies = "one-per-major"\n';
const STRICT = '[policy]\npeers = "strict"\n';
const ANY = '';

function ask(
  registry: RegistrySketch,
  projects: World['projects'],
  policy: string,
  files: Readonly<Record<string, string>> = {},
) {
  const records = recordsOf(registry);
  const engine = new Engine(records);
  const all = filesOf(projects, { 'ledger.toml': ROOT + policy, ...files });
  const question = { workspace: workspaceOf(all), asOf, before: null };
  return { engine, question, records, outcome: engine.resolve(question) };
}

function outcomeWords({ outcome }: ReturnType<typeof ask>): readonly string[] | 'none' {
  if (outcome.kind !== 'answered') return 'none';
  const { copies, projects } = outcome.resolution;
  return [
    ...copies.map(({ name, version }) => `${name} ${version}`),
    ...projects.flatMap(({ folder, supplied }) =>
      supplied.map(({ name, version }) => `${folder} gets ${name} ${version ?? 'nothing'}`),
    ),
    ...outcome.unmetPeers.map(
      ({ copy, name, version }) => `${copy} lacks ${name}, finds ${version ?? 'nothing'}`,
    ),
  ];
}

const log = { '1.0.0': {}, '1.1.0': {}, '2.0.0': {} };

describe.each<[string, RegistrySketch, World['projects'], string, readonly string[] | 'none']>([
  [
    'a diamond under one copy takes the older owner whose need fits',
    {
      web: { '1.0.0': { needs: { log: '^1.0.0' } }, '1.1.0': { needs: { log: '^2.0.0' } } },
      api: { '1.0.0': { needs: { log: '^1.0.0' } } },
      log,
    },
    { a: { web: '^1.0.0', api: '*' } },
    ONE,
    ['api 1.0.0', 'log 1.1.0', 'web 1.0.0'],
  ],
  [
    'the same diamond under any keeps the newest owner and two copies',
    {
      web: { '1.0.0': { needs: { log: '^1.0.0' } }, '1.1.0': { needs: { log: '^2.0.0' } } },
      api: { '1.0.0': { needs: { log: '^1.0.0' } } },
      log,
    },
    { a: { web: '^1.0.0', api: '*' } },
    ANY,
    ['api 1.0.0', 'log 1.1.0', 'log 2.0.0', 'web 1.1.0'],
  ],
  [
    'a conflict four steps down moves the release at the top',
    {
      top: { '1.0.0': { needs: { mid: '^1.0.0' } }, '2.0.0': { needs: { mid: '^2.0.0' } } },
      mid: { '1.0.0': { needs: { low: '^1.0.0' } }, '2.0.0': { needs: { low: '^2.0.0' } } },
      low: { '1.0.0': { needs: { log: '^1.0.0' } }, '2.0.0': { needs: { log: '^2.0.0' } } },
      log,
    },
    { a: { top: '*' }, b: { log: '<2.0.0' } },
    ONE,
    ['log 1.1.0', 'low 1.0.0', 'mid 1.0.0', 'top 1.0.0'],
  ],
  [
    'two projects that ask apart for a package of one copy have no answer',
    { log },
    { a: { log: '^1.0.0' }, b: { log: '^2.0.0' } },
    ONE,
    'none',
  ],
  [
    'they have one for each major',
    { log },
    { a: { log: '^1.0.0' }, b: { log: '^2.0.0' } },
    ONE_EACH,
    ['log 1.1.0', 'log 2.0.0'],
  ],
  [
    'one for each major does not allow two of one major',
    { log },
    { a: { log: '1.0.0' }, b: { log: '1.1.0' } },
    ONE_EACH,
    'none',
  ],
  [
    'a union with a hole is met on its other side',
    { log: { '1.0.0': {}, '2.0.0': {}, '3.0.0': {} } },
    { a: { log: '^1.0.0 || ^3.0.0' }, b: { log: '>=2.0.0' } },
    ONE,
    ['log 3.0.0'],
  ],
  [
    'caret below 1.0 keeps the minor, so two minors are two copies',
    { early: { '0.2.0': {}, '0.2.9': {}, '0.3.0': {} } },
    { a: { early: '^0.2.0' }, b: { early: '^0.3.0' } },
    ANY,
    ['early 0.2.9', 'early 0.3.0'],
  ],
  [
    'below 1.0 one for each major means one in all',
    { early: { '0.2.0': {}, '0.3.0': {} } },
    { a: { early: '^0.2.0' }, b: { early: '^0.3.0' } },
    ONE_EACH,
    'none',
  ],
  [
    'a prerelease that one bound names does not open another triple',
    { next: { '1.0.0': {}, '1.1.0-rc.1': {}, '1.2.0-rc.1': {} } },
    { a: { next: '>=1.1.0-rc.0 <2.0.0' } },
    ANY,
    ['next 1.1.0-rc.1'],
  ],
  [
    'packages in a cycle that agree in one place only',
    {
      hen: { '1.0.0': { needs: { egg: '^1.0.0' } }, '2.0.0': { needs: { egg: '^2.0.0' } } },
      egg: { '1.0.0': { needs: { hen: '^1.0.0' } }, '2.0.0': { needs: { hen: '^1.0.0' } } },
    },
    { a: { hen: '*' } },
    ONE,
    ['egg 1.0.0', 'hen 1.0.0'],
  ],
  [
    'a package that requires an older copy of itself cannot be one copy',
    { tool: { '1.0.0': {}, '2.0.0': { needs: { tool: '^1.0.0' } } } },
    { a: { tool: '^2.0.0' } },
    ONE,
    'none',
  ],
  [
    'but may be one for each major',
    { tool: { '1.0.0': {}, '2.0.0': { needs: { tool: '^1.0.0' } } } },
    { a: { tool: '^2.0.0' } },
    ONE_EACH,
    ['tool 1.0.0', 'tool 2.0.0'],
  ],
  [
    'a peer that the project has is met by it',
    { ui: { '1.0.0': { peers: { log: { range: '^1.0.0' } } } }, log },
    { a: { ui: '*', log: '1.0.0' } },
    ANY,
    ['log 1.0.0', 'ui 1.0.0'],
  ],
  [
    'a peer is met by the nearest provider up the chain, not by the project',
    {
      shell: { '1.0.0': { needs: { ui: '*', log: '^1.0.0' } } },
      ui: { '1.0.0': { peers: { log: { range: '^1.0.0' } } } },
      log,
    },
    { a: { shell: '*', log: '^2.0.0' } },
    ANY,
    ['log 1.1.0', 'log 2.0.0', 'shell 1.0.0', 'ui 1.0.0'],
  ],
  [
    'a peer that nothing provides is supplied at the project',
    {
      shell: { '1.0.0': { needs: { ui: '*' } } },
      ui: { '1.0.0': { peers: { log: { range: '^1.0.0' } } } },
      log,
    },
    { a: { shell: '*' } },
    ANY,
    ['log 1.1.0', 'shell 1.0.0', 'ui 1.0.0', 'a gets log 1.1.0'],
  ],
  [
    'two peers that agree are supplied with one release',
    {
      ui: { '1.0.0': { peers: { log: { range: '^1.0.0' } } } },
      kit: { '1.0.0': { peers: { log: { range: '<=1.0.0' } } } },
      log,
    },
    { a: { ui: '*', kit: '*' } },
    ANY,
    ['kit 1.0.0', 'log 1.0.0', 'ui 1.0.0', 'a gets log 1.0.0'],
  ],
  [
    'two peers that do not agree: the copy is not multiplied, the newest meets one of them',
    {
      ui: { '1.0.0': { peers: { log: { range: '^2.0.0' } } } },
      kit: { '1.0.0': { peers: { log: { range: '^1.0.0' } } } },
      log,
    },
    { a: { ui: '*', kit: '*' } },
    ANY,
    ['kit 1.0.0', 'log 2.0.0', 'ui 1.0.0', 'a gets log 2.0.0', 'kit 1.0.0 lacks log, finds 2.0.0'],
  ],
  [
    'three peers that do not agree: the release that meets two of them',
    {
      ui: { '1.0.0': { peers: { log: { range: '^1.0.0' } } } },
      kit: { '1.0.0': { peers: { log: { range: '^2.0.0' } } } },
      web: { '1.0.0': { peers: { log: { range: '^2.1.0' } } } },
      log: { '1.0.0': {}, '2.5.0': {} },
    },
    { a: { ui: '*', kit: '*', web: '*' } },
    ANY,
    [
      'kit 1.0.0',
      'log 2.5.0',
      'ui 1.0.0',
      'web 1.0.0',
      'a gets log 2.5.0',
      'ui 1.0.0 lacks log, finds 2.5.0',
    ],
  ],
  [
    'and an older one where that meets more than the newest',
    {
      ui: { '1.0.0': { peers: { log: { range: '^2.0.0' } } } },
      kit: { '1.0.0': { peers: { log: { range: '^1.0.0' } } } },
      web: { '1.0.0': { peers: { log: { range: '<1.5.0' } } } },
      log: { '1.0.0': {}, '2.5.0': {} },
    },
    { a: { ui: '*', kit: '*', web: '*' } },
    ANY,
    [
      'kit 1.0.0',
      'log 1.0.0',
      'ui 1.0.0',
      'web 1.0.0',
      'a gets log 1.0.0',
      'ui 1.0.0 lacks log, finds 1.0.0',
    ],
  ],
  [
    'and under strict peers there is no answer',
    {
      ui: { '1.0.0': { peers: { log: { range: '^2.0.0' } } } },
      kit: { '1.0.0': { peers: { log: { range: '^1.0.0' } } } },
      log,
    },
    { a: { ui: '*', kit: '*' } },
    STRICT,
    'none',
  ],
  [
    'strict peers move the copy to a release whose peer is met',
    {
      ui: {
        '1.0.0': { peers: { log: { range: '^1.0.0' } } },
        '1.1.0': { peers: { log: { range: '^2.0.0' } } },
      },
      log,
    },
    { a: { ui: '^1.0.0', log: '^1.0.0' } },
    STRICT,
    ['log 1.1.0', 'ui 1.0.0'],
  ],
  [
    'under report the newest stays and its peer is unmet',
    {
      ui: {
        '1.0.0': { peers: { log: { range: '^1.0.0' } } },
        '1.1.0': { peers: { log: { range: '^2.0.0' } } },
      },
      log,
    },
    { a: { ui: '^1.0.0', log: '^1.0.0' } },
    ANY,
    ['log 1.1.0', 'ui 1.1.0', 'ui 1.1.0 lacks log, finds 1.1.0'],
  ],
  [
    'a peer chain: what is supplied asks for a peer of its own',
    {
      ui: { '1.0.0': { peers: { kit: { range: '^1.0.0' } } } },
      kit: { '1.0.0': { peers: { log: { range: '^1.0.0' } } } },
      log,
    },
    { a: { ui: '*' } },
    ANY,
    ['kit 1.0.0', 'log 1.1.0', 'ui 1.0.0', 'a gets kit 1.0.0', 'a gets log 1.1.0'],
  ],
  [
    'a supply that only what it brings in would ask for: answers given before it stay, and have the reason',
    {
      ash: { '1.0.0': { needs: { elm: '*' }, peers: { elm: { range: '>=1.1.0' } } } },
      birch: { '1.0.0': { needs: { elm: '1.0.0' } } },
      elm: { '1.0.0': { peers: { birch: { range: '*' } } }, '1.1.0': {} },
    },
    { north: { ash: '*' }, south: { birch: '*' } },
    ANY,
    [
      'ash 1.0.0',
      'birch 1.0.0',
      'elm 1.0.0',
      'elm 1.1.0',
      'north gets birch 1.0.0',
      'north gets elm 1.1.0',
    ],
  ],
  [
    'an optional peer is never supplied, but must fit what is there',
    {
      ui: { '1.0.0': { peers: { log: { range: '^2.0.0', optional: true } } } },
      log,
    },
    { a: { ui: '*' }, b: { ui: '*', log: '^1.0.0' } },
    ANY,
    ['log 1.1.0', 'ui 1.0.0', 'ui 1.0.0 lacks log, finds 1.1.0'],
  ],
  [
    'an optional need gives way where the policy leaves no room for it',
    { web: { '1.0.0': { optional: { log: '^2.0.0' } } }, log },
    { a: { web: '*', log: '^1.0.0' } },
    ONE,
    ['log 1.1.0', 'web 1.0.0'],
  ],
])('%s', (_, registry, projects, policy, expected) => {
  test('comes out as reasoned, with certificates that hold', () => {
    const asked = ask(registry, projects, policy);
    expect(outcomeWords(asked)).toEqual(expected);
    const { outcome, question, records } = asked;
    if (outcome.kind !== 'answered') return;
    const { workspace } = question;
    const certificates = certify(workspace, records, asOf, outcome.resolution);
    expect(checkCertificates(workspace, records, asOf, outcome.resolution, certificates)).toEqual(
      [],
    );
  });
});

describe('what cannot be answered is explained and opened', () => {
  function told(...args: Parameters<typeof ask>): {
    readonly sentences: readonly string[];
    readonly fixes: readonly string[];
    readonly ofCause: readonly (readonly string[])[];
    readonly together: string | null;
  } {
    const { engine, question, outcome } = ask(...args);
    if (outcome.kind !== 'unanswered') throw new Error(outcome.kind);
    const { ofCause, together } = suggestFixes(engine, question, outcome.unanswered);
    return {
      sentences: outcome.unanswered.flatMap((one) => one.sentences),
      fixes: ofCause.flat().map(({ sentence }) => sentence),
      ofCause: ofCause.map((list) => list.map(({ sentence }) => sentence)),
      together: together?.sentence ?? null,
    };
  }

  test('two requirements that clash', () => {
    expect(told({ log }, { a: { log: '^1.0.0' }, b: { log: '^2.0.0' } }, ONE)).toMatchObject({
      sentences: [
        '(1) a/ledger.project.toml:3 requires log ^1.0.0; there is 1.0.0, 1.1.0.',
        '(2) b/ledger.project.toml:3 requires log ^2.0.0; there is 2.0.0.',
        'The policy allows one copy of log, and (2) does not admit log 1.0.0, 1.1.0 of (1).',
        'So nothing is left for (1).',
      ],
      fixes: [
        'Change the range of log in a/ledger.project.toml:3 from ^1.0.0 to ^2.0.0 (the two have no version in common).',
        'Change the range of log in b/ledger.project.toml:3 from ^2.0.0 to ^1.1.0 (the two have no version in common).',
        'Allow one copy of log for each major version.',
        'Allow any number of copies of log.',
      ],
    });
  });

  test('a clash three steps down', () => {
    const registry = {
      top: { '1.0.0': { needs: { low: '*' } } },
      low: { '1.0.0': { needs: { log: '^2.0.0' } }, '1.1.0': { needs: { log: '>=2.0.0' } } },
      log,
    };
    const { sentences, fixes } = told(registry, { a: { top: '*' }, b: { log: '^1.0.0' } }, ONE);
    expect(sentences.join('\n')).toMatch(
      /low 1\.0\.0 needs log \^2\.0\.0; the policy allows one copy of log, and \(\d\) has another/,
    );
    expect(sentences.at(-1)).toMatch(/^So nothing is left for \(\d\)\.$/);
    expect(fixes).toContain(
      'Change the range of log in b/ledger.project.toml:3 from ^1.0.0 to ^2.0.0 (the two have no version in common).',
    );
    expect(fixes).not.toContain(
      'Change the range of top in a/ledger.project.toml:3 from * to ^1.0.0.',
    );
  });

  test('a clash that only a case by case look tells', () => {
    const either = { '1.0.0': { needs: { low: '1.0.0' } }, '2.0.0': { needs: { low: '2.0.0' } } };
    const registry = {
      left: either,
      right: { '1.0.0': { needs: { low: '2.0.0' } }, '2.0.0': { needs: { low: '1.0.0' } } },
      both: {
        '1.0.0': { needs: { left: '1.0.0', right: '1.0.0' } },
        '2.0.0': { needs: { left: '2.0.0', right: '2.0.0' } },
      },
      low: { '1.0.0': {}, '2.0.0': {} },
    };
    const { sentences } = told(registry, { a: { both: '*' } }, ONE);
    expect(
      sentences.filter((line) => line.trim().startsWith('So nothing is left')).length,
    ).toBeGreaterThan(0);
    expect(sentences[0]).toMatch(/^\(1\) a\/ledger\.project\.toml:3 requires both \*/);
  });

  test('a platform that is too old', () => {
    const registry = { web: { '1.0.0': { platform: { runtime: '>=22.1.0' } } } };
    expect(told(registry, { a: { web: '*' } }, ANY).fixes).toEqual([
      "Raise the platform's runtime from 20.0.0 to 22.1.0.",
    ]);
  });

  test('a pin, an age, and two things at once', () => {
    const pinned = { 'ledger.shared.toml': 'format = 1\n[pins]\nlog = "1.0.0"\n' };
    expect(told({ log }, { a: { log: '^2.0.0' } }, ANY, pinned).fixes).toEqual([
      'Change the range of log in a/ledger.project.toml:3 from ^2.0.0 to ^1.0.0 (the two have no version in common).',
      'Take away the pin of log to 1.0.0.',
    ]);
    const young = { log: { '1.0.0': { published: '2024-12-30T00:00:00Z' } } };
    const age = '[policy]\nminimum-age-days = 7\n';
    expect(told(young, { a: { log: '*' } }, age).fixes).toEqual([
      'Allow releases of log that are younger than 7 days.',
    ]);
    const both = {
      log: { '1.0.0': { published: '2024-12-30T00:00:00Z', platform: { runtime: '>=22.0.0' } } },
    };
    expect(told(both, { a: { log: '*' } }, age).fixes).toEqual([
      "Raise the platform's runtime from 20.0.0 to 22.0.0, and allow releases of log that are younger than 7 days.",
    ]);
  });

  test('two clashes that have nothing to do with each other: each is told, with what clears it', () => {
    const registry = { log, font: { '1.0.0': {}, '2.0.0': {} } };
    const { sentences, ofCause, together } = told(
      registry,
      { a: { log: '^1.0.0', font: '^1.0.0' }, b: { log: '^2.0.0' }, c: { font: '^2.0.0' } },
      ONE,
    );
    expect(sentences.filter((line) => line.startsWith('So nothing is left'))).toHaveLength(2);
    expect(ofCause.map((fixes) => fixes.length > 0)).toEqual([true, true]);
    expect(together).toMatch(/^Change the range of log .*, and change the range of font /);
  });

  test('a pin and a clash elsewhere', () => {
    const pinned = { 'ledger.shared.toml': 'format = 1\n[pins]\nfont = "1.0.0"\n' };
    const registry = { log, font: { '1.0.0': {}, '2.0.0': {} } };
    const { ofCause, together } = told(
      registry,
      { a: { log: '^1.0.0', font: '^2.0.0' }, b: { log: '^2.0.0' } },
      ONE,
      pinned,
    );
    expect(ofCause[0]).toContain('Take away the pin of font to 1.0.0.');
    expect(ofCause[1]).toContain('Allow any number of copies of log.');
    expect(together).not.toBeNull();
  });

  test('a pinned release that cannot be used says why it cannot', () => {
    const pinned = { 'ledger.shared.toml': 'format = 1\n[pins]\nlog = "1.1.0"\n' };
    const registry = { log: { ...log, '1.1.0': { platform: { runtime: '>=22' } } } };
    const inRange = told(registry, { a: { log: '^1.0.0' } }, ANY, pinned).sentences;
    expect(inRange).toContain(
      "log 1.1.0 asks for runtime >=22; the workspace's platform offers 20.0.0.",
    );
    const outside = told(registry, { a: { log: '^2.0.0' } }, ANY, pinned).sentences;
    expect(outside).toContain('log 1.1.0, to which it is pinned, is not in ^2.0.0.');
    const gone = { 'ledger.shared.toml': 'format = 1\n[pins]\nlog = "7.0.0"\n' };
    expect(told(registry, { a: { log: '^2.0.0' } }, ANY, gone).sentences).toContain(
      'The registry has no release 7.0.0 of log, to which it is pinned.',
    );
  });

  test('under strict peers the peer, the copy and the versions are named', () => {
    const registry = { ui: { '1.0.0': { peers: { log: { range: '^2.0.0' } } } }, log };
    const { sentences, fixes } = told(registry, { a: { ui: '*', log: '^1.0.0' } }, STRICT);
    expect(sentences).toEqual([
      '(1) a/ledger.project.toml:3 requires ui *; there is 1.0.0.',
      '(2) a/ledger.project.toml:4 requires log ^1.0.0; there is 1.0.0, 1.1.0.',
      'ui 1.0.0 asks for log ^2.0.0 beside it, and (2) has no such release, so ui 1.0.0 is out of (1).',
      'So nothing is left for (1).',
    ]);
    expect(fixes).toEqual([
      'Change the range of log in a/ledger.project.toml:4 from ^1.0.0 to ^2.0.0 (the two have no version in common).',
      'Report peers that are not met instead of refusing them.',
    ]);
  });

  test('one wider range that admits the nearest release comes first', () => {
    const registry = {
      web: { '1.0.0': { needs: { log: '^1.0.0' } } },
      log: { '1.0.0': {}, '1.1.0': {}, '1.2.0': {}, '1.3.0': {}, '2.0.0': {} },
      old: { '1.0.0': { needs: { log: '<1.3.0' } } },
    };
    const { fixes } = told(registry, { a: { web: '*', old: '*' }, b: { log: '^1.3.0' } }, ONE);
    expect(fixes[0]).toBe(
      'Change the range of log in b/ledger.project.toml:3 from ^1.3.0 to ^1.2.0.',
    );
  });

  test('the shared version is changed for all that take it', () => {
    const shared = { 'ledger.shared.toml': 'format = 1\n[shared]\nlog = "^9.0.0"\n' };
    const { fixes } = told({ log }, { a: { log: 'shared' }, b: { log: 'shared' } }, ANY, shared);
    expect(fixes).toEqual([
      'Change the shared version of log from ^9.0.0 to ^2.0.0 (the two have no version in common).',
    ]);
  });

  test('the worked example of docs/resolution.md', () => {
    const registry = {
      web: { '1.0.0': { needs: { log: '^1.0.0' } }, '1.1.0': { needs: { log: '^2.0.0' } } },
      log,
    };
    const one = '[policy.package.log]\ncopies = "one"\n';
    const projects = { a: { web: '^1.0.0' }, b: { log: '^1.0.0' } };
    expect(outcomeWords(ask(registry, projects, ANY))).toEqual([
      'log 1.1.0',
      'log 2.0.0',
      'web 1.1.0',
    ]);
    expect(outcomeWords(ask(registry, projects, one))).toEqual(['log 1.1.0', 'web 1.0.0']);
    expect(told(registry, { ...projects, a: { web: '^1.1.0' } }, one)).toMatchObject({
      sentences: [
        '(1) a/ledger.project.toml:3 requires web ^1.1.0; there is 1.1.0.',
        '(2) b/ledger.project.toml:3 requires log ^1.0.0; there is 1.0.0, 1.1.0.',
        'web 1.1.0 needs log ^2.0.0; the policy allows one copy of log, and (2) has another, so web 1.1.0 is out of (1).',
        'So nothing is left for (1).',
      ],
      fixes: [
        'Change the range of web in a/ledger.project.toml:3 from ^1.1.0 to ^1.0.0.',
        'Change the range of log in b/ledger.project.toml:3 from ^1.0.0 to ^2.0.0 (the two have no version in common).',
        'Allow one copy of log for each major version.',
        'Allow any number of copies of log.',
      ],
    });
  });
});
