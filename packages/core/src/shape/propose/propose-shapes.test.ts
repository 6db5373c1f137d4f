import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { filesOfShape } from '../files-of-shape.js';
import { anyForeign, LAYOUTS } from '../foreign-document.arbitrary.js';
import { readForeignManifest } from '../read-foreign-manifest.js';
import { readShapes } from '../read-shapes.js';
import { printShapes } from '../print-shapes.js';
import { formOfProposal, proposeShapes, type Proposal } from './propose-shapes.js';

/** What is read from files by the shapes that are proposed for them. */
function readBy(
  proposal: Proposal,
  files: ReadonlyMap<string, string>,
): ReadonlyMap<string, readonly string[]> {
  const { shapes, problems } = readShapes(printShapes(formOfProposal(proposal)));
  expect(problems).toEqual([]);
  return new Map(
    [...files].map(([path, text]) => {
      const shape = shapes!.manifests.find((one) => filesOfShape(one)(path));
      const requirements =
        shape === undefined ? [] : readForeignManifest(text, shape).manifest!.requirements;
      return [path, requirements.map(({ name, written }) => `${name} ${written}`).sort()];
    }),
  );
}

const ENDINGS: Readonly<Record<string, string>> = {
  json: 'app.json',
  'json items': 'app.json',
  yaml: 'app.yaml',
  'yaml items': 'app.yaml',
  toml: 'app.toml',
  xml: 'app.xml',
  lines: 'uses.txt',
};

describe.each(Object.keys(LAYOUTS))('manifests in %s', (layout) => {
  test('are recognised: what is proposed reads all that stands in them', () => {
    fc.assert(
      fc.property(fc.tuple(anyForeign(layout), anyForeign(layout), anyForeign(layout)), (drawn) => {
        // Of a few lines it cannot be told whether they are anything but text.
        const sketches = drawn.filter(({ runtime, dev }) =>
          layout === 'lines'
            ? runtime.length > 2 && runtime.every(([, range]) => !range.includes(' '))
            : runtime.length > 0 && dev.length > 0,
        );
        fc.pre(sketches.length > 0);
        const files = new Map(
          sketches.map(({ text }, i) => [
            `apps/app${i}/${ENDINGS[layout]!}`,
            text
              .replaceAll('# note\r\n', '')
              .replaceAll('# note\n', '')
              .replace(/end\r?\n$/, ''),
          ]),
        );
        const read = readBy(proposeShapes(files), files);
        for (const [i, { runtime, dev }] of sketches.entries())
          expect(read.get(`apps/app${i}/${ENDINGS[layout]!}`)).toEqual(
            [...runtime, ...dev].map((one) => one.join(' ')).sort(),
          );
      }),
    );
  });
});

const FERRY = new Map([
  [
    'apps/gate/build/app.yaml',
    'app:\n  id: gate\n  version: 1.2.0\nlibraries:\n  log: "@agreed"\n  json: ^1.0.0\ntools:\n  - id: lint\n    wanted: ^2.0.0\n',
  ],
  [
    'apps/roster/build/app.yaml',
    'app:\n  id: roster\n  version: 0.1.0\nlibraries:\n  log: "@agreed"\n  mast: "@agreed"\n',
  ],
  ['versions.json', '{ "agreed": { "log": "^1.0.0", "mast": "~2.1.0" } }\n'],
  [
    'berths/berth.xml',
    '<berth id="berths">\n  <lib id="log"><wanted>[1.0,2.0)</wanted></lib>\n  <lib id="mast"><wanted>[2.1]</wanted></lib>\n</berth>\n',
  ],
  ['board/uses.txt', '# what the board uses\nuse log at 1.1.0\nuse mast at 2.1.3\n'],
  ['docs/settings.json', '{ "theme": "dark", "size": 3 }\n'],
  ['README.md', '# Ferries\n\nThey go at 8:00 and at 9:30.\n'],
  ['broken.json', '{ "a": '],
]);

test('a repository of several layouts is recognised with its reasons, and what is none is left out', () => {
  const { manifests, shared, unread } = proposeShapes(FERRY);
  expect(
    manifests.map(({ form: { files, syntax, name, version, spelling } }) => ({
      files: files.join(' '),
      syntax,
      name,
      version,
      word: spelling.shared,
      ranges: spelling.ranges,
    })),
  ).toEqual([
    {
      files: 'apps/*/build/app.yaml',
      syntax: 'yaml',
      name: '$.app.id',
      version: '$.app.version',
      word: '@agreed',
      ranges: 'semver',
    },
    {
      files: 'berths/berth.xml',
      syntax: 'xml',
      name: "$.berth[0]['@id']",
      version: null,
      word: null,
      ranges: 'interval',
    },
    {
      files: 'board/uses.txt',
      syntax: 'lines',
      name: null,
      version: null,
      word: null,
      ranges: 'semver',
    },
  ]);
  expect(manifests[0]!.form.requirements).toMatchObject([
    { at: '$.libraries', package: [], range: null, kind: 'runtime' },
    { at: '$.tools[*]', package: ['$.id'], range: '$.wanted', kind: 'dev' },
  ]);
  expect(manifests[0]!.evidence).toEqual([
    {
      good: 4,
      values: 4,
      why: 'in 2 of 2 files keys read as names, and 1 of 4 values as ranges, 3 more as words that stand for one',
    },
    {
      good: 1,
      values: 1,
      why: 'in 1 of 2 files $.id reads as a name, and 1 of 1 values as ranges',
    },
  ]);
  expect(manifests.map(({ isSure }) => isSure)).toEqual([true, true, false]);
  expect(shared).toEqual({
    form: { file: 'versions.json', syntax: 'json', at: '$.agreed' },
    values: 2,
  });
  expect(unread).toEqual(['docs/settings.json']);
});

test('of a repository without anything of the kind nothing is proposed', () => {
  expect(
    proposeShapes(
      new Map([
        ['README.md', 'words\n'],
        ['a.json', '[1, 2]'],
      ]),
    ),
  ).toEqual({
    manifests: [],
    shared: null,
    adopt: null,
    unread: ['a.json'],
  });
});

test('the word for a project of the workspace is told apart from that for the shared version', () => {
  const text = (id: string, more: string): string =>
    `app:\n  id: ${id}\nparts:\n  log: agreed\n  json: ^1.0.0\n  kelp: ^2.0.0\n${more}`;
  const { manifests } = proposeShapes(
    new Map([
      ['a/app.yaml', text('gate', '  mast: agreed\n')],
      ['b/app.yaml', text('roster', '  gate: here\n')],
    ]),
  );
  expect(manifests[0]!.form.spelling).toMatchObject({ shared: 'agreed', workspace: 'here' });
});

test('a file that says one version of most packages is what is installed', () => {
  const frozen = '{ "set": [{ "name": "log", "at": "1.4.0" }, { "name": "mast", "at": "2.1.3" }] }';
  const { manifests, adopt } = proposeShapes(new Map([...FERRY, ['frozen.json', frozen]]));
  expect(manifests).toHaveLength(3);
  expect(adopt).toEqual({
    form: {
      file: 'frozen.json',
      syntax: 'json',
      items: '$.set[*]',
      package: '$.name',
      version: '$.at',
    },
    values: 2,
  });
  expect(proposeShapes(new Map([['frozen.json', frozen]])).adopt).toBeNull();
});
