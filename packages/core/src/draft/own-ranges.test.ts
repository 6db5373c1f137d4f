import { expect, test } from 'vitest';
import type { Edit } from '../edit/index.js';
import { filesOf, recordsOf, ROOT } from '../resolve/world.arbitrary.js';
import { readWorkspace, refusedOwnRanges } from '../workspace/index.js';
import { draftBase } from './draft-base.js';
import { evaluateDraft } from './evaluate-draft.js';

const TODAY = '2025-01-01';
const RECORDS = recordsOf({ log: { '1.0.0': {}, '2.0.0': {} }, json: { '1.0.0': {} } });
const SHARED = `format = 1
[shared]
log = "^1.0.0"
[[exceptions]]
project = "quay"
package = "log"
range = "^2.0.0"
reason = "old boats"
owner = "harbour crew"
until = 2025-06-30
`;
const PROJECTS = {
  kiosk: { log: 'shared' },
  quay: { log: '^2.0.0' },
  yard: { log: '^2.0.0', json: '^1.0.0' },
  inn: { log: '^1.0.0' },
};

function filesWith(policy: string) {
  return filesOf(PROJECTS, {
    'ledger.toml': `${ROOT}[policy]\n${policy}`,
    'ledger.shared.toml': SHARED,
  });
}

function refused(policy: string, day = TODAY): readonly string[] {
  const { workspace, problems } = readWorkspace(filesWith(policy));
  expect(problems).toEqual([]);
  return refusedOwnRanges(workspace!, day).map(
    ({ requirement: { project, name, written }, agreed }) =>
      `${project} ${name} ${written} ${agreed}`,
  );
}

test('where they are refused, ranges for agreed packages are told, but for those with an exception that holds', () => {
  expect(refused('')).toEqual([]);
  expect(refused('own-ranges = "refused"\n')).toEqual([
    'inn log ^1.0.0 ^1.0.0',
    'yard log ^2.0.0 ^1.0.0',
  ]);
  expect(refused('own-ranges = "refused"\n', '2025-07-01')).toContain('quay log ^2.0.0 ^1.0.0');
});

test('a project may be taken in or left out by its name or its folder; one that is not there is a problem with its place', () => {
  const rule = (project: string, what: string) =>
    `[policy.project.${project}]\nown-ranges = "${what}"\n`;
  expect(refused(rule('yard', 'refused'))).toEqual(['yard log ^2.0.0 ^1.0.0']);
  expect(refused(`own-ranges = "refused"\n${rule('inn', 'reported')}`)).toEqual([
    'yard log ^2.0.0 ^1.0.0',
  ]);
  const { problems } = readWorkspace(filesWith(rule('yart', 'refused')));
  expect(problems.map(({ file, problem }) => [file, problem.code])).toEqual([
    ['ledger.toml', 'PROJECT_UNKNOWN'],
  ]);
});

test('a draft tells whom the rule hits when it is turned on, and what it adds against one that holds', () => {
  const outcome = (policy: string, ...edits: readonly Edit[]) => {
    const evaluation = evaluateDraft(draftBase(filesWith(policy), RECORDS, TODAY), edits);
    if (evaluation.kind !== 'answered') throw new Error(JSON.stringify(evaluation));
    return evaluation.consequences.ownRanges.map(
      ({ project, range, isAdded }) => `${project} ${range} ${isAdded ? 'added' : 'there'}`,
    );
  };
  const turnOn: Edit = {
    kind: 'set-policy',
    package: null,
    setting: 'own-ranges',
    value: 'refused',
  };
  const own: Edit = { kind: 'set-range', package: 'log', range: '^2.0.0', projects: ['kiosk'] };
  expect(outcome('copies = "any"\n', turnOn)).toEqual(['inn ^1.0.0 there', 'yard ^2.0.0 there']);
  expect(outcome('copies = "any"\n', own)).toEqual([]);
  const holds = 'own-ranges = "refused"\n';
  expect(outcome(holds, own)).toEqual(['kiosk ^2.0.0 added']);
  expect(outcome(holds, { kind: 'refresh', packages: [] })).toEqual([]);
  expect(outcome(holds, { kind: 'take-shared', package: 'log', projects: ['yard'] })).toEqual([]);
});
