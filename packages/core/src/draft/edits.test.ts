import { describe, expect, test } from 'vitest';
import { filesOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { readWorkspace, type WorkspaceFiles } from '../workspace/index.js';
import { applyEdit } from './apply-edit.js';
import type { Edit } from '../edit/index.js';
import { fileDiff } from './file-diff.js';

const SHARED = `format = 1

[shared]
log = "^1.0.0"     # agreed in May
queue = "^2.0.0"

[lockstep.grid]
range = "4.1.0"
packages = [
  "grid-core",     # the heart
  "grid-form",
]

[everywhere]
lint = { range = "^1.0.0", kind = "dev" }

[pins]
json = "1.3.1"     # 1.4 is slow

[[exceptions]]
project = "kiosk"
package = "log"
range = "^0.9.0"
reason = "old image"
owner = "kiosk crew"
until = 2027-01-01
`;
const KIOSK = `# the kiosk at the pass office
name = "kiosk"

[needs]
log = '^0.9.0'     # until the image is renewed
queue = "shared"   # with the others
native = { range = "^1.0.0", when = ["linux-*"] }

[needs.dev]
bench = "^3.0.0"
`;
const FILES: WorkspaceFiles = new Map([
  ...filesOf({ web: { log: 'shared', 'grid-core': 'shared' } }),
  ['ledger.shared.toml', SHARED],
  ['kiosk/ledger.project.toml', KIOSK],
]);

/** The lines that an edit takes out and puts in, file by file; its code where it cannot be made. */
function diffOf(edit: Edit, files = FILES): readonly string[] | string {
  const outcome = applyEdit(workspaceOf(files), files, edit);
  if (!outcome.ok) return outcome.problem.code;
  expect(readWorkspace(outcome.files).problems).toEqual([]);
  return [...outcome.files].flatMap(([path, text]) =>
    fileDiff(path, files.get(path) ?? null, text).hunks.flatMap((lines) =>
      lines.flatMap(({ mark, text: line }) =>
        mark === 'same' ? [] : [(mark === 'added' ? '+' : '-') + line],
      ),
    ),
  );
}

describe('each edit changes the lines that it is about', () => {
  test.each<[string, Edit, readonly string[]]>([
    [
      'another range for a set',
      { kind: 'set-shared', package: 'grid-form', range: '4.2.0' },
      ['-range = "4.1.0"', '+range = "4.2.0"'],
    ],
    [
      'retire: who takes it writes the range',
      { kind: 'retire-shared', package: 'queue' },
      [
        '-queue = "^2.0.0"',
        '-queue = "shared"   # with the others',
        '+queue = "^2.0.0"   # with the others',
      ],
    ],
    [
      'retire a member: the set keeps the others',
      { kind: 'retire-shared', package: 'grid-core' },
      ['-grid-core = "shared"', '+grid-core = "4.1.0"', '-  "grid-core",     # the heart'],
    ],
    [
      'a range of its own',
      { kind: 'set-range', package: 'log', range: '^1.2.0', projects: ['kiosk'] },
      [
        "-log = '^0.9.0'     # until the image is renewed",
        "+log = '^1.2.0'     # until the image is renewed",
      ],
    ],
    [
      'add where kinds stand sorted',
      {
        kind: 'add-requirement',
        package: 'apron',
        range: '^1.0.0',
        as: 'dev',
        projects: ['kiosk'],
      },
      ['+apron = "^1.0.0"'],
    ],
    [
      'add a kind that has no table yet',
      { kind: 'add-requirement', package: 'shell', range: '^1.0.0', as: 'peer', projects: ['web'] },
      ['+', '+[needs.peer]', '+shell = "^1.0.0"'],
    ],
    [
      'add a project of ours',
      {
        kind: 'add-requirement',
        package: 'kiosk',
        range: 'workspace',
        as: 'runtime',
        projects: ['web'],
      },
      ['+kiosk = "workspace"'],
    ],
    [
      'remove',
      { kind: 'remove-requirement', package: 'native', projects: ['kiosk'] },
      ['-native = { range = "^1.0.0", when = ["linux-*"] }'],
    ],
    [
      'change kind, with its comment',
      { kind: 'change-kind', package: 'log', as: 'optional', projects: ['kiosk'] },
      [
        "-log = '^0.9.0'     # until the image is renewed",
        '+',
        '+[needs.optional]',
        "+log = '^0.9.0'     # until the image is renewed",
      ],
    ],
    [
      'a new set takes its members out of [shared]',
      { kind: 'make-set', set: 'pair', range: '^1.0.0', packages: ['log', 'queue'] },
      [
        '-log = "^1.0.0"     # agreed in May',
        '-queue = "^2.0.0"',
        '+[lockstep.pair]',
        '+range = "^1.0.0"',
        '+packages = ["log", "queue"]',
        '+',
      ],
    ],
    [
      'a set with other members; who leaves stays agreed on',
      { kind: 'make-set', set: 'grid', range: '4.2.0', packages: ['grid-core', 'grid-map'] },
      [
        '+grid-form = "4.1.0"',
        '-range = "4.1.0"',
        '+range = "4.2.0"',
        '-  "grid-form",',
        '+  "grid-map",',
      ],
    ],
    [
      'dissolve a set',
      { kind: 'dissolve-set', set: 'grid' },
      [
        '+grid-core = "4.1.0"',
        '+grid-form = "4.1.0"',
        '-[lockstep.grid]',
        '-range = "4.1.0"',
        '-packages = [',
        '-  "grid-core",     # the heart',
        '-  "grid-form",',
        '-]',
        '-',
      ],
    ],
    [
      'everywhere, new',
      { kind: 'everywhere', package: 'theme', range: '^1.0.0', as: 'runtime', except: ['web'] },
      ['+theme = { range = "^1.0.0", except = ["web"] }'],
    ],
    [
      'everywhere, changed',
      { kind: 'everywhere', package: 'lint', range: '^2.0.0', as: 'dev', except: ['kiosk'] },
      [
        '-lint = { range = "^1.0.0", kind = "dev" }',
        '+lint = { range = "^2.0.0", kind = "dev", except = ["kiosk"] }',
      ],
    ],
    [
      'no longer everywhere',
      { kind: 'not-everywhere', package: 'lint' },
      ['-lint = { range = "^1.0.0", kind = "dev" }'],
    ],
    [
      'another pin',
      { kind: 'pin', package: 'json', version: '1.3.2' },
      ['-json = "1.3.1"     # 1.4 is slow', '+json = "1.3.2"     # 1.4 is slow'],
    ],
    [
      'a pin that leaves a project out',
      { kind: 'pin', package: 'json', version: '1.3.2', except: ['kiosk'] },
      [
        '-json = "1.3.1"     # 1.4 is slow',
        '+json = { version = "1.3.2", except = ["kiosk"] }     # 1.4 is slow',
      ],
    ],
    ['unpin', { kind: 'unpin', package: 'json' }, ['-json = "1.3.1"     # 1.4 is slow']],
    [
      'grant: the requirement gets the range',
      {
        kind: 'grant-exception',
        project: 'web',
        package: 'log',
        range: '^0.8.0',
        reason: 'a "quoted" one',
        owner: 'web crew',
        until: '2027-06-30',
      },
      [
        '-log = "shared"',
        '+log = "^0.8.0"',
        '+',
        '+[[exceptions]]',
        '+project = "web"',
        '+package = "log"',
        '+range = "^0.8.0"',
        '+reason = "a \\"quoted\\" one"',
        '+owner = "web crew"',
        '+until = 2027-06-30',
      ],
    ],
    [
      'answer a release otherwise',
      {
        kind: 'answer-otherwise',
        of: 'boot',
        package: 'log',
        range: '^2.0.0',
        reason: 'it works',
        owner: 'web crew',
        until: '2027-06-30',
      },
      [
        '+',
        '+[[otherwise]]',
        '+of = "boot"',
        '+package = "log"',
        '+range = "^2.0.0"',
        '+reason = "it works"',
        '+owner = "web crew"',
        '+until = 2027-06-30',
      ],
    ],
    [
      'end an exception',
      { kind: 'end-exception', project: 'kiosk', package: 'log' },
      SHARED.split('\n')
        .slice(-9, -1)
        .map((line) => `-${line}`),
    ],
    [
      'policy for one package',
      { kind: 'set-policy', package: 'log', setting: 'copies', value: 'one' },
      ['+', '+[policy.package.log]', '+copies = "one"'],
    ],
    [
      'policy of days',
      { kind: 'set-policy', package: null, setting: 'minimum-age-days', value: '14' },
      ['+', '+[policy]', '+minimum-age-days = 14'],
    ],
    [
      'licences',
      { kind: 'set-policy', package: null, setting: 'licences', value: 'MIT, Apache-2.0' },
      ['+', '+[policy]', '+licences = ["MIT", "Apache-2.0"]'],
    ],
    [
      'platform',
      { kind: 'set-platform', name: 'runtime', version: '22.1.0' },
      ['-runtime = "20.0.0"', '+runtime = "22.1.0"'],
    ],
    ['re-resolving touches no file', { kind: 'refresh', packages: ['log'] }, []],
  ])('%s', (_, edit, lines) => {
    expect(diffOf(edit)).toEqual(lines);
  });
});

test('a requirement that changes its kind keeps what stands in its line', () => {
  const outcome = applyEdit(workspaceOf(FILES), FILES, {
    kind: 'change-kind',
    package: 'native',
    as: 'optional',
    projects: ['kiosk'],
  });
  if (!outcome.ok) throw new Error(outcome.problem.message);
  expect(outcome.files.get('kiosk/ledger.project.toml')).toBe(
    KIOSK.replace('native = { range = "^1.0.0", when = ["linux-*"] }\n', '') +
      '\n[needs.optional]\nnative = { range = "^1.0.0", when = ["linux-*"] }\n',
  );
});

test('an entry between braces goes with its comma', () => {
  const text = 'name = "tiny"\nneeds = { log = "^1.0.0", queue = "^2.0.0", web = "workspace" }\n';
  const files = new Map(FILES).set('tiny/ledger.project.toml', text);
  const without = (name: string): string => {
    const edit: Edit = { kind: 'remove-requirement', package: name, projects: ['tiny'] };
    const outcome = applyEdit(workspaceOf(files), files, edit);
    if (!outcome.ok) throw new Error(outcome.problem.message);
    return outcome.files.get('tiny/ledger.project.toml')!.split('\n')[1]!;
  };
  expect(without('log')).toBe('needs = { queue = "^2.0.0", web = "workspace" }');
  expect(without('queue')).toBe('needs = { log = "^1.0.0", web = "workspace" }');
  expect(without('web')).toBe('needs = { log = "^1.0.0", queue = "^2.0.0" }');
});

test('an exception between braces ends in place', () => {
  const kept =
    '{ project = "web", package = "ink", range = "1", reason = "r", owner = "o", until = 2027-01-01 }';
  const gone =
    '{ project = "web", package = "log", range = "^0.9.0", reason = "r", owner = "o", until = 2027-01-01 }';
  const files = new Map([
    ...filesOf({ web: { log: '^0.9.0' } }),
    [
      'ledger.shared.toml',
      `format = 1\nexceptions = [${gone}, ${kept}] # both\n[shared]\nlog = "^1.0.0"\n`,
    ] as const,
  ]);
  expect(diffOf({ kind: 'end-exception', project: 'web', package: 'log' }, files)).toEqual([
    `-exceptions = [${gone}, ${kept}] # both`,
    `+exceptions = [${kept}] # both`,
  ]);
});

describe('an edit that cannot be made says why', () => {
  const exception = { project: 'web', package: 'log', range: '^0.8.0', reason: 'r', owner: 'o' };
  test.each<[Edit, string]>([
    [{ kind: 'retire-shared', package: 'json' }, 'EDIT_NOT_THERE'],
    [{ kind: 'retire-shared', package: 'lint' }, 'EDIT_NOT_THERE'],
    [{ kind: 'set-range', package: 'log', range: '^^1', projects: ['web'] }, 'EDIT_RANGE_INVALID'],
    [{ kind: 'set-range', package: 'bench', range: '1', projects: ['web'] }, 'EDIT_NOT_REQUIRED'],
    [{ kind: 'set-range', package: 'lint', range: '1', projects: ['web'] }, 'EDIT_NOT_REQUIRED'],
    [
      { kind: 'add-requirement', package: 'log', range: '1', as: 'dev', projects: ['web'] },
      'EDIT_ALREADY_THERE',
    ],
    [
      { kind: 'add-requirement', package: 'bench', range: 'shared', as: 'dev', projects: ['web'] },
      'EDIT_NOT_AGREED',
    ],
    [
      { kind: 'add-requirement', package: 'no', range: 'workspace', as: 'dev', projects: ['web'] },
      'EDIT_PROJECT_UNKNOWN',
    ],
    [
      { kind: 'add-requirement', package: 'Not A Name', range: '1', as: 'dev', projects: ['web'] },
      'EDIT_NAME_INVALID',
    ],
    [{ kind: 'make-set', set: 'a b', range: '1', packages: ['log'] }, 'EDIT_NAME_INVALID'],
    [{ kind: 'make-set', set: 'grid', range: '1', packages: [] }, 'EDIT_VALUE_INVALID'],
    [{ kind: 'dissolve-set', set: 'gone' }, 'EDIT_NOT_THERE'],
    [
      { kind: 'everywhere', package: 'x', range: '1', as: 'dev', except: ['gone'] },
      'EDIT_PROJECT_UNKNOWN',
    ],
    [{ kind: 'not-everywhere', package: 'log' }, 'EDIT_NOT_THERE'],
    [{ kind: 'pin', package: 'log', version: '1.2' }, 'EDIT_RANGE_INVALID'],
    [{ kind: 'pin', package: 'log', version: '1.2.0', except: ['gone'] }, 'EDIT_PROJECT_UNKNOWN'],
    [{ kind: 'unpin', package: 'log' }, 'EDIT_NOT_THERE'],
    [{ kind: 'grant-exception', ...exception, until: 'soon' }, 'EDIT_VALUE_INVALID'],
    [
      { kind: 'grant-exception', ...exception, owner: ' ', until: '2027-01-01' },
      'EDIT_VALUE_INVALID',
    ],
    [
      { kind: 'grant-exception', ...exception, package: 'bench', until: '2027-01-01' },
      'EDIT_NOT_AGREED',
    ],
    [{ kind: 'end-exception', project: 'web', package: 'log' }, 'EDIT_NOT_THERE'],
    [{ kind: 'end-otherwise', of: 'boot', package: 'log' }, 'EDIT_NOT_THERE'],
    [
      {
        kind: 'answer-otherwise',
        of: 'boot',
        package: 'log',
        range: '^1.0.0',
        reason: '',
        owner: 'web crew',
        until: '2027-01-01',
      },
      'EDIT_VALUE_INVALID',
    ],
    [
      { kind: 'set-policy', package: 'log', setting: 'peers', value: 'strict' },
      'EDIT_VALUE_INVALID',
    ],
    [{ kind: 'set-policy', package: null, setting: 'copies', value: 'two' }, 'EDIT_VALUE_INVALID'],
    [{ kind: 'set-platform', name: 'targets', version: '1.0.0' }, 'EDIT_NAME_INVALID'],
  ])('%j', (edit, code) => {
    expect(diffOf(edit)).toBe(code);
  });
});
