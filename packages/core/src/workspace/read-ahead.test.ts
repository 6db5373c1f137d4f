import { expect, test } from 'vitest';
import { aheadTask } from './read-ahead.js';
import { plain, readApart } from './read-apart.arbitrary.js';
import { readWorkspace } from './read-workspace.js';
import { LOCK_FILE, PROJECT_FILE, ROOT_FILE, SHAPES_FILE, SHARED_FILE } from './workspace.js';

const ROOT = 'format = 1\nname = "w"\nregistry = "main"\nprojects = ["apps/*"]\n';
const NEEDS = 'name = "a"\n[needs]\nlog = "^1.0.0"\nbad = "%"\n';
const SHAPES = `format = 1
[shared]
file = "agreed.json"
syntax = "json"
at = "$.agreed"
[[adopt]]
file = "installed.json"
syntax = "json"
items = "$.installed"
`;

test('agreed and installed versions of foreign files are read ahead, too', () => {
  const files = new Map([
    [ROOT_FILE, ROOT],
    [SHAPES_FILE, SHAPES],
    [SHARED_FILE, 'format = 1\n[shared]\nrope = "^2.0.0"\n'],
    ['agreed.json', '{ "agreed": { "log": "^1.0.0", "odd": "%" } }'],
    ['installed.json', '{ "installed": { "log": "1.2.0" } }'],
    [`apps/a/${PROJECT_FILE}`, NEEDS],
  ]);
  const reading = readApart(files);
  expect(plain(reading)).toEqual(plain(readWorkspace(files)));
  expect([...reading.workspace!.shared.shared.keys()]).toEqual(['log', 'rope']);
  expect(reading.workspace!.adopted).toEqual([{ name: 'log', version: '1.2.0' }]);
  expect(reading.problems.map(({ file, problem }) => `${file} ${problem.code}`)).toEqual([
    'agreed.json RANGE_FOREIGN',
    `apps/a/${PROJECT_FILE} RANGE_INVALID`,
  ]);
});

test('only what nobody has read yet is read ahead', () => {
  const files = new Map([
    [ROOT_FILE, ROOT],
    [SHARED_FILE, 'format = 1\n'],
    [LOCK_FILE, ''],
    [`apps/a/${PROJECT_FILE}`, NEEDS],
    [`apps/b/${PROJECT_FILE}`, 'name = "b"\n'],
  ]);
  const before = readWorkspace(files);
  expect([...aheadTask(files).texts.keys()]).toEqual([
    SHARED_FILE,
    `apps/a/${PROJECT_FILE}`,
    `apps/b/${PROJECT_FILE}`,
  ]);
  expect([...aheadTask(files, before).texts.keys()]).toEqual([]);
  const later = new Map(files).set(`apps/b/${PROJECT_FILE}`, 'name = "c"\n');
  expect([...aheadTask(later, before).texts.keys()]).toEqual([`apps/b/${PROJECT_FILE}`]);
});
